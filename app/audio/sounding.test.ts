// A range that repeats: as long as it says, every turn the same, tails ring on over it, memory stays what it was.
import { describe, expect, it } from 'vitest'
import { MemoryMedia } from '@nullet/core/run/memoryMedia'
import { withChanges, type Session } from '@nullet/core/session/session'
import { Sketch } from '@nullet/core/testing/sketch'
import { whiteNoise } from '@nullet/core/testing/sound'
import { Near } from './near'
import type { Range } from './messages'
import { Sounding } from './sounding'

const SECOND = 48000,
  BLOCK = 128
const media = { a: [whiteNoise(6 * SECOND, 1, 0.3)] }

function session(decayS: number | null): Session {
  const k = new Sketch('Turns')
  k.medium('a', 1, 6 * SECOND)
  k.bus('main', { role: 'main' })
  k.main(k.track('one', 'a'), 'main')
  if (decayS) {
    k.bus('room', { role: 'return' })
    k.main('room', 'main')
    k.slot('room', 'reverb', { decayS }, { id: 'hall' })
    k.send('one', 'room', -6)
  }
  k.slot('one', 'compressor', { thresholdDb: -30, lookAheadMs: 5 })
  k.session.session.session = { ...k.session.session.session, heardChannel: 'main' }
  return k.session
}

async function raise(s: Session, from: number, range: Range | null) {
  const memory = new MemoryMedia()
  for (const [id, legs] of Object.entries(media)) memory.set(id, legs)
  const near = new Near(s, memory),
    { heard } = near
  const sounding = new Sounding(
    heard,
    SECOND,
    () => undefined,
    () => false
  )
  await sounding.start(from, range)
  return { near, heard, sounding }
}

/** What goes out from now on, left leg, and the frames at which the range began anew. */
async function hear(sounding: Sounding, frames: number): Promise<{ left: Float32Array; turns: number[] }> {
  const left = new Float32Array(frames),
    turns: number[] = [],
    out: [Float32Array, Float32Array] = [new Float32Array(BLOCK), new Float32Array(BLOCK)]
  for (let at = 0; at < frames; at += BLOCK) {
    const turned = await sounding.next(out)
    if (turned !== null) turns.push(at + turned)
    left.set(out[0].subarray(0, frames - at), at)
  }
  return { left, turns }
}
const energy = (x: Float32Array) => x.reduce((sum, v) => sum + v * v, 0) / x.length
const LENGTH = 10007,
  range = { from: 30011, to: 30011 + LENGTH }

