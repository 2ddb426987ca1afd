import { z } from 'zod'
import { isKeepable } from '@nullet/core/foundation/text'
import { Client } from '../../../utils/gesture'
import { PrintArgs } from '@nullet/core/print/printRows'
import { OffsiteArgs } from '@nullet/core/print/offsitePass'
import { PingArgs } from '../../../jobs/ping'
import { RunAgainArgs } from '../../../jobs/runAgain'
import { store } from '../../../store/connect'
import { addJob, readJob } from '../../../store/jobs'
import { AddressId, defineRoute, idOf, readJson } from '../../../utils/route'

const head = {
  id: AddressId,
  label: z.string().max(300).refine(isKeepable, 'the label holds a character that cannot be kept'),
  client: Client.default('')
}
const Body = z.discriminatedUnion('kind', [
  z.object({ ...head, kind: z.literal('print'), args: PrintArgs }),
  z.object({ ...head, kind: z.literal('ping'), args: PingArgs }),
  z.object({ ...head, kind: z.literal('runAgain'), args: RunAgainArgs }),
  z.object({ ...head, kind: z.literal('offsite'), args: OffsiteArgs })
])

export default defineRoute(async event => {
  const job = await readJson(event, Body)
  await addJob(store(), { ...job, sessionId: idOf(event, 'session') })
  return readJob(store(), job.id)
})
