// Re-amping: what the one step builds, measured by sound.
import { describe, expect, it } from 'vitest'
import { applyEdit } from '../edits/apply'
import { putBack } from '../checks/putBack'
import { Network } from '../graph/network'
import { firstBreach } from '../invariants'
import { rows, type Session } from '../session/session'
import { Sketch } from '../testing/sketch'
import { RATE, renderTaps, rmsDb, sine } from '../testing/sound'
import { reampEdit, reampWays, whatIsMissing, type ReampWay } from './reamp'

const FRAMES = RATE
/** A DI with a virtual amplifier and its fader down, a voice, a main; a rig of an amplifier, a plate and a free out. */
function start(): Sketch {
  const k = new Sketch()
  k.bus('main', { role: 'main', name: 'Main' })
  k.medium('di', 1, FRAMES)
  k.medium('voice', 1, FRAMES)
  k.main(k.track('di', 'di', { name: 'DI', muted: true, levelDb: -20, family: 'Plucked', colour: 4 }), 'main')
  k.slot('di', 'saturation', { driveDb: 30 })
  k.main(k.track('voice', 'voice'), 'main')
  k.rig('r', { name: 'Loft' })
  k.interface('io', 'r', 4, 4, { noiseDbfs: null, dcCornerHz: null })
  k.unit('amp', 'r', 'wire', {}, { name: 'Amplifier' })
  k.unit('plate', 'r', 'plate', {}, { name: 'Plate' })
  k.cable('r', 'io-out-1', 'amp:0')
  k.cable('r', 'amp:0', 'io-in-1')
  k.cable('r', 'io-out-2', 'plate:0')
  k.cable('r', 'plate:0', 'io-in-2')
  k.cable('r', 'plate:1', 'io-in-3')
  return k
}
const audio = { di: [sine(FRAMES, 1000, 0.25)], voice: [sine(FRAMES, 3000, 0.25)] }
const way = (s: Session, through: string): ReampWay => reampWays(s, 'r', 'di').find(w => w.through === through)!
function reamped(s: Session, through: string, muteDi = true, sourceDbu: number | null = null) {
  let n = 0
  const edit = reampEdit(s, {
    track: 'di',
    way: way(s, through),
    name: 'DI amp',
    muteDi,
    sourceDbu,
    newId: () => `new${++n}`,
    order: 'zz'
  })
  return applyEdit(s, edit)
}
const printOf = (s: Session) => rows(s, 'channel').find(c => c.name === 'DI amp')!
async function heard(s: Session, channel: string, hz: number): Promise<number> {
  const [x] = (await renderTaps(s, audio, FRAMES, { taps: [{ channel, tap: 'post' }] })).get(`${channel}@post`)!
  let re = 0,
    im = 0
  for (let n = FRAMES / 2; n < FRAMES; n++) {
    re += x![n]! * Math.cos((2 * Math.PI * hz * n) / RATE)
    im += x![n]! * Math.sin((2 * Math.PI * hz * n) / RATE)
  }
  return 20 * Math.log10((Math.hypot(re, im) * 4) / FRAMES + 1e-12)
}

describe('the ways of a rig', () => {
  it('are its ports out that lead through units and back; ports without cables are none', () => {
    const s = start().session
    expect(reampWays(s, 'r', 'di')).toEqual([
      { out: 'io-out-1', ins: ['io-in-1'], through: 'Amplifier', dead: null, refused: undefined },
      { out: 'io-out-2', ins: ['io-in-2', 'io-in-3'], through: 'Plate', dead: null, refused: undefined }
    ])
    expect(whatIsMissing(s, 'r', reampWays(s, 'r', 'di'))).toBeNull()
  })

  it('that are taken say by whom: a plugged loop, a main that plays into the same unit, the track itself', () => {
    const k = start()
    k.add('loop', { id: 'l', rig: 'r', name: 'Insert', outPorts: ['io-out-1'], inPorts: ['io-in-1'] })
    k.slot('voice', 'loop', {}, { loop: 'l' })
    k.add('feed', { id: 'f', kind: 'port', from: 'main', ports: ['io-out-2'] })
    expect(way(k.session, 'Amplifier').refused).toBe('loop “Insert” on “voice” has its ports: use another pass')
    expect(way(k.session, 'Plate').refused).toBe('“Main” goes to Out 2: it would be in the unit too')
    expect(whatIsMissing(k.session, 'r', reampWays(k.session, 'r', 'di'))).toMatch(/^Every way out of Loft is taken/)
    expect(way(reamped(start().session, 'Plate').session, 'Plate').refused).toBe('it is re-amped there already')
  })

  it('of another rig than the one that is worked in are refused: nothing would come back', () => {
    const k = start()
    k.rig('other', { name: 'Dome' })
    k.session.session.session!.rig = 'other'
    expect(way(k.session, 'Amplifier').refused).toBe('this session works in “Dome”')
    k.session.session.session!.rig = 'r'
    expect(way(k.session, 'Amplifier').refused).toBeUndefined()
  })

  it('keep the sides of a unit apart whose wires are: each out comes back at its own in', () => {
    const k = start()
    k.cable('r', 'io-out-3', 'amp:1')
    k.cable('r', 'amp:1', 'io-in-4')
    expect(reampWays(k.session, 'r', 'di').map(w => [w.out, w.ins])).toEqual([
      ['io-out-1', ['io-in-1']],
      ['io-out-2', ['io-in-2', 'io-in-3']],
      ['io-out-3', ['io-in-4']]
    ])
    k.add('feed', { id: 'f', kind: 'port', from: 'main', ports: ['io-out-3'] })
    expect(way(k.session, 'Amplifier').refused).toBeUndefined()
  })

  it('that lack something say what: the way back, or any cable at all', () => {
    const k = start()
    for (const c of rows(k.session, 'cable')) if (c.toPort) delete k.session.cable[c.id]
    expect(way(k.session, 'Amplifier').refused).toBe('no cable leads from Amplifier back to a port')
    for (const c of rows(k.session, 'cable')) delete k.session.cable[c.id]
    expect(whatIsMissing(k.session, 'r', reampWays(k.session, 'r', 'di'))).toMatch(
      /has 4 free outs, and none leads into a unit/
    )
  })
})

