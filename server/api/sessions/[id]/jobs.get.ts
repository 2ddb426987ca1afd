import { store } from '../../../store/connect'
import { listJobs } from '../../../store/jobs'
import { defineRoute, idOf } from '../../../utils/route'

export default defineRoute(event => listJobs(store(), idOf(event, 'session')))
