import { readRig } from '@nullet/core/formats/rig'
import { rigs } from '../../../store/rigs'
import { keepOn } from '../../../utils/shelfRoutes'

export default keepOn(rigs, readRig)
