// A processor that plays amplifiers: presets, an input switch, and a digital input that runs at one rate only.
import { gainOf } from '../../foundation/elementary'
import { band, cut } from '../../processors/biquad'
import { oversamplingTaps } from '../fractional'
import type { UnitModel } from '../unit'

const JACK = 0,
  DIGITAL = 1
/** Of its own converters. */
const DELAY_MS = 2.9
/** What it plays: drive and tone in dB, where its top ends, how far apart its two sides are. */
const PRESETS: Record<
  string,
  { drive: number; low: number; middle: number; high: number; topHz: number; apartMs: number }
> = {
  'Glass, clean': { drive: -8, low: 1, middle: -3, high: 4, topHz: 9000, apartMs: 0 },
  'Warm edge': { drive: 6, low: 3, middle: 1, high: 0, topHz: 5200, apartMs: 0.3 },
  'Tall stack': { drive: 20, low: 4, middle: -4, high: 3, topHz: 4600, apartMs: 0.6 },
  'Wide bell': { drive: 0, low: -2, middle: 2, high: 5, topHz: 11000, apartMs: 1.1 }
}

export const modellingProcessor: UnitModel = {
  model: 'modelling-processor',
  label: 'Modelling processor',
  version: 1,
  passive: false,
  linear: false,
  noiseDbu: -86,
  clipDbu: 20,
  about:
    'Presets of amplifiers. Its input switch chooses the instrument jack or the digital input, which runs at 48 kHz only.',
  inputs: ['Instrument in', 'Digital in'],
  instrument: [JACK],
  outputs: ['Out left', 'Out right'],
  listensTo: s => [s.input === 'digital' ? DIGITAL : JACK],
  digital: { inputs: [DIGITAL], rate: 48000 },
  figures: { nominalDbu: -10, distortion: [1.63, 4.88], bandHz: [49, 4950], crosstalkDb: null, delayMs: 3.25 },
  settings: [
    { name: 'input', label: 'Input', choices: ['instrument', 'digital'], initial: 'instrument' },
    { name: 'preset', label: 'Preset', choices: Object.keys(PRESETS), initial: 'Warm edge' },
    { name: 'driveDb', label: 'Drive', unit: 'dB', min: -12, max: 12, initial: 0 },
    { name: 'outputDb', label: 'Output', unit: 'dB', min: -24, max: 12, initial: 0 }
  ],
  build(inputs, { builder, key, settings: s, sampleRate }) {
    const { drive, low, middle, high, topHz, apartMs } = PRESETS[s.preset as string]
    const input = inputs[s.input === 'digital' ? DIGITAL : JACK]
    const bent = builder.bend(
      `${key}/stage`,
      builder.filter(`${key}/tight`, input, cut('low', 60, 12, sampleRate)),
      gainOf(drive + (s.driveDb as number) - 12),
      0.15,
      1,
      oversamplingTaps()
    )
    const voiced = builder.filter(`${key}/voice`, bent, [
      band('low shelf', 140, low, 0.7, sampleRate),
      band('bell', 650, middle, 0.7, sampleRate),
      band('high shelf', 2400, high, 0.7, sampleRate),
      ...cut('high', Math.min(topHz, 0.45 * sampleRate), 24, sampleRate)
    ])
    return [0, apartMs].map((apart, side) =>
      builder.gain(
        `${key}/out${side}`,
        builder.shift(`${key}/late${side}`, voiced, Math.round(((DELAY_MS + apart) / 1000) * sampleRate), 2048),
        gainOf(s.outputDb as number)
      )
    )
  }
}
