// A job of several passes through one unit: candidates as takes of one track, each pass on the session as it is when it
// begins, what is done stays done.
import { beforeAll, describe, expect, inject, it } from 'vitest'
import { partName, staleParts } from '@nullet/core/print/stale'
import { rows, takesOf, type Session } from '@nullet/core/session/session'
import { whiteNoise } from '@nullet/core/testing/sound'
import { client, printItem, waitFor, wav } from './testing'

const { url } = inject('stage')
const http = client(url)
let id: string

const ROOM = [
  { table: 'rig', row: { id: 'loft', name: 'Loft' } },
  { table: 'interface', row: { id: 'desk', rig: 'loft', name: 'Desk' } },
  { table: 'port', row: { id: 'out', interface: 'desk', name: 'Out 1', direction: 'out' } },
  { table: 'port', row: { id: 'in', interface: 'desk', name: 'In 1', direction: 'in' } },
  { table: 'unit', row: { id: 'amp', rig: 'loft', name: 'Amp', model: 'tube-amplifier' } },
  { table: 'cable', row: { id: 'c1', rig: 'loft', fromPort: 'out', toUnit: 'amp' } },
  { table: 'cable', row: { id: 'c2', rig: 'loft', fromUnit: 'amp', toPort: 'in' } }
]
const through = (driveDb: number) => ({
  tap: 'input',
  outPorts: ['out'],
  inPorts: ['in'],
  settings: { amp: { driveDb } }
})
const candidate = (n: number, pass: number, fields: object = {}) =>
  printItem('a', {
    print: `p${n}`,
    track: 'amp-track',
    clip: `c${n}`,
    medium: `m${n}`,
    name: `A, try ${n}`,
    tap: 'pre',
    through: through(n * 10),
    pass,
    take: n === 1 ? null : { id: `take-${n}`, name: `Try ${n}`, former: { id: 'take-1', name: 'Try 1' } },
    ...fields
  })
const session = async (): Promise<Session> => (await http.session(id)).session

beforeAll(async () => {
  id = await http.make()
  await http.upload(id, 'a', 'a.wav', wav([whiteNoise(24000, 1, 0.1)]))
  await http.upload(id, 'b', 'b.wav', wav([whiteNoise(24000, 2, 0.1)]))
  await http.edit(id, 'addRows', { label: 'a room', rows: ROOM })
})

