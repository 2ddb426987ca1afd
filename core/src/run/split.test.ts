// Two halves give what the whole gives, to the bit, wherever the cut falls.
import { describe, expect, it } from 'vitest'
import { PROCESSORS } from '../processors/table'
import { generatedNetwork } from '../testing/generated'
import { rows, type Session } from '../session/session'
import { Sketch } from '../testing/sketch'
import { CHUNK } from '../plan/operations'
import { compile } from '../compile/compile'
import { MemoryMedia } from './memoryMedia'
import { CROSS_OUT, JoinedStream, splitPlan, type Far } from './split'
import { PlanStream, renderWhole } from './stream'
import { peak, whiteNoise } from '../testing/sound'

const FRAMES = 20000

/** The first half in the same process. */
class Near implements Far {
  constructor(private readonly stream: PlanStream) {}
  start(frame: number): void {
    this.stream.start(frame)
  }
  async chunk(from: number, into: Float32Array[]): Promise<void> {
    while (this.stream.machine.frame < from + CHUNK) await this.stream.block()
    this.stream.machine.stagingOf(CROSS_OUT).forEach((leg, i) => into[i].set(leg))
  }
}

async function both(session: Session, media: MemoryMedia, channel: string, from = 0) {
  const options = { taps: [{ channel, tap: 'post' as const }] }
  const whole = await renderWhole(new PlanStream(compile(session, options), session, media), { from, frames: FRAMES })
  const plan = compile(session, options),
    split = splitPlan(plan)
  const joined = new JoinedStream(plan, split, session, media, new Near(new PlanStream(split.first, session, media)))
  const halves = await renderWhole(joined, { from, frames: FRAMES })
  return { whole: whole.get(`${channel}@post`)!, halves: halves.get(`${channel}@post`)!, split }
}

describe('two halves', () => {
  it('of every processor in a row, with movement, keys and notes', async () => {
    const k = new Sketch('test')
    k.medium('x', 2, FRAMES)
    k.bus('main', { role: 'main' })
    k.bus('room')
    k.main('room', 'main')
    for (const t of ['a', 'b', 'c']) {
      k.main(k.track(t, 'x'), 'main')
      k.send(t, 'room', -6)
    }
    for (const id of Object.keys(PROCESSORS)) k.slot('b', id, {}, { mix: 0.6 })
    k.key('a', k.slot('c', 'ducker', { thresholdDb: -40 }))
    k.slot('room', 'reverb')
    k.move({ channel: 'c' }, 'pan', [
      [0, -1],
      [15000, 1]
    ])
    k.move({ slot: k.slot('a', 'equaliser', { kind1: 'bell' }) }, 'db1', [
      [0, -9],
      [9000, 9]
    ])
    k.track('n')
    k.main('n', 'main')
    k.add('phrase', { id: 'p', channel: 'n', notes: [[0, 2, 60, 90]] })
    const { whole, halves, split } = await both(
      k.session,
      new MemoryMedia().set('x', [whiteNoise(FRAMES, 1), whiteNoise(FRAMES, 2)]),
      'main',
      3000
    )
    expect(peak(whole[0])).toBeGreaterThan(0.1)
    expect(halves).toEqual(whole)
    expect(split.first.ops.length).toBeGreaterThan(5)
    expect(split.second.ops.length).toBeGreaterThan(5)
  })

  it.each([1, 2, 3, 4])('of a random network, number %i', async seed => {
    const { session } = generatedNetwork(seed, { tracks: 24, submixes: 6, returns: 3, stems: 3, sends: 30, keys: 6 })
    const media = new MemoryMedia()
    for (const c of rows(session, 'channel').filter(c => c.kind === 'track')) {
      media.set(
        `m-${c.id}`,
        c.layout.map((_, leg) => whiteNoise(FRAMES, leg + c.id.length + Number(c.id.replace(/\D/g, '') || 0), 0.2))
      )
      session.medium[`m-${c.id}`] = {
        id: `m-${c.id}`,
        name: 'x',
        sha256: '',
        file: '',
        legs: c.layout.length,
        frames: FRAMES,
        sampleRate: 48000,
        originalRate: null,
        peakDb: null,
        loudnessLufs: null,
        title: '',
        timeReference: null
      }
      for (const clip of rows(session, 'clip').filter(x => x.channel === c.id)) delete session.clip[clip.id]
      session.clip[`k-${c.id}`] = {
        id: `k-${c.id}`,
        channel: c.id,
        medium: `m-${c.id}`,
        name: '',
        startFrame: 0,
        offsetFrames: 0,
        frames: null,
        gainDb: 0,
        fadeInFrames: 0,
        fadeOutFrames: 0,
        legMap: null,
        take: null
      }
    }
    const main = rows(session, 'channel').find(c => c.role === 'main')!.id
    const { whole, halves } = await both(session, media, main)
    expect(halves).toEqual(whole)
  })
})
