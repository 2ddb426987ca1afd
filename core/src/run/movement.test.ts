// Sound in motion: what a hand or an envelope sweeps leaves no products beside it, wherever a render begins.
import { describe, expect, it } from 'vitest'
import { Sketch } from '../testing/sketch'
import type { Session } from '../session/session'
import { valuesAfter } from '../compile/values'
import { compile } from '../compile/compile'
import { MemoryMedia } from './memoryMedia'
import { PlanStream } from './stream'
import { besideDb, difference, peak, renderTaps, RATE, rmsDb, sine, whiteNoise } from '../testing/sound'

const SECOND = 48000
const TAP = { channel: 'main', tap: 'post' as const }

function tone(make: (k: Sketch) => void, hz = 1000): { session: Session; media: Record<string, Float32Array[]> } {
  const k = new Sketch('test')
  k.medium('x', 1, 2 * SECOND)
  k.bus('main', { role: 'main', layout: ['M'] })
  k.main(k.track('t', 'x'), 'main')
  make(k)
  return { session: k.session, media: { x: [sine(2 * SECOND, hz, 0.25)] } }
}

/** Runs live: the session of every drawn frame (a sixtieth of a second) is taken as it comes. */
async function live(of: (share: number) => Session, media: Record<string, Float32Array[]>): Promise<Float32Array> {
  const reader = new MemoryMedia()
  for (const [id, legs] of Object.entries(media)) reader.set(id, legs)
  const plan = (s: Session) => compile(s, { taps: [TAP], live: true })
  const stream = new PlanStream(plan(of(0)), of(0), reader)
  const out = new Float32Array(SECOND)
  for (let at = 0, drawn = 0; at + 128 <= SECOND; at += 128) {
    const passed = (at - SECOND / 2) / (0.1 * SECOND)
    if (at / 800 > drawn) {
      drawn++
      stream.machine.aim(valuesAfter(stream.plan.ops, plan(of(Math.max(0, Math.min(1, passed)))).ops)!)
    }
    await stream.block()
    out.set(stream.last('sink/main@post')[0], at)
  }
  return out.subarray(SECOND / 2 - 16384, SECOND / 2 + 16384)
}

const HALF = SECOND / 2
/** From 0 to 6 dB in 100 ms, half a second in. */
const SWEEP: [number, number][] = [
  [HALF, 0],
  [HALF + 4800, 6]
]

describe('6 dB in 100 ms on 1 kHz leaves nothing beyond ±100 Hz above −80 dB', () => {
  const cases: Record<string, (k: Sketch) => void> = {
    'the gain of a bell': k => {
      k.move({ slot: k.slot('t', 'equaliser', { kind1: 'bell', hz1: 1000, q1: 1 }) }, 'db1', SWEEP)
    },
    'the make-up of a compressor': k => {
      k.move({ slot: k.slot('t', 'compressor', { thresholdDb: 0 }) }, 'makeupDb', SWEEP)
    },
    'the output of a saturation': k => {
      k.move({ slot: k.slot('t', 'saturation', { driveDb: -24 }) }, 'outputDb', SWEEP)
    },
    'the drive of a limiter': k => {
      k.move({ slot: k.slot('t', 'limiter', { ceilingDb: 0 }) }, 'driveDb', SWEEP)
    },
    'the mix of a slot': k => {
      k.move({ slot: k.slot('t', 'compressor', { thresholdDb: 0, makeupDb: 6 }) }, 'mix', [
        [HALF, 0],
        [HALF + 4800, 1]
      ])
    }
  }
  it.each(Object.keys(cases))('%s, by an envelope', async name => {
    const { session, media } = tone(cases[name])
    const [x] = (await renderTaps(session, media, SECOND, { taps: [TAP] })).get('main@post')!
    expect(rmsDb(x.subarray(SECOND - 9600)) - rmsDb(x.subarray(0, 9600))).toBeCloseTo(6, 0)
    expect(besideDb(x.subarray(HALF - 16384, HALF + 16384))).toBeLessThan(-80)
  })

  it.each([{ channel: 't' }, { feed: 'f0001' }])(
    'a ride drawn with corners is the exact line, and leaves what the corners themselves leave: %o',
    async on => {
      const { session, media } = tone(k => {
        k.move(on, 'levelDb', SWEEP)
      })
      const [x] = (await renderTaps(session, media, SECOND, { taps: [TAP] })).get('main@post')!
      const exact = media.x[0]
        .subarray(0, SECOND)
        .map((v, n) => v * 10 ** ((Math.max(0, Math.min(1, (n - HALF) / 4800)) * 6) / 20))
      expect(rmsDb(difference(x, exact))).toBeLessThan(-140)
      expect(besideDb(x.subarray(HALF - 16384, HALF + 16384))).toBeCloseTo(
        besideDb(exact.subarray(HALF - 16384, HALF + 16384)),
        1
      )
    }
  )

  const byHand: Record<string, (share: number) => (k: Sketch) => void> = {
    'a fader': share => k => {
      k.session.channel.t.levelDb = 6 * share
    },
    'the gain of a bell': share => k => {
      k.slot('t', 'equaliser', { kind1: 'bell', hz1: 1000, q1: 1, db1: 6 * share })
    },
    'the make-up of a compressor': share => k => {
      k.slot('t', 'compressor', { thresholdDb: 0, makeupDb: 6 * share })
    },
    'the output of a saturation': share => k => {
      k.slot('t', 'saturation', { driveDb: -24, outputDb: 6 * share })
    },
    'the mix of a slot': share => k => {
      k.slot('t', 'compressor', { thresholdDb: 0, makeupDb: 6 }, { mix: share })
    }
  }
  it.each(Object.keys(byHand))('%s, by hand while it plays', async name => {
    const { media } = tone(() => {})
    const x = await live(share => tone(byHand[name](share)).session, media)
    expect(besideDb(x)).toBeLessThan(-80)
  })
})

