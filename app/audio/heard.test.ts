// The engine as it is heard: what comes after a jump, a repeat or a change is what would have come from the beginning.
import { describe, expect, it } from 'vitest'
import { MemoryMedia } from '@nullet/core/run/memoryMedia'
import { PlanStream } from '@nullet/core/run/stream'
import { withChanges, type Session } from '@nullet/core/session/session'
import { Sketch } from '@nullet/core/testing/sketch'
import { renderTaps, whiteNoise } from '@nullet/core/testing/sound'
import type { Heard } from './heard'
import { Near } from './near'
import { Pace } from './pace'

const SECOND = 48000,
  FRAMES = 4 * SECOND,
  BLOCK = 128
const media = { a: [whiteNoise(FRAMES, 1, 0.4)], b: [whiteNoise(FRAMES, 2, 0.4), whiteNoise(FRAMES, 3, 0.4)] }
const reader = () => {
  const memory = new MemoryMedia()
  for (const [id, legs] of Object.entries(media)) memory.set(id, legs)
  return memory
}

/** A long tail, a gain that lags, a key and a look-ahead: everything that remembers. */
function session(): Session {
  const k = new Sketch('Heard')
  k.medium('a', 1, FRAMES)
  k.medium('b', 2, FRAMES)
  k.bus('main', { role: 'main' })
  k.bus('room', { role: 'return' })
  k.main('room', 'main')
  k.slot('room', 'reverb', { decayS: 3 }, { id: 'hall' })
  k.main(k.track('one', 'a'), 'main')
  k.main(k.track('two', 'b'), 'main')
  k.send('one', 'room', -6)
  const slot = k.slot('two', 'compressor', { thresholdDb: -30, releaseMs: 900, lookAheadMs: 3 })
  k.key('one', slot)
  k.slot('two', 'delay', { timeMs: 430, feedback: 60 }, { mix: 0.3 })
  k.session.session.session = { ...k.session.session.session, heardChannel: 'main' }
  return k.session
}

const with_ = (s: Session, table: 'channel' | 'slot', id: string, fields: object): Session =>
  withChanges(s, [{ table, id, before: s[table][id], after: { ...s[table][id], ...fields } }])

const never = () => false
const go = (heard: Heard, frame: number) => heard.runTo(frame, never)
async function play(heard: Heard, frames: number): Promise<number[][]> {
  const out: number[][] = [[], []]
  for (let n = 0; n < frames; n += BLOCK) (await heard.block()).forEach((leg, i) => out[i].push(...leg))
  return out
}
/** What a new engine plays from there on, having run all the way. */
async function fresh(s: Session, frame: number, frames: number): Promise<number[][]> {
  const { heard } = new Near(s, reader())
  await go(heard, 0)
  await play(heard, frame)
  return play(heard, frames)
}