describe('a switch that is turned for it', () => {
  function digital(): Sketch {
    const k = start()
    k.unit('model', 'r', 'modelling-processor', { input: 'digital' }, { name: 'Processor' })
    k.cable('r', 'io-out-4', 'model:0')
    k.cable('r', 'model:0', 'io-in-4')
    return k
  }
  const unit = (s: Session) => s.unit.model!
  it('is remembered as it stood, asked back, and put back or left so', () => {
    const { session } = reamped(digital().session, 'Processor')
    expect(unit(session)).toMatchObject({ settings: { input: 'instrument' }, putBack: { input: 'digital' } })
    const [finding] = putBack.find(session, new Network(session), {} as never)
    expect(finding!.sentence).toBe('Input of Processor stands at instrument; before it was digital.')
    const [back, leave] = finding!.fixes.map(f => applyEdit(session, f.edit).session)
    expect(unit(back!)).toMatchObject({ settings: { input: 'digital' }, putBack: {} })
    expect(unit(leave!)).toMatchObject({ settings: { input: 'instrument' }, putBack: {} })
    for (const s of [back!, leave!]) expect(putBack.find(s, new Network(s), {} as never)).toEqual([])
  })
  it('a second re-amp does not forget how it stood before the first', () => {
    const k = digital()
    k.session.unit.model!.putBack = { input: 'digital', preset: 'Wide bell' }
    expect(unit(reamped(k.session, 'Processor').session).putBack).toEqual({ input: 'digital', preset: 'Wide bell' })
  })
  it('is not asked for where it stands as it stood', () => {
    const k = digital()
    k.session.unit.model!.putBack = { input: 'digital' }
    expect(putBack.find(k.session, new Network(k.session), {} as never)).toEqual([])
  })
})

