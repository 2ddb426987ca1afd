import { getRouterParam } from 'h3'
import { store } from '../../../store/connect'
import { listJobs } from '../../../store/jobs'
import { defineRoute } from '../../../utils/route'

export default defineRoute(event => listJobs(store(), getRouterParam(event, 'id')!))
