import { store } from '../../store/connect'
import { listRigs } from '../../store/rigs'
import { defineRoute } from '../../utils/route'

export default defineRoute(() => listRigs(store()))
