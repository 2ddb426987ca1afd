// Values that are not numbers never pass a channel, whatever the processor and the rate, and what is wrong is named.
import { describe, expect, it } from 'vitest'
import { PROCESSORS } from '../processors/table'
import { Sketch } from '../testing/sketch'
import { compile } from '../compile/compile'
import { MemoryMedia } from './memoryMedia'
import { PlanStream, render } from './stream'
import { peak, sine, whiteNoise } from '../testing/sound'

const FRAMES = 8192

async function run(k: Sketch, media: Record<string, Float32Array[]>, live = false) {
  const reader = new MemoryMedia()
  for (const [id, legs] of Object.entries(media)) reader.set(id, legs)
  const taps = [{ channel: 'main', tap: 'post' as const }]
  const stream = new PlanStream(compile(k.session, { taps, live }), k.session, reader)
  const out: Float32Array[] = []
  await render(stream, { from: 0, frames: FRAMES }, (name, audio) => {
    if (name === 'main@post') out.push(audio[0])
  })
  return { out: Float32Array.from(out.flatMap(a => [...a])), faults: stream.faults() }
}

/** One track with a slot, one without, both into the main. */
function sketch(processor: string, rate: number) {
  const k = new Sketch('test', { sampleRate: rate })
  for (const id of ['x', 'y']) k.medium(id, 1, FRAMES)
  k.bus('main', { role: 'main', layout: ['M'] })
  k.main(k.track('t', 'x'), 'main')
  k.main(k.track('u', 'y'), 'main')
  k.slot('t', processor)
  k.slot('t', processor, {}, { afterFader: true })
  return k
}

const INPUTS: Record<string, (n: number) => number> = {
  'silence': () => 0,
  'an impulse': n => (n === 700 ? 1 : 0),
  'full scale': n => (n % 2 ? 1 : -1),
  'denormals': n => ((n % 3) - 1) * 1e-41,
  'far too loud': n => (n % 2 ? 1 : -1) * 3e38,
  'NaN among sound': n => (n % 1000 === 500 ? NaN : 0.1 * Math.sin(n / 9)),
  '∞ among sound': n => (n === 3000 ? Infinity : 0.1 * Math.sin(n / 9))
}

describe.each([44100, 48000, 96000])('every processor at %i Hz', rate => {
  it.each(Object.keys(PROCESSORS).flatMap(p => Object.keys(INPUTS).map(i => [p, i] as const)))(
    '%s, fed with %s',
    async (processor, input) => {
      const { out } = await run(sketch(processor, rate), {
        x: [Float32Array.from({ length: FRAMES }, (_, n) => INPUTS[input](n))],
        y: [sine(FRAMES, 440, 0.25, rate)]
      })
      expect(out.every(Number.isFinite)).toBe(true)
      // The other track goes through in any case.
      expect(peak(out.subarray(6000))).toBeGreaterThan(0.2)
    }
  )
})

describe('what is told', () => {
  it('NaN in a file is silent where it is, and its track is named', async () => {
    const k = sketch('width', 48000)
    const x = sine(FRAMES, 1000, 0.5)
    x[4000] = NaN
    const { out, faults } = await run(k, { x: [x], y: [new Float32Array(FRAMES)] })
    expect(faults).toEqual(['t'])
    expect(out[4000]).toBe(0)
    expect(peak(out.subarray(3996, 4000))).toBeGreaterThan(0.2)
  })

  it('a processor that goes wrong is muted in its own channel, before and after the fader, live too', async () => {
    for (const live of [false, true]) {
      const k = sketch('equaliser', 48000)
      for (const s of Object.values(k.session.slot)) if (s.afterFader) s.params = { kind1: 'low shelf', db1: 24 }
      const { out, faults } = await run(
        k,
        {
          x: [Float32Array.from({ length: FRAMES }, (_, n) => (n < 2000 ? 0 : 3e38))],
          y: [whiteNoise(FRAMES, 1, 0.25)]
        },
        live
      )
      expect(faults).toEqual(['t'])
      expect(out.every(Number.isFinite)).toBe(true)
      expect(peak(out.subarray(6000))).toBeCloseTo(0.25, 2)
    }
  })

  it('sound sessions have none', async () => {
    expect(
      (await run(sketch('compressor', 48000), { x: [whiteNoise(FRAMES, 1)], y: [whiteNoise(FRAMES, 2)] })).faults
    ).toEqual([])
  })
})
