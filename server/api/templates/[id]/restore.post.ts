import { templates } from '../../../store/templates'
import { restoreTo } from '../../../utils/shelfRoutes'

export default restoreTo(templates)
