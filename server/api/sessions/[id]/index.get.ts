import { getRouterParam } from 'h3'
import { store } from '../../../store/connect'
import { loadSession } from '../../../store/sessions'
import { defineRoute } from '../../../utils/route'

export default defineRoute(event => loadSession(store(), getRouterParam(event, 'id')!))
