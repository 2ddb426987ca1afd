import { rigs } from '../../../store/rigs'
import { readFrom } from '../../../utils/shelfRoutes'

export default readFrom(rigs)
