import { getRouterParam } from 'h3'
import { store } from '../../store/connect'
import { readTemplateDocument } from '../../store/templates'
import { defineRoute } from '../../utils/route'

export default defineRoute(event => readTemplateDocument(store(), getRouterParam(event, 'id')!))
