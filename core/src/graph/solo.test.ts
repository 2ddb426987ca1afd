// Solo on random networks: every source has a frequency of its own, and the spectrum of what is heard is compared with
// a brute-force solo that follows each source along every single path.
import { describe, expect, it } from 'vitest'
import { gainOf } from '../foundation/elementary'
import { renderTaps } from '../testing/sound'
import { Dice, generatedNetwork } from '../testing/generated'
import type { AudioFeed, Feed } from '../session/rows'
import { rows, type Session } from '../session/session'

const SIZE = 4096,
  RATE = 48000
const bin = (i: number) => 40 + 23 * i

/** Everything reachable from a set, along feeds, by plain repetition. */
function closure(s: Session, from: string[], step: (f: Feed) => [string, string] | null): Set<string> {
  const found = new Set(from)
  for (let grown = true; grown;) {
    grown = false
    for (const f of rows(s, 'feed')) {
      const edge = step(f)
      if (edge && found.has(edge[0]) && !found.has(edge[1])) {
        found.add(edge[1])
        grown = true
      }
    }
  }
  return found
}

/** Amplitude with which a source arrives at the main, path by path. */
function bruteForce(s: Session, source: string): number {
  const audio = (f: Feed): [string, string] | null => (f.kind === 'main' || f.kind === 'send' ? [f.from, f.to] : null)
  const back = (f: Feed): [string, string] | null => {
    const e = audio(f)
    return e && [e[1], e[0]]
  }
  const soloed = rows(s, 'channel')
    .filter(c => c.soloed)
    .map(c => c.id)
  const up = closure(s, soloed, back),
    down = closure(s, soloed, audio)
  const safe = closure(
    s,
    rows(s, 'channel')
      .filter(c => c.safe)
      .map(c => c.id),
    audio
  )
  const open = (f: AudioFeed) => {
    if (!soloed.length) return true
    const a = f.from,
      b = f.to
    return down.has(a) || (up.has(a) && up.has(b)) || safe.has(a)
  }
  const walk = (at: string): number => {
    const c = s.channel[at]
    if (at === 'main') return c.muted ? 0 : gainOf(c.levelDb)
    return rows(s, 'feed')
      .filter(f => f.kind === 'main' || f.kind === 'send')
      .filter(f => f.from === at && open(f) && !c.muted)
      .reduce((sum, f) => {
        // A centred mono track arrives in each leg of a stereo bus 3 dB lower.
        const place = c.kind === 'track' ? Math.SQRT1_2 : 1
        return sum + place * gainOf(f.levelDb) * (f.tap === 'post' ? gainOf(c.levelDb) : 1) * walk(f.to)
      }, 0)
  }
  return walk(source)
}

describe('solo, mute and safe', () => {
  it('let through what a brute-force solo lets through, on forty random networks', async () => {
    for (let seed = 1; seed <= 40; seed++) {
      const dice = new Dice(seed * 31)
      const k = generatedNetwork(seed, {
        tracks: 6,
        submixes: 4,
        returns: 2,
        stems: 2,
        sends: 7,
        keys: 0,
        frames: SIZE
      })
      // Compressors would bend the spectrum; routing is what is looked at here.
      k.session.slot = {}
      const s = k.session
      const media = Object.fromEntries(
        [0, 1, 2, 3, 4, 5].map(i => [
          `m-t${i}`,
          [Float32Array.from({ length: SIZE }, (_, n) => 0.1 * Math.sin((2 * Math.PI * bin(i) * n) / SIZE))]
        ])
      )
      const others = rows(s, 'channel').filter(c => c.id !== 'main')
      for (const c of others) c.levelDb = -dice.below(12)
      for (const c of dice.some(others, dice.below(4))) c.soloed = true
      for (const c of dice.some(others, dice.below(3))) c.safe = true
      for (const c of dice.some(others, dice.below(3))) c.muted = true
      const out = (await renderTaps(s, media, SIZE, { taps: [{ channel: 'main', tap: 'post' }], live: true })).get(
        'main@post'
      )!
      for (let i = 0; i < 6; i++) {
        let re = 0,
          im = 0
        for (let n = 0; n < SIZE; n++) {
          re += out[0][n] * Math.cos((2 * Math.PI * bin(i) * n) / SIZE)
          im += out[0][n] * Math.sin((2 * Math.PI * bin(i) * n) / SIZE)
        }
        expect(
          (Math.hypot(re, im) * 2) / SIZE,
          `seed ${seed}, source ${i} at ${(bin(i) * RATE) / SIZE} Hz`
        ).toBeCloseTo(0.1 * bruteForce(s, `t${i}`), 5)
      }
    }
  })

  it('a print ignores solo, and an explicit mute beats it', async () => {
    const k = generatedNetwork(3, { tracks: 2, submixes: 0, returns: 0, stems: 0, sends: 0, keys: 0, frames: SIZE })
    const media = { 'm-t0': [new Float32Array(SIZE).fill(0.25)], 'm-t1': [new Float32Array(SIZE).fill(0.125)] }
    k.session.channel.t0.soloed = true
    const sum = async (live: boolean) =>
      (await renderTaps(k.session, media, SIZE, { taps: [{ channel: 'main', tap: 'post' }], live })).get(
        'main@post'
      )![0][2000]
    expect(await sum(true)).toBeCloseTo(0.25 * Math.SQRT1_2, 6)
    expect(await sum(false)).toBeCloseTo(0.375 * Math.SQRT1_2, 6)
    k.session.channel.t0.muted = true
    expect(await sum(true)).toBe(0)
  })
})
