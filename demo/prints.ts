// What the demonstration has printed: two takes of the kora, the second after its tone was set anew, and the
// winds for reference, from before the flute was raised. Made and proven by what prints everywhere.
import { randomInt } from 'node:crypto'
import type { PrintItem } from '@nullet/core/print/printRows'
import { orderAfter } from '@nullet/core/session/order'
import { rows } from '@nullet/core/session/session'
import { print } from '../server/jobs/print'
import { connectStore, type Sql } from '../server/store/connect'
import { withEdits } from '../server/store/edits'
import { addJob, startJob } from '../server/store/jobs'
import { loadSession } from '../server/store/sessions'

let serial = 0

/** @param lock held as long as this runs: workers see by it that these jobs are somebody's */
async function make(
  sql: Sql,
  lock: number,
  sessionId: string,
  label: string,
  fields: Partial<PrintItem>
): Promise<void> {
  const { session } = await loadSession(sql, sessionId)
  const id = `demo-print-${++serial}`
  const item = {
    tap: 'post',
    print: id,
    track: `${id}-track`,
    clip: `${id}-clip`,
    medium: `${id}-medium`,
    name: label,
    order: orderAfter(rows(session, 'channel')),
    ...fields
  }
  await addJob(sql, { id, sessionId, client: '', kind: 'print', label, args: { items: [item], seed: 20417 } })
  const job = await startJob(sql, id, lock)
  if (job) await print({ sql, job, lock, report: () => {}, stopped: () => false })
}

const edit = (sql: Sql, session: string, gesture: string, verb: string, args: object) =>
  withEdits(sql, (_, apply) => apply(session, { verb, args }, { gesture, client: '' }))

export async function printDemo(sql: Sql, session: string): Promise<void> {
  const line = connectStore(undefined, 1),
    lock = randomInt(1, 2 ** 47)
  await line`select pg_advisory_lock(${lock})`
  try {
    await printAll(sql, lock, session)
  } finally {
    await line.end({ timeout: 1 })
  }
}

async function printAll(sql: Sql, lock: number, session: string): Promise<void> {
  const tone = (db1: number) => ({ kind1: 'bell', hz1: 3200, q1: 0.8, db1 })
  await edit(sql, session, 'demo-kora', 'addSlot', {
    id: 'kora-tone',
    channel: 'kora',
    processor: 'equaliser',
    params: tone(1.5),
    order: 'a0'
  })
  await make(sql, lock, session, 'Kora print', { source: 'kora' })
  await edit(sql, session, 'demo-kora-2', 'setSlot', { id: 'kora-tone', fields: { params: tone(4) } })
  await make(sql, lock, session, 'Kora print, brighter', {
    source: 'kora',
    track: 'demo-print-1-track',
    take: { id: 'kora-brighter', name: 'Brighter', former: { id: 'kora-first', name: 'First' } }
  })
  await make(sql, lock, session, 'Winds for reference', { source: 'winds', takesOver: false })
  await edit(sql, session, 'demo-winds', 'several', {
    label: 'Winds as they are now',
    edits: [
      { verb: 'setChannels', args: { ids: ['demo-print-3-track'], fields: { muted: true } } },
      { verb: 'setChannels', args: { ids: ['contrabass-flute'], fields: { levelDb: -6.5 } } }
    ]
  })
}
