// What goes wrong while a pass runs: a unit that is switched off, a converter that clips. The place is marked, the rest
// is kept, and the bars are run again with proven seams.
import { afterAll, beforeAll, beforeEach, describe, expect, inject, it } from 'vitest'
import { compile } from '@nullet/core/compile/compile'
import { tapKey } from '@nullet/core/compile/plan'
import { toRunAgain } from '@nullet/core/print/faults'
import { returnTap, staged } from '@nullet/core/print/through'
import { PlanStream, renderWhole } from '@nullet/core/run/stream'
import type { Session } from '@nullet/core/session/session'
import { whiteNoise } from '@nullet/core/testing/sound'
import { Refusal } from '@nullet/core/foundation/refusal'
import { print } from './jobs/print'
import { runAgain } from './jobs/runAgain'
import type { Changes } from './jobs/roomWatch'
import { connectStore, type Sql } from './store/connect'
import { mediumInfo, readAudio } from './store/media'
import { DatabaseMedia } from './store/mediaReader'
import { client, printItem, wav } from './testing'

const { url, database } = inject('stage')
const http = client(url)
const LOCK = 987654
const FRAMES = 400_000
const EVERY = 65536
let id: string, sql: Sql, line: Sql
const session = async (): Promise<Session> => (await http.session(id)).session
const audioOf = async (medium: string): Promise<Float32Array> => {
  const { sha256, legs, frames } = (await session()).medium[medium]!
  return (await readAudio(sql, await mediumInfo(sql, sha256, legs), 0, frames))[0]!
}

const ROOM = [
  { table: 'rig', row: { id: 'loft', name: 'Loft' } },
  { table: 'interface', row: { id: 'desk', rig: 'loft', name: 'Desk', noiseDbfs: -110 } },
  { table: 'port', row: { id: 'out', interface: 'desk', name: 'Out 1', direction: 'out' } },
  { table: 'port', row: { id: 'in', interface: 'desk', name: 'In 1', direction: 'in' } },
  { table: 'unit', row: { id: 'amp', rig: 'loft', name: 'Amp', model: 'tube-amplifier' } },
  { table: 'cable', row: { id: 'c1', rig: 'loft', fromPort: 'out', toUnit: 'amp' } },
  { table: 'cable', row: { id: 'c2', rig: 'loft', fromUnit: 'amp', toPort: 'in' } }
]
const THROUGH = { tap: 'input' as const, levelDb: 0, outPorts: ['out'], inPorts: ['in'], settings: {}, instead: {} }

/** A job as a worker has it that took it over: begun, and its own. */
async function job(kind: string, args: object) {
  const job = `j-${kind}-${crypto.randomUUID()}`
  await sql`insert into job (id, session_id, kind, label, args, state, worker_lock)
    values (${job}, ${id}, ${kind}, 'A job', ${sql.json(args as never)}, 'running', ${LOCK})`
  return {
    sql,
    lock: LOCK,
    job: { id: job, sessionId: id, client: '', kind, label: 'A job', args, tries: 1 } as never,
    report: () => {},
    stopped: () => false,
    room: async () => {}
  }
}
/** The session changes at these looks; between them it does not. */
const at = (looks: Record<number, (s: Session) => Session>, from: Session): Changes => {
  let n = -1,
    now = from
  return async () => {
    const change = looks[++n]
    return change ? (now = change(now)) : null
  }
}
const powered = (on: boolean) => (s: Session) => ({ ...s, unit: { ...s.unit, amp: { ...s.unit.amp!, powered: on } } })
const item = (n: string, through: object | null = THROUGH) =>
  printItem('a', {
    ...{ print: `p${n}`, track: `t${n}`, clip: `c${n}`, medium: `m${n}`, name: `Print ${n}` },
    ...{ tap: 'pre', through, takesOver: false }
  })

beforeAll(async () => {
  sql = connectStore(database, 4)
  // As a worker that lives: nobody takes its jobs.
  line = connectStore(database, 1)
  await line`select pg_advisory_lock(${LOCK})`
  id = await http.make()
  await http.upload(id, 'a', 'a.wav', wav([whiteNoise(FRAMES, 1, 0.1)]))
  await http.edit(id, 'addRows', { label: 'a room', rows: ROOM })
})
afterAll(async () => {
  await Promise.all([line?.end(), sql?.end()])
})

