import { describe, expect, it } from 'vitest'
import { applyEdit } from '../edits/apply'
import { compile } from '../compile/compile'
import { MemoryMedia } from '../run/memoryMedia'
import { PlanStream } from '../run/stream'
import { Sketch } from '../testing/sketch'
import { RATE, sine } from '../testing/sound'
import { measureSides } from './sides'

const FRAMES = 2 * RATE

it('sides are as loud as they are by themselves, and apart by what was done between them', async () => {
  const k = new Sketch()
  k.medium('a', 1, FRAMES)
  k.bus('main', { role: 'main' })
  k.main(k.track('one', 'a', { layout: ['M'] }), 'main')
  const media = new MemoryMedia()
  media.set('a', [sine(FRAMES, 1000, 0.25)])
  const at = (levelDb: number) => {
    const { session } = applyEdit(k.session, { verb: 'setChannels', args: { ids: ['one'], fields: { levelDb } } })
    return new PlanStream(compile(session, { taps: [{ channel: 'main', tap: 'post' }] }), session, media)
  }
  const shares: number[] = []
  const { lufs, apartDb } = await measureSides([at(0), at(-6), at(0)], 'main@post', { from: 0, frames: FRAMES }, RATE, {
    progress: share => shares.push(share)
  })
  expect(lufs[0]! - lufs[1]!).toBeCloseTo(6, 2)
  expect(lufs[2]).toBe(lufs[0])
  expect(apartDb[0]![2]).toBe(-Infinity)
  // Of the quieter one, what the louder has more: (1 − 10^(−6/20)) / 10^(−6/20).
  const less = 10 ** (-6 / 20)
  expect(apartDb[0]![1]).toBeCloseTo(20 * Math.log10((1 - less) / less), 2)
  expect(apartDb[1]![0]).toBe(apartDb[0]![1])
  expect(shares.at(-1)).toBeCloseTo(1, 1)
})

describe('one side', () => {
  it('is apart from nothing', async () => {
    const k = new Sketch()
    k.bus('main', { role: 'main' })
    const stream = new PlanStream(
      compile(k.session, { taps: [{ channel: 'main', tap: 'post' }] }),
      k.session,
      new MemoryMedia()
    )
    expect(await measureSides([stream], 'main@post', { from: 0, frames: 5000 }, RATE)).toEqual({
      lufs: [-Infinity],
      apartDb: [[-Infinity]]
    })
  })
})
