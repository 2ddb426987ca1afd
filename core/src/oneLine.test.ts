// What a thing is stands with the thing: a new one is one entry in its table, and everything that treats such things
// knows it. A made-up one of each is entered here, used, and taken out again.
import { afterAll, describe, expect, it } from 'vitest'
import { CHECKS, runChecks } from './checks/table'
import { firstBreach } from './invariants'
import { LoudnessMeter } from './measure/loudness'
import { ping } from './measure/ping'
import { PROCESSORS, slotLabel } from './processors/table'
import type { Processor } from './processors/processor'
import type { UnitModel } from './rig/unit'
import { UNITS } from './rig/units'
import { LAYOUTS, layoutName } from './session/layouts'
import { lostLegs } from './session/lostLegs'
import { placement } from './session/placement'
import { SPEAKERS } from './session/speakers'
import { Sketch } from './testing/sketch'
import { RATE, peak, renderTaps, sine } from './testing/sound'

const FRAMES = 4800
const tone = sine(FRAMES, 1000, 0.5)
const main = [{ channel: 'main', tap: 'post' as const }]

const undo: (() => void)[] = []
afterAll(() => undo.forEach(back => back()))
function enter<T>(table: Record<string, T>, entries: Record<string, T>): void {
  Object.assign(table, entries)
  undo.push(() => Object.keys(entries).forEach(key => delete table[key]))
}

const sketch = () => {
  const k = new Sketch()
  k.bus('main', { role: 'main', layout: ['M'] })
  k.medium('tone', 1, FRAMES)
  k.main(k.track('voice', 'tone'), 'main')
  return k
}

describe('one entry is enough', () => {
  it('for a processor', async () => {
    const quarter: Processor = {
      id: 'quarter',
      label: 'Quarter',
      version: 1,
      keyed: false,
      linear: true,
      parameters: [{ name: 'turns', label: 'Turns', min: 1, max: 4, initial: 1 }],
      build: (signal, { builder, key, params }) => ({
        ...signal,
        legs: signal.legs.map((leg, i) => builder.mix(`${key}/${i}`, [{ leg, gain: 0.25 ** (params.turns as number) }]))
      })
    }
    enter(PROCESSORS, { quarter })
    const k = sketch()
    k.slot('voice', 'quarter', { turns: 2 })
    expect(firstBreach(k.session)).toBeNull()
    expect(slotLabel('quarter')).toBe('Quarter')
    const out = (await renderTaps(k.session, { tone: [tone] }, FRAMES, { taps: main })).get('main@post')!
    expect(peak(out[0]) / peak(tone)).toBeCloseTo(1 / 16, 6)
    k.slot('voice', 'quarter', { turns: 9 })
    expect(firstBreach(k.session)?.message).toMatch(/turns/i)
  })

  it('for a check', () => {
    const k = sketch()
    CHECKS.push({
      id: 'voiceOnly',
      find: session =>
        session.channel.voice
          ? [{ sentence: 'There is a voice.', about: ['voice'], consequence: 'It speaks.', fixes: [] }]
          : []
    })
    undo.push(() => CHECKS.pop())
    expect(runChecks(k.session).filter(f => f.check === 'voiceOnly')).toEqual([
      { check: 'voiceOnly', sentence: 'There is a voice.', about: ['voice'], consequence: 'It speaks.', fixes: [] }
    ])
  })

  it('for a unit', async () => {
    const turner: UnitModel = {
      model: 'turner',
      label: 'Turner',
      version: 1,
      passive: true,
      linear: true,
      noiseDbu: -Infinity,
      clipDbu: Infinity,
      figures: { nominalDbu: 4, distortion: [0, 0], bandHz: null, crosstalkDb: null, delayMs: 0 },
      about: 'Turns everything upside down at half the level.',
      inputs: ['In'],
      outputs: ['Out'],
      settings: [],
      build: ([input], { builder, key }) => [
        { ...input, legs: [builder.mix(key, [{ leg: input.legs[0], gain: -0.5 }])] }
      ]
    }
    enter(UNITS, { turner })
    const k = sketch()
    k.rig('room')
    k.interface('desk', 'room', 1, 1, { noiseDbfs: null, dcCornerHz: null })
    k.unit('it', 'room', 'turner')
    k.cable('room', 'desk-out-1', 'it:0')
    k.cable('room', 'it:0', 'desk-in-1')
    k.add('loop', { id: 'around', rig: 'room', name: 'Around', outPorts: ['desk-out-1'], inPorts: ['desk-in-1'] })
    expect(firstBreach(k.session)).toBeNull()
    const result = await ping(k.session, k.session.loop.around, {})
    expect(result).toMatchObject({ measured: true, inverted: true })
    expect(result.measured && result.gainDb).toBeCloseTo(20 * Math.log10(0.5), 1)
  })

  it('for a layout and its loudspeakers', async () => {
    enter(SPEAKERS, {
      Lw: { angleDeg: 60, right: 'Rw', folds: [['L', 0.5]], weight: 1.41, bit: null },
      Rw: { angleDeg: -60, folds: [['R', 0.5]], weight: 1.41, bit: null }
    })
    enter(LAYOUTS, { wide: ['L', 'R', 'Lw', 'Rw'] })
    const wide = LAYOUTS.wide
    expect(layoutName(wide)).toBe('wide')

    expect(placement(wide, ['L', 'R'], 0)).toEqual([
      [1, 0, 0.5, 0],
      [0, 1, 0, 0.5]
    ])
    expect(lostLegs(wide, ['L', 'R'])).toEqual([])
    // Turned to the right, what is on the left falls.
    const turned = placement(wide, wide, 1)
    expect([turned[2][2], turned[3][3]].map(g => Number(g.toFixed(9)))).toEqual([0, 1])

    const loudness = (leg: number) => {
      const meter = new LoudnessMeter(wide, RATE)
      meter.feed(wide.map((_, i) => (i === leg ? sine(RATE * 2, 1000, 0.5) : new Float32Array(RATE * 2))))
      return meter.read().integratedLufs
    }
    expect(loudness(2) - loudness(0)).toBeCloseTo(10 * Math.log10(1.41), 3)

    const k = new Sketch()
    k.bus('main', { role: 'main', layout: wide })
    k.medium('four', 4, FRAMES)
    k.main(k.track('bed', 'four', { layout: wide }), 'main')
    k.slot('main', 'width', { width: 0 })
    expect(firstBreach(k.session)).toBeNull()
    const silence = new Float32Array(FRAMES)
    const out = (await renderTaps(k.session, { four: [silence, silence, tone, silence] }, FRAMES, { taps: main })).get(
      'main@post'
    )!
    expect(out.map(leg => Number(peak(leg).toFixed(4)))).toEqual([0, 0, 0.25, 0.25])

    k.slot('main', 'tremolo', { depth: 100, hz: 10, apart: 50 })
    const swung = (
      await renderTaps(k.session, { four: [silence, silence, tone, silence] }, FRAMES, { taps: main })
    ).get('main@post')!
    const where = (leg: Float32Array) => leg.findIndex(v => Math.abs(v) > 0.24)
    expect(Math.abs(where(swung[2]) - where(swung[3]))).toBeGreaterThan(RATE / 10 / 4)
  })
})