describe('what is heard', () => {
  it('from the beginning is the print of it, late by the latency it says', async () => {
    const s = session()
    const { heard } = new Near(s, reader())
    await go(heard, 0)
    const [left] = await play(heard, SECOND)
    const rendered = (await renderTaps(s, media, SECOND, { taps: [{ channel: 'main', tap: 'post' }] })).get(
      'main@post'
    )!
    expect(heard.latency).toBeGreaterThan(0)
    expect(left.slice(heard.latency)).toEqual([...rendered[0].subarray(0, SECOND - heard.latency)])
  })

  it('after a jump, on or back, is what plays there from the beginning', async () => {
    const { heard } = new Near(session(), reader())
    const places = [2.5, 0.5, 3, 1.25, 0].map(seconds => Math.round((seconds * SECOND) / BLOCK) * BLOCK)
    for (const frame of places) {
      await go(heard, frame)
      expect(heard.machine.frame).toBe(frame)
      expect(await play(heard, 4096)).toEqual(await fresh(session(), frame, 4096))
    }
  })

  it('after a change of a setting and a jump is what the changed session plays there', async () => {
    const s = session()
    const near = new Near(s, reader()),
      { heard } = near
    await go(heard, 0)
    await play(heard, 2 * SECOND)
    const changed = with_(with_(s, 'slot', 'hall', { params: { decayS: 1 } }), 'channel', 'one', { levelDb: -9 })
    expect(near.change(changed)).toBeNull()
    await play(heard, 4096)
    const frame = SECOND + 4 * BLOCK
    await go(heard, frame)
    expect(await play(heard, 4096)).toEqual(await fresh(changed, frame, 4096))
  })

  it('moved by hands is the same whether values are written or all is compiled', async () => {
    const s = session()
    const near = [new Near(s, reader()), new Near(s, reader())] as const,
      [written, compiled] = near.map(n => n.heard) as [Heard, Heard]
    for (const heard of [written, compiled]) await go(heard, 0)
    let now = s
    for (let n = 0; n < 60; n++) {
      const [table, id, fields] = (
        [
          ['channel', 'one', { levelDb: -n / 4 }],
          ['channel', 'two', { pan: Math.sin(n) }],
          ['slot', 'hall', { mix: 1 - n / 80 }],
          ['channel', 'one', { trimDb: n / 10, muted: n % 7 === 0 }]
        ] as const
      )[n % 4]!
      const changes = [{ table, id, before: now[table][id], after: { ...now[table][id], ...fields } }]
      now = withChanges(now, changes)
      expect(near[0].change(now, changes)).toBeNull()
      expect(near[1].change(now)).toBeNull()
      expect(await play(written, 4 * BLOCK)).toEqual(await play(compiled, 4 * BLOCK))
    }
    // The one plan was compiled for the beginning alone.
    expect(near.map(n => n.planning.compiled)).toEqual([1, 61])
    await go(written, SECOND)
    expect(await play(written, 4096)).toEqual(await fresh(now, Math.floor(SECOND / BLOCK) * BLOCK, 4096))
  })

  it('after a change of the network and a jump is what the changed session plays there', async () => {
    const s = session()
    const near = new Near(s, reader()),
      { heard } = near
    await go(heard, 0)
    await play(heard, SECOND)
    const changed = with_(s, 'slot', 'hall', { state: 'off' })
    const before = heard.stream
    expect(near.change(changed)).toBe(before)
    await play(heard, 4096)
    await go(heard, 2 * SECOND)
    expect(await play(heard, 4096)).toEqual(await fresh(changed, 2 * SECOND, 4096))
  })

  it('keeps the latency it began with while the network gets shorter', () => {
    const s = session()
    const near = new Near(s, reader()),
      { heard } = near
    const { latency } = heard
    const compressor = Object.values(s.slot).find(slot => slot.processor === 'compressor')!
    near.change(with_(s, 'slot', compressor.id, { state: 'off' }))
    expect(heard.latency).toBe(latency)
  })

  it('a run that is cancelled stops on its way', async () => {
    const { heard } = new Near(session(), reader())
    let asked = 0
    await heard.runTo(3 * SECOND, () => ++asked === 512)
    expect(heard.machine.frame).toBe(512 * BLOCK)
  })

  /** A machine on which every block takes a millisecond, so that 50 of them lie before a start. */
  const hurried = () => {
    let now = 0
    return new Pace(50, () => (now += 0.5))
  }
  const settledPace = (heard: Heard, pace: Pace) => {
    for (let n = 0; n < 2000; n++) pace.time(heard.plan.ops, () => undefined)
    return pace.frames(heard.plan.ops)
  }

  it('runs in from no further than its pace allows, and is then what a render from there gives', async () => {
    const pace = hurried(),
      s = session(),
      { heard } = new Near(s, reader(), pace)
    const bound = settledPace(heard, pace)
    expect(bound / BLOCK).toBeGreaterThan(95)
    expect(bound / BLOCK).toBeLessThan(101)
    const frame = 3 * SECOND
    await go(heard, frame)
    expect(heard.since).toBeGreaterThanOrEqual(frame - bound - 8 * BLOCK)
    expect(heard.since).toBeLessThan(frame)
    const late = new PlanStream(heard.plan, s, reader())
    late.start(heard.since!)
    while (late.machine.frame < frame) await late.block()
    const [left] = await play(heard, 4096)
    const wanted: number[] = []
    for (let n = 0; n < 4096; n += BLOCK) {
      await late.block()
      wanted.push(...late.last('sink/ears')[0]!)
    }
    expect(left).toEqual(wanted)
  })

  it('comes back exactly to where it has been, and to the beginning, however little time there is', async () => {
    const pace = hurried(),
      { heard } = new Near(session(), reader(), pace)
    settledPace(heard, pace)
    await go(heard, 0)
    await play(heard, 2 * SECOND)
    for (const frame of [SECOND + 8 * BLOCK, 20 * BLOCK, 0]) {
      await go(heard, frame)
      expect(heard.since).toBe(0)
      expect(await play(heard, 2048)).toEqual(await fresh(session(), frame, 2048))
    }
  })

  it('of a session without channels is silence', async () => {
    const { heard } = new Near(new Sketch('Empty').session, reader())
    expect(heard.plan.sinks.size).toBe(0)
  })
})
