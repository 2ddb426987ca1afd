// Moving gain between what feeds a bus and the bus: what leaves the bus, and all else that is heard, stays the same.
import { describe, expect, it } from 'vitest'
import { difference, renderTaps, rmsDb, whiteNoise } from '../testing/sound'
import { Refusal } from '../foundation/refusal'
import { Dice } from '../testing/generated'
import { Sketch } from '../testing/sketch'
import { rows, type Session } from '../session/session'
import { applyEdit } from './apply'

const FRAMES = 16384

/** A bus with a compressor before and one after its fader, fed in every way, and taps that leave it in every way. */
function busy(): Sketch {
  const k = new Sketch()
  k.bus('main', { role: 'main' })
  k.bus('hall', { role: 'return' })
  k.bus('drums', { levelDb: -2 })
  k.bus('other')
  k.bus('pre')
  for (const b of ['hall', 'drums', 'other', 'pre']) k.main(b, 'main')
  for (const id of ['low', 'edge', 'wide', 'far', 'near']) {
    k.medium(`m-${id}`, 1, FRAMES)
    k.track(id, `m-${id}`, { levelDb: -4 })
  }
  k.main('low', 'drums')
  k.main('edge', 'drums')
  k.main('wide', 'drums', { tap: 'pre' })
  k.main('far', 'main')
  k.main('near', 'main')
  k.main('low', 'other')
  k.send('far', 'drums', -9)
  k.send('low', 'hall', -8)
  k.send('edge', 'hall', -6, 'pre')
  k.send('drums', 'hall', -10)
  k.send('drums', 'pre', -3, 'pre')
  k.send('drums', 'pre', -5, 'input')
  k.slot('edge', 'compressor', { thresholdDb: -30, ratio: 4 }, { afterFader: true })
  k.slot('drums', 'compressor', { thresholdDb: -24, ratio: 4, attackMs: 2 })
  k.slot('drums', 'equaliser', { kind1: 'bell', hz1: 1000, db1: 4 })
  k.slot('drums', 'compressor', { thresholdDb: -18 }, { afterFader: true })
  const keyed = k.slot('near', 'compressor', { thresholdDb: -30 })
  k.key('low', keyed, 'post')
  k.key('drums', keyed, 'pre')
  return k
}
const media = Object.fromEntries(
  ['low', 'edge', 'wide', 'far', 'near'].map((id, i) => [`m-${id}`, [whiteNoise(FRAMES, i + 1, 0.4)]])
)
const TAPS = ['main', 'hall', 'other', 'pre', 'drums', 'near'].map(channel => ({ channel, tap: 'post' as const }))
const move = (s: Session, args: object) => applyEdit(s, { verb: 'moveGain', args: { bus: 'drums', ...args } })

async function residual(a: Session, b: Session): Promise<number> {
  const [x, y] = await Promise.all([a, b].map(s => renderTaps(s, media, FRAMES, { taps: TAPS })))
  return Math.max(...[...x.keys()].flatMap(tap => x.get(tap)!.map((leg, i) => rmsDb(difference(leg, y.get(tap)![i])))))
}

describe('moving gain between what feeds a bus and the bus', () => {
  it.each([
    [6, 'level'],
    [-6, 'level'],
    [9.5, 'trim'],
    [-3, 'trim']
  ])('by %d dB into its %s leaves everything as it was', async (byDb, into) => {
    const { session } = busy()
    const { session: moved, label } = move(session, { byDb, into })
    expect(label).toMatch(/Move .* dB (into|out of) “drums”/)
    expect(moved.channel.low.levelDb).toBeCloseTo(-4 - byDb, 9)
    expect(await residual(session, moved)).toBeLessThan(-125)
  })

  it('there and back is what it was', () => {
    const { session } = busy()
    const back = move(move(session, { byDb: 5 }).session, { byDb: -5 }).session
    for (const c of rows(session, 'channel')) expect(back.channel[c.id].levelDb).toBeCloseTo(c.levelDb!, 9)
    for (const f of rows(session, 'feed')) expect(back.feed[f.id].levelDb).toBeCloseTo(f.levelDb!, 9)
    for (const s of rows(session, 'slot'))
      if (s.params.thresholdDb !== undefined)
        expect(back.slot[s.id].params.thresholdDb).toBeCloseTo(s.params.thresholdDb as number, 9)
  })

  it('by any amount, on random levels, nulls', async () => {
    const dice = new Dice(11)
    for (let i = 0; i < 6; i++) {
      const { session } = busy()
      for (const c of rows(session, 'channel')) c.levelDb = -dice.below(20)
      for (const f of rows(session, 'feed')) f.levelDb = -dice.below(12)
      expect(
        await residual(
          session,
          move(session, { byDb: dice.below(200) / 10 - 10, into: dice.pick(['level', 'trim']) }).session
        )
      ).toBeLessThan(-120)
    }
  })

  it('would be heard if thresholds did not follow: the test can fail', async () => {
    const { session } = busy()
    const moved = structuredClone(move(session, { byDb: 6 }).session)
    for (const s of rows(session, 'slot')) moved.slot[s.id].params = s.params
    expect(await residual(session, moved)).toBeGreaterThan(-60)
  })

  it('is refused where it could not be the same, and says why', () => {
    const refused = (change: (s: Session) => void, args: object) => {
      const { session } = busy()
      change(session)
      try {
        move(session, args)
      } catch (e) {
        return (e as Refusal).message
      }
      return 'was not refused'
    }
    expect(
      refused(
        s => {
          s.channel.drums.levelDb = null
        },
        { byDb: 3 }
      )
    ).toMatch(/level of “drums” is at −∞/)
    expect(
      refused(
        s => {
          Object.values(s.slot).find(x => x.channel === 'drums')!.params.thresholdDb = -78
        },
        { byDb: 10 }
      )
    ).toMatch(/Threshold of compressor on “drums” would have to be -88/)
    expect(
      refused(
        s => {
          for (const f of rows(s, 'feed')) if (f.to === 'drums') delete s.feed[f.id]
        },
        { byDb: 3 }
      )
    ).toMatch(/Nothing feeds “drums”/)
    expect(refused(() => {}, { byDb: 3, bus: 'nowhere' })).toMatch(/not in this session/)
  })
})
