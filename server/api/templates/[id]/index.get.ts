import { store } from '../../../store/connect'
import { readTemplateDocument } from '../../../store/templates'
import { defineRoute, idOf } from '../../../utils/route'

export default defineRoute(event => readTemplateDocument(store(), idOf(event, 'template')))
