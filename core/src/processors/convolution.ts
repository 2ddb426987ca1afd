// Reverb by impulse response: made by code, or a medium of the session. The response is brought to unit energy, so that
// noise comes out as loud as it goes in whatever the response; its tail can be cut shorter.
import { gainOf } from '../foundation/elementary'
import type { ResponseWanted } from '../plan/operations'
import type { Params } from '../session/rows'
import { cut } from './biquad'
import type { Processor } from './processor'
import { RESPONSES } from './responses'

export const LONGEST_RESPONSE_S = 30
/** Share of the response over which a cut tail fades. */
const FADE = 0.3

export const responseOf = (p: Params): ResponseWanted => ({ id: p.response as string, endS: p.endS as number })

/** Legs × frames as they are convolved with: cut, faded, unit energy in the loudest leg. */
export function shaped(legs: readonly Float32Array[], { endS }: ResponseWanted, sampleRate: number): Float32Array[] {
  const frames = Math.min(legs[0].length, Math.max(1, Math.round(endS * sampleRate)))
  const fade = frames < legs[0].length ? Math.round(frames * FADE) : 0
  const out = legs.map(leg => {
    const y = leg.slice(0, frames)
    for (let n = frames - fade; n < frames; n++) {
      const x = (frames - n) / fade
      y[n] *= x * x * (3 - 2 * x)
    }
    return y
  })
  const energy = Math.max(...out.map(leg => leg.reduce((sum, v) => sum + v * v, 0)))
  const gain = energy > 0 ? 1 / Math.sqrt(energy) : 0
  return out.map(leg => leg.map(v => v * gain))
}

export const convolution: Processor = {
  id: 'convolution',
  label: 'Impulse reverb',
  version: 1,
  keyed: false,
  linear: true,
  tailS: (p, { responseFrames, sampleRate }) =>
    (p.preDelayMs as number) / 1000 + Math.min(p.endS as number, responseFrames(p.response as string) / sampleRate),
  parameters: [
    { name: 'response', label: 'Response', medium: true, choices: Object.keys(RESPONSES), initial: 'dome' },
    { name: 'preDelayMs', label: 'Pre-delay', unit: 'ms', min: 0, max: 250, initial: 0 },
    {
      name: 'endS',
      label: 'Ends after',
      unit: 's',
      min: 0.05,
      max: LONGEST_RESPONSE_S,
      law: 'ratio',
      shapes: true,
      initial: LONGEST_RESPONSE_S
    },
    { name: 'lowCutHz', label: 'Low cut', unit: 'Hz', min: 10, max: 2000, law: 'ratio', initial: 60 },
    { name: 'highCutHz', label: 'High cut', unit: 'Hz', min: 200, max: 20000, law: 'ratio', initial: 12000 },
    { name: 'gainDb', label: 'Gain', unit: 'dB', min: -24, max: 24, initial: 0 }
  ],
  build(signal, { builder, key, params: p, sampleRate, responseFrames }) {
    const frames = Math.min(responseFrames(p.response as string), Math.round((p.endS as number) * sampleRate))
    // A response that is not there gives no reverb, rather than the dry sound a second time.
    if (frames < 1) return builder.gain(`${key}/none`, signal, 0)
    const late = builder.shift(
      `${key}/before`,
      signal,
      Math.round(((p.preDelayMs as number) * sampleRate) / 1000),
      32768
    )
    const wet = builder.convolve(key, late, responseOf(p), frames)
    const cuts = [
      ...cut('low', p.lowCutHz as number, 12, sampleRate),
      ...cut('high', p.highCutHz as number, 12, sampleRate)
    ]
    return builder.gain(`${key}/gain`, builder.filter(`${key}/cuts`, wet, cuts), gainOf(p.gainDb as number))
  }
}
