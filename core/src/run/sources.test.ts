// Audio for sources against the formula of what a clip plays, however it is asked for and however it arrives.
import { describe, expect, it } from 'vitest'
import { compile } from '../compile/compile'
import { BLOCK, CHUNK, STAGE } from '../plan/operations'
import { heardClips } from '../session/session'
import { Dice } from '../testing/generated'
import { times } from '../testing/lengths'
import { Sketch } from '../testing/sketch'
import { whiteNoise } from '../testing/sound'
import { END_FADE } from './ends'
import { Machine } from './machine'
import type { MediaReader } from './mediaReader'
import { Sources } from './sources'

const FRAMES = 4 * CHUNK

/** Tracks of one to three legs, some with no clips, some with clips that begin, fade and end anywhere. */
function generated(seed: number) {
  const dice = new Dice(seed),
    k = new Sketch(),
    audio = new Map<string, Float32Array[]>()
  k.bus('main', { role: 'main' })
  for (let t = 0; t < 4; t++) {
    const legs = 1 + dice.below(3),
      id = k.track(`t${t}`, k.medium(`m${t}`, legs, FRAMES))
    audio.set(
      `m${t}`,
      Array.from({ length: legs }, (_, i) => whiteNoise(FRAMES, 10 * t + i))
    )
    k.main(id, 'main')
    if (dice.chance(0.3)) continue
    delete k.session.clip[`${id}-clip`]
    for (let c = 0; c < dice.below(5); c++) {
      const frames = 1 + dice.below(FRAMES / 2)
      k.add('clip', {
        id: `c${t}${c}`,
        channel: id,
        medium: `m${t}`,
        name: '',
        startFrame: dice.below(FRAMES),
        offsetFrames: dice.below(FRAMES / 2),
        frames,
        fadeInFrames: dice.chance(0.5) ? 0 : Math.floor(frames * dice.next() * 0.5),
        fadeOutFrames: dice.chance(0.5) ? 0 : Math.floor(frames * dice.next() * 0.5),
        gainDb: dice.pick([0, 0, -6, 3]),
        ...(dice.chance(0.3) && { legMap: Array.from({ length: legs }, () => dice.below(legs + 1) - 1) })
      })
    }
  }
  return { session: k.session, audio, dice }
}
type Generated = ReturnType<typeof generated>

/** What lies in a leg at a frame of source time, in float64. */
function expected({ session, audio }: Generated, channel: string, leg: number, frame: number, end: number): number {
  let sum = 0
  for (const clip of heardClips(session)) {
    if (clip.channel !== channel) continue
    const medium = audio.get(clip.medium)!,
      at = frame - clip.startFrame,
      length = clip.frames ?? FRAMES - clip.offsetFrames
    const from = clip.legMap ? clip.legMap[leg]! : leg
    if (at < 0 || at >= length || from < 0) continue
    const rise = clip.fadeInFrames ? Math.min(1, at / clip.fadeInFrames) : 1,
      fall = clip.fadeOutFrames ? Math.min(1, (length - at) / clip.fadeOutFrames) : 1
    sum += (medium[from]![clip.offsetFrames + at] ?? 0) * 10 ** ((clip.gainDb ?? -Infinity) / 20) * rise * fall
  }
  return sum * Math.min(1, Math.max(0, 1 - (frame - end + 0.5) / END_FADE))
}

function sourcesOf(one: Generated, media: MediaReader) {
  const plan = compile(one.session, { taps: [{ channel: 'main', tap: 'post' }] }),
    machine = new Machine(plan.ops),
    sources = new Sources(plan.sources, media, machine)
  sources.setSession(one.session)
  expect(plan.sources.length).toBeGreaterThan(0)
  /** Every third frame of the block at a frame is what the formula says. */
  function compare(frame: number, end = Infinity) {
    for (const { key, channel } of plan.sources)
      machine.stagingOf(key).forEach((leg, i) => {
        for (let n = 0; n < BLOCK; n += 3) {
          const is = leg[(frame % STAGE) + n]!,
            should = expected(one, channel!, i, frame + n, end)
          if (!(Math.abs(is - should) < 1e-6)) expect(is, `${key}, leg ${i}, frame ${frame + n}`).toBe(should)
        }
      })
  }
  return { sources, compare }
}

const seeds = Array.from({ length: times(8, 100) }, (_, i) => i + 1)

describe('audio for sources', () => {
  it.each(seeds)('is what clips play, until the end: clips of seed %i', seed => {
    const one = generated(seed)
    const { sources, compare } = sourcesOf(one, { read: (m, from, frames) => cut(one, m, from, frames) })
    for (let frame = 0; frame < FRAMES; frame += BLOCK) {
      expect(sources.lay(frame)).toBeUndefined()
      compare(frame)
    }
    const end = one.dice.below(FRAMES)
    sources.endAt(end)
    for (let frame = 0; frame < FRAMES; frame += BLOCK) {
      sources.lay(frame)
      compare(frame, end)
    }
  })

  it.each(seeds)(
    'that comes late, out of turn, or not at first, is asked for once and is never of another time: %i',
    async seed => {
      const one = generated(seed),
        { dice } = one
      const asked: string[] = []
      let late: (() => void)[] = []
      const media: MediaReader = {
        read(medium, from, frames) {
          if (dice.chance(0.3)) return cut(one, medium, from, frames)
          asked.push(`${medium} ${from}`)
          return new Promise((done, fail) => {
            late.push(() => (dice.chance(0.1) ? fail(new Error('not there')) : done(cut(one, medium, from, frames))))
          })
        }
      }
      const { sources, compare } = sourcesOf(one, media)
      /** What is on its way arrives, in any order. */
      const arrive = () => {
        const now = late.sort(() => dice.next() - 0.5)
        late = []
        for (const act of now) act()
      }
      let frame = 0
      for (let n = 0; n < 300; n++) {
        if (dice.chance(0.2)) {
          // Often where the next chunk is near.
          frame = (1 + dice.below(3)) * CHUNK - dice.pick([1, 2, 9]) * BLOCK
          sources.forget()
        }
        for (let coming; (coming = sources.lay(frame));) {
          const before = asked.length
          void sources.lay(frame)?.catch(() => undefined)
          expect(asked.length, 'asked for again').toBe(before)
          arrive()
          await coming.catch(() => undefined)
        }
        compare(frame)
        frame = (frame + BLOCK) % FRAMES
        if (frame === 0) sources.forget()
        // The next is asked for ahead; it may not be wanted any more when it comes.
        if (dice.chance(0.5)) void sources.lay(frame)?.catch(() => undefined)
      }
    }
  )

  it('says what went wrong to whoever waits, and asks again after that', async () => {
    const one = generated(1)
    let works = false
    const { sources, compare } = sourcesOf(one, {
      read: (m, from, frames) =>
        works ? cut(one, m, from, frames) : Promise.reject(new Error('audio could not be read'))
    })
    await expect(sources.lay(0)).rejects.toThrow('audio could not be read')
    works = true
    expect(sources.lay(0)).toBeUndefined()
    compare(0)
  })
})

function cut({ audio }: Generated, medium: string, from: number, frames: number): Float32Array[] {
  return audio.get(medium)!.map(leg => {
    const out = new Float32Array(frames)
    out.set(leg.subarray(from, from + frames))
    return out
  })
}