describe('a range that repeats', () => {
  it('begins anew after exactly its length, and begins as it did the first time', async () => {
    const { sounding } = await raise(session(null), range.from, range)
    const { left, turns } = await hear(sounding, 8 * LENGTH - BLOCK)
    expect(turns).toEqual([1, 2, 3, 4, 5, 6, 7].map(n => n * LENGTH))
    // After its rise of 64 frames and the end of the turn before, which fades in 256 and what the look-ahead holds.
    for (const turn of turns.slice(0, -1))
      expect(left.subarray(turn + 1024, turn + LENGTH)).toEqual(left.subarray(1024, LENGTH))
  })

  it('lets tails ring on over the turn: what is heard is the range alone, and what rings of the one before', async () => {
    const s = session(2)
    const { sounding } = await raise(s, range.from, range)
    const { left } = await hear(sounding, 2 * LENGTH)
    // The same without repeating, with nothing after its end: the tail.
    const { heard: once } = await raise(s, range.from, range)
    const tail = await (async () => {
      const skip = (range.from + once.latency) % BLOCK
      const x: number[] = []
      for (let n = 0; n < 2 * LENGTH + BLOCK; n += BLOCK) x.push(...(await once.block())[0]!)
      // The block in which it started had been taken.
      return Float32Array.from(x).subarray(LENGTH - (BLOCK - skip))
    })()
    const sum = Float32Array.from({ length: LENGTH }, (_, n) => {
      const rise = n < 64 ? (n + 0.5) / 64 : 1
      return Math.fround(left[n]! * rise) + tail[n]!
    })
    sum.forEach((v, n) => expect(Math.abs(v - left[LENGTH + n]!)).toBeLessThan(1e-6))
    expect(energy(tail.subarray(2000, 6000))).toBeGreaterThan(1e-6)
  })

  it('computes what rings once, keeps one state, and stays the same for a thousand turns', async () => {
    const short = { from: 4001, to: 4001 + 3000 }
    const { sounding, heard } = await raise(session(0.3), short.from, short)
    const { left: first } = await hear(sounding, 60_000)
    expect(sounding.isRinging).toBe(false)
    const kept = heard.kept
    const { left, turns } = await hear(sounding, 1000 * 3000)
    expect(turns).toHaveLength(1000)
    expect(heard.kept).toBe(kept)
    expect(sounding.isRinging).toBe(false)
    const last = turns.at(-2)!,
      wanted = turns[10]!
    expect(left.subarray(last, last + 3000)).toEqual(left.subarray(wanted, wanted + 3000))
    expect(energy(first)).toBeGreaterThan(0)
  })

  it('begins as the changed session does after a hand has moved', async () => {
    const s = session(0.5)
    const { sounding, near } = await raise(s, range.from, range)
    await hear(sounding, 3 * LENGTH)
    const before = s.channel.one!
    const after = { ...before, levelDb: -6 }
    const changed = withChanges(s, [{ table: 'channel', id: 'one', before, after }])
    expect(near.change(changed, [{ table: 'channel', id: 'one', before, after }])).toBeNull()
    const { left, turns } = await hear(sounding, 16 * LENGTH)
    const [a, b] = [turns[11]!, turns[12]!]
    expect(left.subarray(a, a + LENGTH)).toEqual(left.subarray(b, b + LENGTH))
    const fresh = await raise(changed, range.from, range)
    const { left: wanted } = await hear(fresh.sounding, 8 * LENGTH)
    const late = wanted.subarray(5 * LENGTH, 6 * LENGTH)
    const difference = late.map((v, n) => v - left[a + n]!)
    expect(10 * Math.log10(energy(difference) / energy(late))).toBeLessThan(-60)
  })

  it('is left and taken up without a jump in time when it changes while it sounds', async () => {
    const { sounding } = await raise(session(null), range.from, range)
    await hear(sounding, LENGTH - (LENGTH % BLOCK))
    // The engine is ahead of the end already.
    await sounding.repeat(null)
    const at = sounding.source
    await hear(sounding, 4096)
    expect(sounding.source).toBe(at + 4096)
    expect(sounding.source).toBeGreaterThan(range.to)
    await sounding.repeat({ from: 0, to: sounding.source + 300 })
    const { turns } = await hear(sounding, 1024)
    expect(turns).toEqual([300])
    expect(sounding.source).toBe(724)
  })

  it('ends notes and clips at its end', async () => {
    const k = new Sketch('Notes')
    k.bus('main', { role: 'main' })
    k.main(k.track('keys'), 'main')
    const notes = [
      [0, 64, 60, 100],
      [4, 1, 72, 100]
    ]
    k.add('phrase', { id: 'p', channel: 'keys', voice: 'pad', notes })
    k.session.session.session = { ...k.session.session.session, heardChannel: 'main' }
    const { heard } = await raise(k.session, 0, { from: 0, to: SECOND })
    const x: number[] = []
    for (let n = 0; n < 6 * SECOND; n += BLOCK) x.push(...(await heard.block())[0]!)
    expect(energy(Float32Array.from(x.slice(0, SECOND)))).toBeGreaterThan(1e-5)
    expect(energy(Float32Array.from(x.slice(4 * SECOND)))).toBe(0)
  })
})
