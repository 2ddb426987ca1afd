import { templates } from '../../../store/templates'
import { readFrom } from '../../../utils/shelfRoutes'

export default readFrom(templates)
