import { describe, expect, it } from 'vitest'
import { runChecks } from '../checks/table'
import { applyEdit } from '../edits/apply'
import { renderTaps, whiteNoise } from '../testing/sound'
import { Sketch } from '../testing/sketch'
import type { Session } from '../session/session'
import { blendEdit, dryId, mayBlend, wetShare } from './blend'
import { staleParts } from './stale'

const FRAMES = 4096
const dry = whiteNoise(FRAMES, 1, 0.2),
  wet = whiteNoise(FRAMES, 2, 0.2)
/** A track with an effect, printed at this tap, its print in its place. */
function printed(tap: 'pre' | 'post', sourceDb = -6): Session {
  const k = new Sketch('Blend')
  k.bus('main', { role: 'main' })
  k.medium('m', 1, FRAMES, { sha256: 'm' })
  k.medium('w', 1, FRAMES, { sha256: 'w' })
  k.track('kora', 'm', { name: 'Kora', layout: ['M'], levelDb: sourceDb, muted: true })
  k.slot('kora', 'reverb')
  k.track('print', 'w', { name: 'Kora print', layout: ['M'], levelDb: tap === 'post' ? 0 : sourceDb })
  k.main('kora', 'main')
  k.main('print', 'main')
  k.add('print', {
    id: 'p',
    channel: 'print',
    source: 'kora',
    tap,
    takesOver: true,
    clip: 'print-clip',
    frames: FRAMES
  })
  return k.session
}
const blended = (s: Session, share: number) => applyEdit(s, blendEdit(s, s.print.p!, share, 'zz')).session
const heard = async (s: Session) =>
  (await renderTaps(s, { m: [dry], w: [wet] }, FRAMES, { taps: [{ channel: 'main', tap: 'post' }] })).get('main@post')!

describe('a wet print beside its dry track', () => {
  it.each(['pre', 'post'] as const)('is both by their shares, at the level of the source: %s', async tap => {
    for (const share of [0, 0.25, 0.5, 1]) {
      const s = blended(printed(tap), share)
      expect(wetShare(s, s.print.p!)).toBeCloseTo(share, 3)
      const all = (await heard(printed(tap)))[0]!,
        out = (await heard(s))[0]!
      const gain = 10 ** (-6 / 20)
      for (let n = 0; n < FRAMES; n += 100) {
        const scale = all[n]! / wet[n]!
        const source = tap === 'post' ? gain : 1
        expect(out[n]).toBeCloseTo(scale * (wet[n]! * share + dry[n]! * source * (1 - share)), 3)
      }
    }
  })

  it('keeps the print as fresh as it was, doubles nothing, and moves with one balance', () => {
    const s = blended(printed('pre'), 0.5),
      before = printed('pre')
    expect(staleParts(s, 'p')).toEqual(staleParts(before, 'p'))
    expect(runChecks(s).filter(f => f.check === 'heardTwice')).toEqual([])
    expect(Object.values(s.slot).filter(slot => slot.channel === dryId('p'))).toEqual([])
    const moved = blended(s, 0.8)
    expect(Object.keys(moved.channel)).toEqual(Object.keys(s.channel))
    expect(wetShare(moved, moved.print.p!)).toBeCloseTo(0.8, 3)
  })

  it('is offered for tracks that play something, and prints that stand in their place', () => {
    const s = printed('pre')
    expect(mayBlend(s, s.print.p!)).toBe(true)
    expect(mayBlend(s, { ...s.print.p!, takesOver: false })).toBe(false)
    expect(mayBlend(s, { ...s.print.p!, source: 'main' })).toBe(false)
    expect(mayBlend({ ...s, clip: {} }, s.print.p!)).toBe(false)
    expect(wetShare(s, s.print.p!)).toBeNull()
  })
})
