// What the demonstration has printed: the winds for reference, from before the flute was raised; two takes of the kora,
// the second after its tone was set anew; and the stems as shares that add up to the main. Made and proven by what
// prints everywhere.
import { randomInt } from 'node:crypto'
import type { PrintItem } from '@nullet/core/print/printRows'
import { proofOf } from '@nullet/core/print/prove'
import { proveSum } from '@nullet/core/print/sum'
import { ordersAfter } from '@nullet/core/session/order'
import { byOrder, rows } from '@nullet/core/session/session'
import { print } from '../server/jobs/print'
import { connectStore, type Sql } from '../server/store/connect'
import { withEdits } from '../server/store/edits'
import { addJob, readJob, startJob } from '../server/store/jobs'
import { DatabaseMedia } from '../server/store/mediaReader'
import { loadSession } from '../server/store/sessions'

/** A pass under way here; workers see by the lock, which is held as long as it runs, that its jobs are somebody's. */
interface Pass {
  sql: Sql
  lock: number
  session: string
}

/** @param items each with the id of its print, from which the others are made */
async function make(pass: Pass, label: string, items: (Partial<PrintItem> & { print: string })[]): Promise<void> {
  const { sql, lock, session: sessionId } = pass
  const { session } = await loadSession(sql, sessionId)
  const orders = ordersAfter(rows(session, 'channel'), items.length)
  const args = {
    seed: 20417,
    items: items.map((fields, i) => ({
      tap: 'post',
      track: `${fields.print}-track`,
      clip: `${fields.print}-clip`,
      medium: `${fields.print}-medium`,
      name: label,
      order: orders[i],
      ...fields
    }))
  }
  const id = `print-${items[0]!.print}`
  await addJob(sql, { id, sessionId, client: '', kind: 'print', label, args })
  const job = await startJob(sql, id, lock)
  // A worker that runs already may have been faster.
  if (!job) return ended(sql, id)
  await print({ sql, job, lock, report: () => {}, stopped: () => false, room: async () => {} })
}

async function ended(sql: Sql, id: string): Promise<void> {
  for (;;) {
    const job = await readJob(sql, id)
    if (!job) throw new Error(`the job ${id} is gone`)
    if (job.state === 'done') return
    if (job.state === 'failed' || job.state === 'stopped') throw new Error(`“${job.label}” was not printed`)
    await new Promise(done => setTimeout(done, 100))
  }
}

const edit = ({ sql, session }: Pass, gesture: string, verb: string, args: object) =>
  withEdits(sql, (_, apply) => apply(session, { verb, args }, { gesture, client: '' }))

export async function printDemo(sql: Sql, session: string): Promise<void> {
  const line = connectStore(undefined, 1),
    lock = randomInt(1, 2 ** 47)
  await line`select pg_advisory_lock(${lock})`
  try {
    await printAll({ sql, lock, session })
  } finally {
    await line.end({ timeout: 1 })
  }
}

/** Proves that shares add up, and keeps what was found with them. */
async function keepSum(pass: Pass, ids: string[]): Promise<void> {
  const { session } = await loadSession(pass.sql, pass.session)
  const range = { from: 0, frames: Math.max(...ids.map(id => session.print[id]!.frames)) }
  const found = await proveSum(session, await DatabaseMedia.of(pass.sql, session), ids, range)
  const reasons = found.culprits.map(c => c.reason)
  await edit(pass, 'demo-proof', 'keepProof', { ids, proof: proofOf('sum', found, ids, reasons) })
}

async function printAll(pass: Pass): Promise<void> {
  await make(pass, 'Winds for reference', [{ print: 'winds', source: 'winds', takesOver: false }])
  await edit(pass, 'demo-winds', 'setChannels', { ids: ['contrabass-flute'], fields: { levelDb: -6.5 } })

  const tone = (db1: number) => ({ kind1: 'bell', hz1: 3200, q1: 0.8, db1 })
  const slot = { id: 'kora-tone', channel: 'kora', processor: 'equaliser', params: tone(1.5), order: 'a0' }
  await edit(pass, 'demo-kora', 'addSlot', slot)
  await make(pass, 'Kora print', [{ print: 'kora-print', source: 'kora' }])
  await edit(pass, 'demo-kora-2', 'setSlot', { id: slot.id, fields: { params: tone(4) } })
  await make(pass, 'Kora print, brighter', [
    {
      print: 'kora-print-2',
      source: 'kora',
      track: 'kora-print-track',
      take: { id: 'kora-brighter', name: 'Brighter', former: { id: 'kora-first', name: 'First' } }
    }
  ])

  const { session } = await loadSession(pass.sql, pass.session)
  const stems = rows(session, 'channel')
    .filter(c => c.role === 'stem')
    .sort(byOrder)
  await make(
    pass,
    'Stems of Main',
    stems.map(({ id, name }) => ({ print: `share-${id}`, name: `${name}, share of Main`, source: 'main', share: id }))
  )
  await keepSum(
    pass,
    stems.map(({ id }) => `share-${id}`)
  )
  const tracks = stems.map(({ id }) => `share-${id}-track`)
  await edit(pass, 'demo-stems', 'setChannels', { ids: tracks, fields: { parked: true } })
}
