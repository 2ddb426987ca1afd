// Measures a loop. The result is kept with the loop; applying it is the user's own edit.
import { z } from 'zod'
import { Refusal } from '@nullet/core/foundation/refusal'
import { ping as measure, pingRow } from '@nullet/core/measure/ping'
import { withEdits } from '../store/edits'
import { loadSession } from '../store/sessions'
import { endJob } from '../store/jobs'
import { STORED, Stopped, type Running } from './job'

export const PingArgs = z.object({
  loop: z.string(),
  levelDb: z.number().min(-60).max(0).optional(),
  averages: z.number().int().min(1).max(16).default(2),
  seed: z.number().int().min(0).optional()
})

export async function ping({ sql, job, lock, report, stopped }: Running): Promise<unknown> {
  const args = PingArgs.parse(job.args)
  const { session } = await loadSession(sql, job.sessionId)
  const loop = session.loop[args.loop]
  if (!loop) throw new Refusal('notFound', `The loop “${args.loop}” is not in this session any more`, [args.loop])
  const result = await measure(session, loop, {
    ...args,
    report(share) {
      report(share, 'sending sweeps')
      if (stopped()) throw new Stopped()
    }
  })
  if (!result.measured) return { loop: loop.name, ...result }
  await withEdits(sql, async (t, edit) => {
    await edit(
      job.sessionId,
      {
        verb: 'setLoop',
        args: {
          id: loop.id,
          fields: { ping: pingRow(session, loop, result, new Date().toISOString()), applied: false }
        }
      },
      { gesture: `job ${job.id}`, client: job.client }
    )
    const { impulse, ...rest } = result
    await endJob(t, job.id, lock, 'done', {
      result: { loop: loop.name, ...rest, impulse: { from: impulse.from, samples: Array.from(impulse.samples) } }
    })
  })
  return STORED
}