describe('the one step', () => {
  it('sends the recorded DI alone: not its slots, its fader, its mute, nor the rest of the mix', async () => {
    const { session } = reamped(start().session, 'Amplifier')
    expect(firstBreach(session)).toBeNull()
    const print = printOf(session)
    expect(print).toMatchObject({ kind: 'track', layout: ['M'], listen: 'feed', family: 'Plucked', colour: 4 })
    expect(await heard(session, print.id, 1000)).toBeCloseTo(20 * Math.log10(0.25), 1)
    expect(await heard(session, print.id, 3000)).toBeLessThan(-90)
    // No harmonic of the virtual amplifier in the DI's slots.
    expect(await heard(session, print.id, 5000)).toBeLessThan(-90)
    // Heard once in the main, in the middle: the DI itself is silent.
    expect(await heard(session, 'main', 1000)).toBeCloseTo(20 * Math.log10(0.25 * Math.SQRT1_2), 1)
  })

  it('leaves the DI as it is where that is wished, and takes a pair back as stereo', async () => {
    const k = start()
    k.session.channel.di!.muted = false
    const { session } = reamped(k.session, 'Plate', false)
    expect(session.channel.di!.muted).toBe(false)
    const print = printOf(session)
    expect(print.layout).toEqual(['L', 'R'])
    const both = (await renderTaps(session, audio, FRAMES, { taps: [{ channel: print.id, tap: 'post' }] })).get(
      `${print.id}@post`
    )!
    for (const side of both) expect(rmsDb(side.subarray(FRAMES / 2))).toBeGreaterThan(-60)
  })

  it('goes where the DI goes, to all of its mains, and the step is undone as one', () => {
    const k = start()
    k.bus('second', { role: 'main' })
    k.main('di', 'second')
    const { session, changes } = reamped(k.session, 'Amplifier')
    const print = printOf(session)
    expect(
      rows(session, 'feed')
        .filter(f => f.from === print.id)
        .map(f => f.to)
        .sort()
    ).toEqual(['main', 'second'])
    expect(changes.every(c => c.before === null || c.table === 'channel')).toBe(true)
  })

  it('makes a loop of the way so that it can be pinged, once, and switches on what is off', () => {
    const k = start()
    k.session.unit.plate!.powered = false
    expect(way(k.session, 'Plate').dead?.reason).toBe('Plate is off')
    const once = reamped(k.session, 'Plate').session
    expect(once.unit.plate!.powered).toBe(true)
    expect(rows(once, 'loop')).toMatchObject([
      { name: 'DI amp', outPorts: ['io-out-2'], inPorts: ['io-in-2', 'io-in-3'] }
    ])
    k.add('loop', { id: 'mine', rig: 'r', name: 'Mine', outPorts: ['io-out-1'], inPorts: ['io-in-1'] })
    expect(rows(reamped(k.session, 'Amplifier').session, 'loop').map(l => l.id)).toEqual(['mine'])
  })
})

describe('three at once', () => {
  it('through three units onto six return legs: one pass has the same samples as three', async () => {
    const k = new Sketch()
    k.bus('main', { role: 'main' })
    k.rig('r')
    k.interface('io', 'r', 3, 6)
    const models = ['plate', 'modelling-processor', 'plate']
    const media: Record<string, Float32Array[]> = {}
    models.forEach((model, i) => {
      k.medium(`m${i}`, 1, FRAMES)
      media[`m${i}`] = [sine(FRAMES, 300 * (i + 1), 0.2)]
      k.main(k.track(`di${i}`, `m${i}`), 'main')
      k.unit(`u${i}`, 'r', model)
      k.cable('r', `io-out-${i + 1}`, `u${i}:0`)
      for (const side of [0, 1]) k.cable('r', `u${i}:${side}`, `io-in-${2 * i + side + 1}`)
    })
    let s: Session = k.session,
      n = 0
    models.forEach((_, i) => {
      const free = reampWays(s, 'r', `di${i}`).find(w => w.out === `io-out-${i + 1}`)!
      expect(free.refused).toBeUndefined()
      s = applyEdit(
        s,
        reampEdit(s, {
          track: `di${i}`,
          way: free,
          name: `back ${i}`,
          muteDi: true,
          sourceDbu: null,
          newId: () => `id${++n}`,
          order: `z${i}`
        })
      ).session
    })
    const backs = rows(s, 'channel').filter(c => c.name.startsWith('back'))
    expect(backs.map(b => b.layout)).toEqual([
      ['L', 'R'],
      ['L', 'R'],
      ['L', 'R']
    ])
    const taps = backs.map(b => ({ channel: b.id, tap: 'post' as const }))
    const together = await renderTaps(s, media, FRAMES, { taps, seed: 7 })
    for (const tap of taps) {
      const alone = await renderTaps(s, media, FRAMES, { taps: [tap], seed: 7 })
      const name = `${tap.channel}@post`
      expect(together.get(name)).toEqual(alone.get(name))
      for (const leg of together.get(name)!) expect(rmsDb(leg.subarray(FRAMES / 2))).toBeGreaterThan(-70)
    }
  })
})

describe('the voltage of a DI', () => {
  it.each([
    [null, 0],
    [18, 0],
    [12, -6],
    [4, -14]
  ])('0 dBFS of %s dBu leaves a port of +18 dBu by %s dB, measured at the return of a wire', async (dbu, db) => {
    const k = start()
    const { session } = reamped(k.session, 'Amplifier', true, dbu)
    expect(session.channel.di!.sourceDbu).toBe(dbu)
    const known = await heard(reamped(k.session, 'Amplifier').session, printOf(session).id, 1000)
    expect((await heard(session, printOf(session).id, 1000)) - known).toBeCloseTo(db, 3)
  })

  it('is kept with the track, and told anew where it changes', () => {
    const k = start()
    k.session.channel.di = { ...k.session.channel.di!, sourceDbu: 9 }
    expect(reamped(k.session, 'Amplifier', true, 9).session.channel.di!.sourceDbu).toBe(9)
    expect(reamped(k.session, 'Amplifier', true, null).session.channel.di!.sourceDbu).toBeNull()
  })
})
