import { Refusal } from '@nullet/core/foundation/refusal'
import { store } from '../../store/connect'
import { readJob } from '../../store/jobs'
import { defineRoute, idOf } from '../../utils/route'

export default defineRoute(async event => {
  const id = idOf(event, 'job')
  const job = await readJob(store(), id)
  if (!job) throw new Refusal('notFound', `There is no job “${id}”`, [id])
  return job
})
