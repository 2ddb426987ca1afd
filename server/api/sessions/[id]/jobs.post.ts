import { getRouterParam } from 'h3'
import { z } from 'zod'
import { PrintArgs } from '@nullet/core/print/printRows'
import { PingArgs } from '../../../jobs/ping'
import { store } from '../../../store/connect'
import { addJob, readJob } from '../../../store/jobs'
import { defineRoute, readJson } from '../../../utils/route'

const head = { id: z.string().min(1).max(60), label: z.string().max(300) }
const Body = z.discriminatedUnion('kind', [
  z.object({ ...head, kind: z.literal('print'), args: PrintArgs }),
  z.object({ ...head, kind: z.literal('ping'), args: PingArgs })
])

export default defineRoute(async event => {
  const job = await readJson(event, Body)
  await addJob(store(), { ...job, sessionId: getRouterParam(event, 'id')! })
  return readJob(store(), job.id)
})