describe('passes of one job', () => {
  it('make candidates as takes of one track, through one unit set anew for each, and prove them', async () => {
    const items = [candidate(1, 0), candidate(2, 1), candidate(3, 2)]
    const job = await http.job(id, 'print', { items, seed: 7 })
    expect(job).toMatchObject({ state: 'done', error: null })
    expect(job.result).toMatchObject([{ print: 'p1' }, { print: 'p2' }, { print: 'p3' }])
    const now = await session()
    expect(takesOf(now, 'amp-track').map(t => t.name)).toEqual(['Try 1', 'Try 2', 'Try 3'])
    expect(now.channel['amp-track']!.take).toBe('take-3')
    for (const n of [1, 2, 3]) {
      const print = now.print[`p${n}`]!
      expect(print).toMatchObject({ source: 'a', tap: 'pre', takesOver: true, verified: 'identical' })
      expect(print.through!.settings).toEqual({ amp: { driveDb: n * 10 } })
      expect(print.notes.join()).toContain(`“Amp” at Drive ${n * 10} dB`)
    }
    const sums = [1, 2, 3].map(n => now.medium[`m${n}`]!.sha256)
    expect(new Set(sums).size).toBe(3)
    // The rig itself stands as it stood, and nothing of the passes is left in the network.
    expect(now.unit.amp!.settings).toEqual({})
    expect(rows(now, 'feed').filter(f => f.kind === 'port' || f.kind === 'input')).toEqual([])
    // Each pass is a step of its own.
    const log = JSON.stringify((await http.call('GET', `/api/sessions/${id}/log`)).body)
    for (const pass of [0, 1, 2]) expect(log).toContain(`job ${job.id} ${pass}`)
  })

  it('make the track by whichever comes first; the others are takes of it, in any order', async () => {
    const take = { id: 'turn-take', name: 'First', former: { id: 'turn-former', name: 'Second' } }
    const fields = { track: 'turned', takesOver: false }
    const items = [candidate(41, 1, { ...fields, take }), candidate(42, 0, { ...fields, take: null, name: 'Turned' })]
    const job = await http.job(id, 'print', { items, seed: 7 })
    expect(job).toMatchObject({ state: 'done', result: [{ print: 'p41' }, { print: 'p42' }] })
    const now = await session()
    expect(now.channel.turned!.name).toBe('Turned')
    expect(takesOf(now, 'turned').map(t => t.name)).toEqual(['Second', 'First'])
  })

  it('two uses of one unit in one pass are refused, and nothing is stored', async () => {
    const before = await session()
    const items = [candidate(4, 0, { track: 'x1', take: null }), candidate(5, 0, { track: 'x2', take: null })]
    const job = await http.job(id, 'print', { items, seed: 7 })
    expect(job.state).toBe('failed')
    expect(job.error!.message).toMatch(/“A, try 4” and “A, try 5”|“A, try 5” and “A, try 4”/)
    expect(await session()).toEqual(before)
  })

  it('what a pass has laid down stays when a later one cannot be', async () => {
    const gone = { ...candidate(7, 1, { track: 'x7', take: null }), source: 'nobody' }
    const job = await http.job(id, 'print', {
      items: [candidate(6, 0, { track: 'x6', take: null, takesOver: false }), gone],
      seed: 7
    })
    expect(job.state).toBe('failed')
    const now = await session()
    expect(now.print.p6).toMatchObject({ channel: 'x6', verified: 'identical' })
    expect(now.print.p7).toBeUndefined()
    // Once more: what is there is not printed again.
    await http.call('POST', `/api/jobs/${job.id}/again`, {})
    const again = await waitFor(url, job.id, j => j.state === 'failed')
    expect(again.state).toBe('failed')
    expect((await session()).print.p6).toEqual(now.print.p6)
  })

  it('end where what is printed has rung out, all together', async () => {
    await http.edit(id, 'addSlot', {
      id: 'echo',
      channel: 'a',
      processor: 'delay',
      params: { timeMs: 300, feedback: 10 },
      order: 'a'
    })
    const items = [
      printItem('a', { print: 'e1', track: 'e1', clip: 'ec1', medium: 'em1', takesOver: false }),
      printItem('a', { print: 'e2', track: 'e2', clip: 'ec2', medium: 'em2', takesOver: false, tap: 'input' })
    ]
    const job = await http.job(id, 'print', { items, seed: 7, tail: { untilDb: -90, mostS: 20 } })
    expect(job).toMatchObject({ state: 'done', result: [{ verified: 'identical' }, { verified: 'identical' }] })
    const now = await session()
    const { frames } = now.print.e1!
    expect(now.print.e2!.frames).toBe(frames)
    // Repeats 20 dB apart from about −20 dBFS: the last above −90 comes after three or four of them.
    expect(frames).toBeGreaterThan(24000 + 3 * 14400)
    expect(frames).toBeLessThan(24000 + 5 * 14400)
    await http.edit(id, 'setSlot', { id: 'echo', fields: { params: { feedback: 95 } } })
    const endless = [printItem('a', { print: 'e3', track: 'e3', clip: 'ec3', medium: 'em3', takesOver: false })]
    const stays = await http.job(id, 'print', { items: endless, seed: 7, tail: { untilDb: -90, mostS: 3 } })
    expect((stays.result as { notes: string[] }[])[0]!.notes.join()).toMatch(
      /does not ring out: it stays at .* printed to 3\.0 s/
    )
    expect((await session()).print.e3!.frames).toBe(24000 + 3 * 48000)
    await http.edit(id, 'removeSlot', { id: 'echo' })
  })

  it('of two people onto one track at once are both there, as takes of it', async () => {
    const take = (n: number) => ({ id: `both-${n}`, name: `Of ${n}`, former: { id: `was-${n}`, name: 'First' } })
    const one = (n: number) =>
      http.job(id, 'print', {
        items: [candidate(n, 0, { track: 'amp-track', take: take(n), name: `A, of ${n}` })],
        seed: n
      })
    const before = takesOf(await session(), 'amp-track').length
    const done = await Promise.all([one(20), one(21)])
    expect(done.map(j => j.state)).toEqual(['done', 'done'])
    const now = await session()
    expect(takesOf(now, 'amp-track')).toHaveLength(before + 2)
    for (const n of [20, 21]) expect(now.print[`p${n}`]).toMatchObject({ channel: 'amp-track', verified: 'identical' })
  })

  it('of a room that changes meanwhile are kept, and say what they are', async () => {
    const running = http.job(id, 'print', {
      items: [candidate(30, 0, { track: 'x30', take: null, takesOver: false })],
      seed: 3
    })
    await http.edit(id, 'setUnit', { id: 'amp', fields: { settings: { driveDb: 1 }, powered: false } })
    const job = await running
    expect(job.state).toBe('done')
    const now = await session()
    const silent = now.print.p30!.notes.join().includes('nothing came back')
    // It ran on the room as it was when it began: before the hand came, or after.
    const stale = staleParts(now, 'p30').map(part => partName(now, part))
    expect(silent || stale.includes('Amp, which is off'), stale.join()).toBe(true)
    await http.edit(id, 'setUnit', { id: 'amp', fields: { powered: true } })
  })

  it('of a parked source prints its sound', async () => {
    await http.edit(id, 'setChannels', { ids: ['b'], fields: { parked: true } })
    const job = await http.job(id, 'print', { items: [printItem('b', { takesOver: false })], seed: 7 })
    expect(job).toMatchObject({ state: 'done', result: [{ verified: 'identical' }] })
    expect((await session()).medium['m-b']!.peakDb).toBeGreaterThan(-40)
  })
})
