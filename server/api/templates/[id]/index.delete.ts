import { templates } from '../../../store/templates'
import { removeFrom } from '../../../utils/shelfRoutes'

export default removeFrom(templates)
