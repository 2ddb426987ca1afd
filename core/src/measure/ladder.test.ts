// The level ladder against what a sine must be at every point, and trims against their targets.
import { describe, expect, it } from 'vitest'
import { applyEdit } from '../edits/apply'
import { MemoryMedia } from '../run/memoryMedia'
import type { Params } from '../session/rows'
import type { Session } from '../session/session'
import { Sketch } from '../testing/sketch'
import { RATE, sine } from '../testing/sound'
import { firstClip, ladder, trimTo, type Rung } from './ladder'

const FRAMES = 2 * RATE
const RANGE = { from: RATE / 2, frames: RATE }

/** A sine of so many dBFS through a loop of units one after the other; ports at +18 dBu out and +15 dBu in. */
function room(db: number, units: [string, Params][], loop: Record<string, unknown> = {}) {
  const k = new Sketch('Room')
  k.rig('r')
  k.interface('io', 'r', 2, 2, { noiseDbfs: null, dcCornerHz: null })
  k.session.port['io-in-1']!.referenceDbu = 15
  units.forEach(([model, settings], i) => {
    k.unit(`u${i}`, 'r', model, settings, { name: `Unit ${i + 1}` })
    k.cable('r', i ? `u${i - 1}:0` : 'io-out-1', `u${i}:0`)
  })
  k.cable('r', `u${units.length - 1}:0`, 'io-in-1')
  k.add('loop', { id: 'l', rig: 'r', name: 'Loop', outPorts: ['io-out-1'], inPorts: ['io-in-1'], ...loop })
  k.medium('m', 1, FRAMES)
  k.track('t', 'm')
  k.slot('t', 'loop', {}, { loop: 'l' })
  const media = new MemoryMedia().set('m', [sine(FRAMES, 1000, 10 ** (db / 20))])
  return { session: k.session, media }
}
const climb = ({ session, media }: { session: Session; media: MemoryMedia }) =>
  ladder(session, media, session.loop.l!, RANGE)
const by = (rungs: Rung[], key: string) => rungs.find(r => r.key === key)!

describe('a ladder', () => {
  it('has every point from the port out to the return, in order, with what a sine is there', async () => {
    const rungs = await climb(
      room(
        -20,
        [
          ['passive-equaliser', {}],
          ['wire', {}]
        ],
        { sendDb: -2, returnDb: 6 }
      )
    )
    expect(rungs.map(r => r.name)).toEqual([
      'Out 1',
      'Unit 1, In left',
      'Unit 1, Out left',
      'Unit 2, In 1',
      'Unit 2, Out 1',
      'In 1',
      'Return'
    ])
    const close = (got: number, wanted: number) => expect(Math.abs(got - wanted)).toBeLessThan(0.05)
    const out = by(rungs, 'port/io-out-1')
    close(out.dbfs!.peak, -22)
    close(out.dbfs!.rms, -22 - 3.01)
    close(out.dbu!.peak, -4)
    close(out.dbu!.rms, -4)
    close(out.headroomDb, 22)
    close(by(rungs, 'unit/u0/0').dbu!.rms, -4)
    close(by(rungs, 'unit/u0/0').headroomDb, 26 + 4)
    close(by(rungs, 'jack/u0/0').dbu!.rms, -20)
    close(by(rungs, 'unit/u1/0').dbu!.peak, -20)
    expect(by(rungs, 'unit/u1/0').headroomDb).toBe(Infinity)
    close(by(rungs, 'port/io-in-1').dbfs!.peak, -35)
    close(by(rungs, 'return/io-in-1').dbfs!.peak, -29)
    expect(firstClip(rungs)).toBeUndefined()
  })

  it('names the first point that clips: an input of a unit before the converter behind it', async () => {
    const hot = await climb(room(6, [['tube-amplifier', { microphoneDb: 20 }]]))
    expect(firstClip(hot)!.name).toBe('Out 1')
    const hard = room(-1, [['spring', {}]])
    hard.session.port['io-out-1']!.referenceDbu = 30
    expect(firstClip(await climb(hard))!.name).toBe('Unit 1, In')
    const amp = await climb(room(-2, [['tube-amplifier', { microphoneDb: 25 }]]))
    expect(firstClip(amp)!.name).toBe('In 1')
    expect(firstClip(amp)!.headroomDb).toBeLessThan(-1)
  })

  it('shows both sides of a pair, and silence behind a unit that is off', async () => {
    const { session, media } = room(-20, [['valve-compressor', {}]])
    const k = session as Session
    k.unit.u0!.powered = false
    const rungs = await ladder(k, media, k.loop.l!, RANGE)
    expect(by(rungs, 'port/io-out-1').dbfs!.peak).toBeCloseTo(-20, 1)
    expect(by(rungs, 'port/io-in-1').dbfs!.peak).toBe(-Infinity)
    expect(by(rungs, 'jack/u0/0').dbu!.peak).toBe(-Infinity)
  })

  it('of a loop that waits for a slot is silent, and no failure', async () => {
    const { session, media } = room(-20, [['wire', {}]])
    delete session.slot[Object.keys(session.slot)[0]!]
    expect((await ladder(session, media, session.loop.l!, RANGE)).map(r => r.dbfs?.peak ?? -Infinity)).toEqual(
      new Array(5).fill(-Infinity)
    )
  })
})

