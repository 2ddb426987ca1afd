import { store } from '../../../store/connect'
import { readJob, stopJob } from '../../../store/jobs'
import { defineRoute, idOf } from '../../../utils/route'

export default defineRoute(async event => {
  const id = idOf(event, 'job')
  await stopJob(store(), id)
  return (await readJob(store(), id)) ?? null
})
