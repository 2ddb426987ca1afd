// The first dead point of a loop: what the rows say must be what a measurement finds.
import { describe, expect, it } from 'vitest'
import { ping } from '../measure/ping'
import { applyEdit } from '../edits/apply'
import { Dice } from '../testing/generated'
import { Sketch } from '../testing/sketch'
import { deadCable, deadPoint, whyNothing } from './deadLoop'
import { whySilent } from './whySilent'

/** Out 1 → processor (its jack, or its digital input) → in 1, through an amplifier between. */
function room(into: 0 | 1, sampleRate = 48000, settings = {}): Sketch {
  const k = new Sketch('Room', { sampleRate })
  k.rig('r')
  k.interface('io', 'r', 1, 1)
  k.unit('box', 'r', 'modelling-processor', settings, { name: 'Box' })
  k.unit('amp', 'r', 'tube-amplifier', {}, { name: 'Amp' })
  k.cable('r', 'io-out-1', `box:${into}`)
  k.cable('r', 'box:0', 'amp:0')
  k.cable('r', 'amp:0', 'io-in-1')
  k.add('loop', { id: 'l', rig: 'r', name: 'Loop', outPorts: ['io-out-1'], inPorts: ['io-in-1'] })
  return k
}
const dead = (k: Sketch) => deadPoint(k.session, k.session.loop.l!)
const measured = async (k: Sketch) => (await ping(k.session, k.session.loop.l!)).measured

describe('the first dead point', () => {
  it('is none where the way is open, and then a ping measures', async () => {
    const k = room(0)
    expect(dead(k)).toBeNull()
    expect(await measured(k)).toBe(true)
  })

  it.each([
    ['a unit that is off', room(0), (k: Sketch) => void (k.session.unit.box!.powered = false), /^Box is off$/],
    [
      'the nearer one of two that are off',
      room(0),
      (k: Sketch) => ['amp', 'box'].forEach(u => (k.session.unit[u]!.powered = false)),
      /^Box is off$/
    ],
    ['the farther one', room(0), (k: Sketch) => void (k.session.unit.amp!.powered = false), /^Amp is off$/],
    ['a switch', room(1), () => {}, /^Box listens to its jack “Instrument in”, and the cable ends at “Digital in”$/],
    [
      'a clock',
      room(1, 44100, { input: 'digital' }),
      () => {},
      /^Box does not lock: .* 48 kHz, the session at 44.1 kHz/
    ],
    [
      'a cable',
      room(0),
      (k: Sketch) => {
        const last = Object.values(k.session.cable).find(c => c.toPort)!
        delete k.session.cable[last.id]
      },
      /^no cable leads from Amp to In 1$/
    ]
  ])('is %s', async (_, k, break_, reason) => {
    break_(k)
    expect(dead(k)?.reason).toMatch(reason)
    const result = await ping(k.session, k.session.loop.l!)
    expect(result).toMatchObject({ measured: false, reason: expect.stringMatching(/^nothing came back: /) })
  })

  it('offers what mends it: after the fix a ping measures', async () => {
    for (const k of [
      room(1),
      (() => {
        const k = room(0)
        k.session.unit.amp!.powered = false
        return k
      })()
    ]) {
      const { edit } = dead(k)!.fixes[0]!
      const after = applyEdit(k.session, edit).session
      expect(deadPoint(after, after.loop.l!)).toBeNull()
      expect((await ping(after, after.loop.l!)).measured).toBe(true)
    }
  })

  it('is told to whoever asks why a way between feeds is silent, with the same fix', () => {
    const k = room(1)
    k.track('di', undefined)
    k.bus('back', { role: 'main' })
    k.add('feed', { id: 'out', kind: 'port', from: 'di', ports: ['io-out-1'], tap: 'input' })
    k.add('feed', { id: 'in', kind: 'input', to: 'back', ports: ['io-in-1'] })
    k.session.session.session!.heardChannel = 'back'
    const told = whySilent(k.session, 'di').find(c => c.cause === 'unit')!
    expect(told.sentence).toMatch(/^Box listens to its jack “Instrument in”/)
    const after = applyEdit(k.session, told.fix!.edit).session
    expect(whySilent(after, 'di').some(c => c.cause === 'unit')).toBe(false)
  })

  const HOPELESS = process.env.NULLET_LONG ? 200 : 12
  it(`${HOPELESS} hopeless loops report no number, in whatever noise, and each says where it ends`, async () => {
    const dice = new Dice(9)
    for (let n = 0; n < HOPELESS; n++) {
      const k = room(0, dice.pick([44100, 48000, 96000]))
      Object.assign(k.session.interface.io!, { noiseDbfs: -120 + dice.next() * 60 })
      const cables = Object.keys(k.session.cable)
      const broken = dice.pick<() => void>([
        () => void (k.session.unit.box!.powered = false),
        () => void (k.session.unit.amp!.powered = false),
        () => void delete k.session.cable[dice.pick(cables)],
        () => void (k.session.unit.box!.settings = { input: 'digital' })
      ])
      broken()
      expect(dead(k), String(broken)).not.toBeNull()
      const result = await ping(k.session, k.session.loop.l!, { seed: n })
      expect(result, String(broken)).toEqual({
        measured: false,
        reason: `nothing came back: ${dead(k)!.reason}`,
        confidence: expect.closeTo(0, 0)
      })
    }
  }, 300_000)

  it('a digital input at its own rate locks', async () => {
    expect(await measured(room(1, 48000, { input: 'digital' }))).toBe(true)
  })
})

