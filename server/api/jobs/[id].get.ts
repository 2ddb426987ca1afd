import { getRouterParam } from 'h3'
import { Refusal } from '@nullet/core/refusal'
import { store } from '../../store/connect'
import { readJob } from '../../store/jobs'
import { defineRoute } from '../../utils/route'

export default defineRoute(async event => {
  const id = getRouterParam(event, 'id')!
  const job = await readJob(store(), id)
  if (!job) throw new Refusal('notFound', `There is no job “${id}”`, [id])
  return job
})