describe('what moves is the same wherever a render begins', () => {
  const k = new Sketch('test')
  k.medium('x', 2, SECOND)
  k.bus('main', { role: 'main' })
  k.track('t', 'x')
  k.main('t', 'main')
  k.session.clip['t-clip'].startFrame = 9000
  k.move({ slot: k.slot('t', 'equaliser', { kind1: 'bell', q1: 3 }) }, 'hz1', [
    [0, 200],
    [30000, 6000]
  ])
  k.move({ slot: k.slot('t', 'tremolo', { depth: 80 }) }, 'hz', [
    [0, 1],
    [20000, 9],
    [20000, 3]
  ])
  k.move({ slot: k.slot('t', 'delay', { timeMs: 40 }) }, 'timeMs', [
    [12000, 40],
    [12001, 90]
  ])
  k.move({ channel: 't' }, 'levelDb', [
    [4000, -20],
    [26000, 0]
  ])
  k.move({ channel: 't' }, 'pan', [
    [0, -1],
    [26000, 1]
  ])
  const media = { x: [whiteNoise(SECOND, 5), whiteNoise(SECOND, 6)] }

  it('from frame 15 003 and in requests of 100', async () => {
    const [whole, part] = [
      await renderTaps(k.session, media, 30000, { taps: [TAP] }),
      await renderTaps(k.session, media, 9000, { taps: [TAP] }, 100, 15003)
    ]
    whole.get('main@post')!.forEach((leg, i) => {
      expect(peak(leg)).toBeGreaterThan(0.1)
      expect(part.get('main@post')![i]).toEqual(leg.slice(15003, 24003))
    })
  })
})

describe('what clicks would be heard as', () => {
  it('points that are changed while they sound: the level goes there within a block', async () => {
    const { media } = tone(() => {})
    const x = await live(
      share =>
        tone(k => {
          k.move({ channel: 't' }, 'levelDb', [[0, share < 0.5 ? 0 : -12]])
        }).session,
      media
    )
    expect(rmsDb(x.subarray(0, 4096)) - rmsDb(x.subarray(-4096))).toBeCloseTo(12, 1)
    // 12 dB in one step would be a step of up to 0.19.
    expect(peak(difference(x.subarray(1), x.subarray(0, -1)))).toBeLessThan(0.04)
  })

  it('another delay fades from place to place in the line', async () => {
    const { session, media } = tone(k => {
      k.move({ slot: k.slot('t', 'delay', { feedback: 0, lowCutHz: 10, highCutHz: 20000 }) }, 'timeMs', [
        [HALF, 100],
        [HALF, 100.5]
      ])
    })
    const [x] = (await renderTaps(session, media, SECOND, { taps: [TAP] })).get('main@post')!
    const steps = difference(x.subarray(HALF - 1000, HALF + 2000), x.subarray(HALF - 1001, HALF + 1999))
    // The steepest step of the sine itself is 0.25 · 2π · 1000 / 48000 = 0.033.
    expect(peak(steps)).toBeLessThan(0.04)
  })

  it('another speed of a tremolo goes on from the phase that is reached', async () => {
    const { session, media } = tone(k => {
      k.move({ slot: k.slot('t', 'tremolo', { depth: 100 }) }, 'hz', [
        [0, 4.3],
        [HALF, 4.3],
        [HALF, 7.7]
      ])
    }, 6000)
    const [x] = (await renderTaps(session, media, SECOND, { taps: [TAP] })).get('main@post')!
    // The level of 8 samples (a period) moves by no more than the faster swing's steepest slope.
    const level = Array.from({ length: 600 }, (_, i) => peak(x.subarray(HALF - 2400 + i * 8, HALF - 2392 + i * 8)))
    expect(peak(difference(level.slice(1), level.slice(0, -1)))).toBeLessThan(((0.25 * Math.PI * 7.7 * 8) / RATE) * 1.5)
  })
})