describe('a unit that is switched off while a pass runs', () => {
  beforeEach(async () => {
    if ((await session()).print.p1) return
    const looks = { 2: powered(false), 4: powered(true) }
    await print(
      await job('print', { items: [item('1')], seed: 7, from: 0, frames: FRAMES }),
      at(looks, await session())
    )
  })

  it('marks from where to where, by name; there is silence, the rest is as it is', async () => {
    const { faults, verified } = (await session()).print.p1!
    expect(faults).toEqual([
      { kind: 'lost', from: 2 * EVERY, frames: 2 * EVERY, what: '“Amp” was switched off', overDb: null }
    ])
    expect(verified).toBe('identical')
    const audio = await audioOf('m1')
    expect(audio.subarray(2 * EVERY, 4 * EVERY).every(x => x === 0)).toBe(true)
    const s = await session(),
      stage = staged(s, [{ print: 'p1', source: 'a', through: THROUGH }]),
      tap = returnTap('p1')
    const live = await renderWhole(
      new PlanStream(compile(stage, { taps: [tap], seed: 7 }), stage, await DatabaseMedia.of(sql, stage)),
      { from: 0, frames: FRAMES }
    )
    const whole = live.get(tapKey(tap))![0]!
    expect(audio.subarray(0, 2 * EVERY)).toEqual(whole.subarray(0, 2 * EVERY))
    expect(audio.subarray(4 * EVERY)).toEqual(whole.subarray(4 * EVERY))
  })

  it('only those bars are run again; then it is what an undisturbed pass makes, to the bit, and one undo', async () => {
    const before = await session()
    const parts = toRunAgain(before.print.p1!.faults, 480, { from: 0, frames: FRAMES })
    await runAgain(await job('runAgain', { print: 'p1', medium: 'm1-again', parts }), at({}, before))
    const after = (await session()).print.p1!
    expect(after).toMatchObject({ faults: [], verified: 'identical' })
    expect(after.notes.at(-1)).toBe('run again: 2.7 s – 5.5 s; the seams are identical')
    await print(await job('print', { items: [item('2')], seed: 7, from: 0, frames: FRAMES }), at({}, before))
    const now = await session()
    expect(now.medium['m1-again']!.sha256).toBe(now.medium.m2!.sha256)
    expect(now.clip.c1!.medium).toBe('m1-again')
    expect(now.medium.m1).toEqual(before.medium.m1)
  })

  it('and again while they run: the print stays as it was, and it is said why', async () => {
    const before = await session()
    const parts = [{ from: EVERY, frames: EVERY }]
    const running = runAgain(
      await job('runAgain', { print: 'p1', medium: 'never', parts }),
      at({ 1: powered(false) }, before)
    )
    await expect(running).rejects.toThrow(/“Amp” was switched off while bars of “Print 1” ran/)
    expect(await session()).toEqual(before)
    expect(await sql`select 1 from upload`).toHaveLength(0)
  })
})

it('a unit that is set otherwise meanwhile is said; the pass runs as it began', async () => {
  const turned = (s: Session) => ({ ...s, unit: { ...s.unit, amp: { ...s.unit.amp!, settings: { driveDb: 20 } } } })
  await print(
    await job('print', { items: [item('3')], seed: 7, from: 0, frames: FRAMES }),
    at({ 1: turned }, await session())
  )
  const now = await session()
  expect(now.print.p3!.notes).toContain('“Amp” was set otherwise while it ran: printed as it stood before')
  expect(now.medium.m3!.sha256).toBe(now.medium.m2!.sha256)
})

it('a pass of a range rolls before and behind it: neither is in the print, and what the roll lacks is measured', async () => {
  const range = { from: 200_000, frames: 50_000 }
  const of = async (n: string, roll: object | null, from: number) => {
    await print(await job('print', { items: [item(n)], seed: 7, ...range, from, roll }), at({}, await session()))
    const row = (await session()).print[`p${n}`]!
    expect((await audioOf(`m${n}`)).length).toBe(50_000)
    return row
  }
  expect(await of('20', null, 200_000)).toMatchObject({ verified: 'identical', frames: 50_000 })
  const short = await of('21', { pre: 0, post: 4800 }, 200_000),
    long = await of('22', { pre: 48_000, post: 4800 }, 200_000)
  expect(short).toMatchObject({ verified: 'differs', frames: 50_000 })
  expect(long.residualDb ?? -Infinity).toBeLessThan(short.residualDb! - 40)
  expect(long.notes.join()).toContain('a pre-roll of 1.0 s: what rang in the units from before it is not in it')
  expect(await of('23', { pre: 96_000, post: 0 }, 0)).toMatchObject({ verified: 'identical' })
})

it('a port that clips is said with how much it is over, where it is', async () => {
  const hot = whiteNoise(FRAMES, 5, 0.1)
  hot.fill(1.5, 200_000, 200_400)
  await http.upload(id, 'hot', 'hot.wav', wav([hot]))
  await print(
    await job('print', { items: [{ ...item('4'), source: 'hot' }], seed: 7, from: 0, frames: FRAMES }),
    at({}, await session())
  )
  const clipped = (await session()).print.p4!.faults.filter(f => f.what === 'Out 1')
  expect(clipped).toHaveLength(1)
  expect(clipped[0]!.overDb).toBeCloseTo(20 * Math.log10(1.5), 1)
  expect(Math.abs(clipped[0]!.from - 200_000)).toBeLessThan(700)
  expect(clipped[0]!.frames).toBeGreaterThan(400)
  expect(clipped[0]!.frames).toBeLessThan(2000)
})

describe('what cannot be run again in parts', () => {
  it.each([
    [
      'bars outside of the print',
      { print: 'p1', parts: [{ from: FRAMES - 5, frames: 10 }] },
      /lie outside of “Print 1”/
    ],
    ['a print that is not there', { print: 'nobody', parts: [{ from: 0, frames: 10 }] }, /nobody/],
    ['a source that has changed since', { print: 'p2', parts: [{ from: 0, frames: 9 }] }, /print it again as a whole/i]
  ])('%s is refused, and nothing changes', async (what, args, reason) => {
    if (what.includes('changed')) await http.edit(id, 'setUnit', { id: 'amp', fields: { settings: { driveDb: 9 } } })
    const before = await session()
    const refused = await runAgain(await job('runAgain', { ...args, medium: 'never' }), at({}, before)).then(
      () => null,
      (e: unknown) => e
    )
    expect(refused).toBeInstanceOf(Refusal)
    expect((refused as Refusal).message).toMatch(reason)
    expect(await session()).toEqual(before)
  })
})