describe('a way between port feeds and input feeds', () => {
  /** The same room re-amped: the track's input tap to the port, another track listens to the return. */
  function feeds() {
    const { session, media } = room(-20, [['tube-amplifier', { driveDb: 3 }]])
    const k = new Sketch()
    Object.assign(k.session, session)
    for (const id of Object.keys(k.session.slot)) delete k.session.slot[id]
    k.track('amp', undefined, { listen: 'feed' })
    k.add('feed', { id: 'out', kind: 'port', from: 't', ports: ['io-out-1'], tap: 'input', levelDb: -4 })
    k.add('feed', { id: 'back', kind: 'input', to: 'amp', ports: ['io-in-1'], levelDb: 6 })
    return { session: k.session, media }
  }
  it('has the same ladder, and its feeds are what a trim moves', async () => {
    const start = feeds()
    const rungs = await climb(start)
    expect(by(rungs, 'port/io-out-1').dbfs!.peak).toBeCloseTo(-24, 1)
    expect(by(rungs, 'return/io-in-1').dbfs!.rms - by(rungs, 'port/io-in-1').dbfs!.rms).toBeCloseTo(6, 6)
    for (const [key, field] of [
      ['unit/u0/0', 'out'],
      ['return/io-in-1', 'back']
    ] as const) {
      const target = { key, by: 'rms' as const, level: -12 }
      const trim = await trimTo(start.session, start.media, start.session.loop.l!, RANGE, target)
      const { session, changes } = applyEdit(start.session, trim.edit!)
      expect(changes.map(c => c.id)).toEqual([field])
      const reached = by(await climb({ session, media: start.media }), key)
      expect((reached.dbu ?? reached.dbfs)!.rms).toBeCloseTo(-12, 1)
    }
  })
})

describe('a trim to a target', () => {
  const trimmed = async (start: ReturnType<typeof room>, target: Parameters<typeof trimTo>[4]) => {
    const trim = await trimTo(start.session, start.media, start.session.loop.l!, RANGE, target)
    const session = trim.edit ? applyEdit(start.session, trim.edit).session : start.session
    return { trim, session, rungs: await climb({ session, media: start.media }) }
  }
  it.each([
    ['dBu RMS at a jack', 'unit/u0/0', 'rms', -16, 'dbu'],
    ['dBu of the peak at a jack', 'unit/u0/0', 'peak', 4, 'dbu'],
    ['dBFS at the converter, behind a stage that bends', 'port/io-in-1', 'peak', -12, 'dbfs'],
    ['dBFS RMS of the return', 'return/io-in-1', 'rms', -18, 'dbfs']
  ] as const)('%s is reached within 0.1 dB', async (_, key, measure, level, unit) => {
    const { trim, rungs, session } = await trimmed(room(-20, [['tube-amplifier', { driveDb: 3 }]]), {
      key,
      by: measure,
      level
    })
    expect(trim.note).toBe('')
    expect(Math.abs(by(rungs, key)[unit]![measure] - level)).toBeLessThan(0.1)
    expect(session.loop.l!.sendDb === 0).toBe(key.startsWith('return/'))
  })

  it('that cannot be reached says why, and moves no further than 40 dB', async () => {
    const low = await trimmed(room(-90, [['wire', {}]]), { key: 'unit/u0/0', by: 'peak', level: 18 })
    expect(low.trim.note).toMatch(/more than 40 dB/)
    expect(low.trim.byDb).toBe(40)
    const none = room(-20, [['tube-amplifier', {}]])
    none.session.unit.u0!.powered = false
    expect((await trimmed(none, { key: 'port/io-in-1', by: 'rms', level: -20 })).trim).toMatchObject({
      edit: null,
      note: 'nothing arrives there in this range'
    })
  })
})
