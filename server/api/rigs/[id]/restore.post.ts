import { rigs } from '../../../store/rigs'
import { restoreTo } from '../../../utils/shelfRoutes'

export default restoreTo(rigs)
