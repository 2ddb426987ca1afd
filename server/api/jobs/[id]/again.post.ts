import { store } from '../../../store/connect'
import { againJob, readJob } from '../../../store/jobs'
import { defineRoute, idOf } from '../../../utils/route'

/** A job that failed or was stopped, once more from the beginning. */
export default defineRoute(async event => {
  const id = idOf(event, 'job')
  await againJob(store(), id)
  return readJob(store(), id)
})
