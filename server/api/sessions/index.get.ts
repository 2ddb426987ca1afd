import { store } from '../../store/connect'
import { listSessions } from '../../store/sessions'
import { defineRoute } from '../../utils/route'

export default defineRoute(() => listSessions(store()))
