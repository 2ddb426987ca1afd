import { store } from '../../store/connect'
import { listTemplates } from '../../store/templates'
import { defineRoute } from '../../utils/route'

export default defineRoute(() => listTemplates(store()))
