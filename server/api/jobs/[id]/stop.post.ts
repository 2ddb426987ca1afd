import { getRouterParam } from 'h3'
import { store } from '../../../store/connect'
import { readJob, stopJob } from '../../../store/jobs'
import { defineRoute } from '../../../utils/route'

export default defineRoute(async event => {
  const id = getRouterParam(event, 'id')!
  await stopJob(store(), id)
  return await readJob(store(), id) ?? null
})
