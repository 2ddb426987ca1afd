import { describe, expect, it } from 'vitest'
import { renderTaps } from '../testing/sound'
import type { Session } from '../session/session'
import { Sketch } from '../testing/sketch'
import { applyEdit } from './apply'

const FRAMES = 2000
/** Sample n is n, so that what plays where can be read. */
const ramp = Float32Array.from({ length: FRAMES }, (_, n) => n)
function session(startFrame = 500): Session {
  const k = new Sketch('Crop')
  k.bus('main', { role: 'main' })
  k.medium('m', 1, FRAMES)
  k.track('a', 'm', { layout: ['M'] })
  k.main('a', 'main')
  k.session.clip['a-clip'] = { ...k.session.clip['a-clip']!, startFrame }
  return k.session
}
const step = (s: Session, verb: string, args: object) => applyEdit(s, { verb, args }).session
const heard = async (s: Session) =>
  (await renderTaps(s, { m: [ramp] }, 6000, { taps: [{ channel: 'a', tap: 'post' }] })).get('a@post')![0]!

describe('a clip', () => {
  it('that is cropped plays the same samples at the same time, and silence elsewhere', async () => {
    const before = await heard(session())
    const after = await heard(step(session(), 'cropClips', { ids: ['a-clip'], from: 1000, to: 1800 }))
    expect(after).toEqual(before.map((x, n) => (n >= 1000 && n < 1800 ? x : 0)))
  })

  it('fades where it is cut, and only there', async () => {
    const s = step(session(), 'cropClips', { ids: ['a-clip'], from: 0, to: 1800, fadeFrames: 100 })
    expect(s.clip['a-clip']).toMatchObject({ startFrame: 500, frames: 1300, fadeInFrames: 0, fadeOutFrames: 100 })
    const after = await heard(s)
    expect([after[1600], after[1799]! < 30, after[1800]]).toEqual([1100, true, 0])
  })

  it('that was cropped twice is whole again by one verb', () => {
    const once = step(session(), 'cropClips', { ids: ['a-clip'], from: 700, to: 1900, fadeFrames: 9 })
    const twice = step(once, 'cropClips', { ids: ['a-clip'], from: 900, to: 1200, fadeFrames: 9 })
    expect(twice.clip['a-clip']).toMatchObject({ startFrame: 900, offsetFrames: 400, frames: 300 })
    expect(step(twice, 'wholeClips', { ids: ['a-clip'] })).toEqual(session())
  })

  it('is repeated without a gap', async () => {
    const cropped = step(session(), 'cropClips', { ids: ['a-clip'], from: 600, to: 900 })
    const after = await heard(step(cropped, 'repeatClip', { id: 'a-clip', copies: ['b', 'c'] }))
    expect([600, 899, 900, 1199, 1200, 1499].map(n => after[n])).toEqual([100, 399, 100, 399, 100, 399])
    expect([after[599], after[1500]]).toEqual([0, 0])
  })

  it('is not cropped to where it plays nothing', () => {
    expect(() => step(session(), 'cropClips', { ids: ['a-clip'], from: 0, to: 500 })).toThrow(
      'plays nothing in that range'
    )
  })
})
