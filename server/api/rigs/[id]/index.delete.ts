import { rigs } from '../../../store/rigs'
import { removeFrom } from '../../../utils/shelfRoutes'

export default removeFrom(rigs)