describe('what is said of it', () => {
  const of = (k: Sketch) => deadPoint(k.session, k.session.loop.l!)
  it('names the unit, and how it is switched on', () => {
    const k = room(0)
    k.session.unit.amp!.powered = false
    expect(of(k)).toEqual({
      reason: 'Amp is off',
      about: ['amp'],
      fixes: [{ label: 'Switch Amp on', edit: { verb: 'setUnit', args: { id: 'amp', fields: { powered: true } } } }]
    })
  })
  it('names both jacks of a switch, and each way to turn it', () => {
    expect(of(room(1))).toEqual({
      reason: 'Box listens to its jack “Instrument in”, and the cable ends at “Digital in”',
      about: ['box'],
      fixes: [
        {
          label: 'Turn input of Box to digital',
          edit: { verb: 'setUnit', args: { id: 'box', fields: { settings: { input: 'digital' } } } }
        }
      ]
    })
  })
  it('names both clocks, and that nothing here mends it', () => {
    expect(of(room(1, 44100, { input: 'digital' }))).toEqual({
      reason:
        'Box does not lock: its digital input runs at 48 kHz, the session at 44.1 kHz; use an analog jack, ' +
        'or a session at that rate',
      about: ['box'],
      fixes: []
    })
  })
  it('names where the cables end, from the last unit or the port itself', () => {
    const k = room(0)
    k.session.cable = {}
    expect(of(k)).toEqual({ reason: 'no cable leads from Out 1 to In 1', about: ['io-out-1'], fixes: [] })
    k.session.loop.l!.inPorts = []
    expect(of(k)).toEqual({ reason: 'no cable leads from Out 1 to the return', about: ['io-out-1'], fixes: [] })
    k.session.loop.l!.outPorts = []
    expect(of(k)).toEqual({ reason: 'no cable leads from Loop to the return', about: [], fixes: [] })
  })
  it('is asked for every port of the return', () => {
    const k = room(0)
    k.add('port', { id: 'io-in-2', interface: 'io', name: 'In 2', direction: 'in' })
    k.session.loop.l!.inPorts = ['io-in-1', 'io-in-2']
    expect(of(k)?.reason).toBe('no cable leads from Amp to In 2')
    k.cable('r', 'box:1', 'io-in-2')
    expect(of(k)).toBeNull()
  })
  it('is told by a ping that finds nothing, and by its own words where the cables lead there', () => {
    const k = room(0)
    expect(whyNothing(k.session, k.session.loop.l!)).toBe(
      'nothing came back, although the cables lead there: check levels and settings on the way'
    )
    k.session.unit.amp!.powered = false
    expect(whyNothing(k.session, k.session.loop.l!)).toBe('nothing came back: Amp is off')
  })
  it('of a cable that is open is none', () => {
    const k = room(0)
    for (const cable of Object.values(k.session.cable)) expect(deadCable(k.session, cable)).toBeNull()
  })
})
