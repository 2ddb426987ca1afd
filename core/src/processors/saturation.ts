// Saturation: y = (s(drive·x + bias) − s(bias)) / drive with s(v) = v / √(1 + v²), at eight times the rate. Quiet
// signals pass at unity (without bias), loud ones bend; bias bends one side first.
import { PI, gainOf, sin } from '../foundation/elementary'
import { kaiser } from '../foundation/kaiser'
import type { Processor } from './processor'

/** Half width of the pass band as a share of the old rate: what harmonics fold from beyond is 90 dB down. */
const CUT = 0.43,
  BETA = 9

/** 257 symmetric taps at eight times the rate, the outermost zero; unit gain at 0 Hz. */
function taps(): number[] {
  const h = Array.from({ length: 257 }, (_, n) => {
    const x = n - 128,
      f = CUT / 8
    return (x === 0 ? 2 * f : sin(2 * PI * f * x) / (PI * x)) * kaiser(x / 128, BETA)
  })
  const sum = h.reduce((a, b) => a + b, 0)
  return h.map(v => v / sum)
}
let made: number[] | undefined

export const saturation: Processor = {
  id: 'saturation',
  label: 'Saturation',
  version: 1,
  keyed: false,
  linear: false,
  followsLevel: [{ name: 'driveDb', by: -1 }],
  parameters: [
    { name: 'driveDb', label: 'Drive', unit: 'dB', min: -24, max: 48, initial: 9 },
    { name: 'bias', label: 'Bias', min: 0, max: 1, initial: 0 },
    { name: 'outputDb', label: 'Output', unit: 'dB', min: -24, max: 24, initial: 0 }
  ],
  build: (signal, { builder, key, params: p }) =>
    builder.saturate(
      key,
      signal,
      gainOf(p.driveDb as number),
      p.bias as number,
      gainOf(p.outputDb as number),
      (made ??= taps())
    )
}
