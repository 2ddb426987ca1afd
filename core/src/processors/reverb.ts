// Algorithmic reverb: a feedback delay network of sixteen lines with decay times for three bands.
// J.-M. Jot, "An analysis/synthesis approach to real-time artificial reverberation", ICASSP 1992: a line of d samples
// that is to lose 60 dB in T seconds has the gain 10^(−3 d / (T · rate)).
import { PI, pow, tan } from '../foundation/elementary'
import type { Processor } from './processor'

/** Line lengths at 48 kHz and size 100 %: primes from 31 to 97 ms, spread in equal ratios. */
const LINES = [1489, 1609, 1733, 1867, 2011, 2161, 2333, 2503, 2699, 2903, 3121, 3359, 3613, 3889, 4177, 4651]
const SPREADERS = [211, 347]

/** First-order shelf with gain `low` at 0 Hz and `high` at Nyquist, half way (in dB) at the corner. */
function shelf(low: number, high: number, hz: number, sampleRate: number): [number, number, number] {
  const k = tan((PI * Math.min(hz, sampleRate * 0.49)) / sampleRate)
  const root = Math.sqrt(high / low)
  // H(s) = low · (1 + s·root·…)/(1 + s/root): zero and pole placed evenly about the corner.
  const zero = k / root,
    pole = k * root
  const scale = ((low * (zero + 1)) / (pole + 1)) * (pole / zero)
  const b0 = scale,
    b1 = (scale * (zero - 1)) / (zero + 1)
  return [b0, b1, (pole - 1) / (pole + 1)]
}

/** Sign of row r, column c of the Hadamard matrix. */
const walsh = (r: number, c: number) => {
  let v = r & c,
    odd = 0
  while (v) {
    odd ^= v & 1
    v >>= 1
  }
  return odd ? -1 : 1
}

export const reverb: Processor = {
  id: 'reverb',
  label: 'Reverb',
  version: 1,
  keyed: false,
  linear: true,
  tailS: p => p.decayS as number,
  parameters: [
    { name: 'decayS', label: 'Decay', unit: 's', min: 0.2, max: 12, law: 'ratio', initial: 2.2 },
    { name: 'lowDecay', label: 'Low decay', unit: '%', min: 25, max: 200, law: 'ratio', initial: 110 },
    { name: 'highDecay', label: 'High decay', unit: '%', min: 5, max: 100, law: 'ratio', initial: 45 },
    { name: 'lowHz', label: 'Low band below', unit: 'Hz', min: 50, max: 1000, law: 'ratio', initial: 220 },
    { name: 'highHz', label: 'High band above', unit: 'Hz', min: 1000, max: 16000, law: 'ratio', initial: 4500 },
    { name: 'preDelayMs', label: 'Pre-delay', unit: 'ms', min: 0, max: 250, initial: 20 },
    { name: 'size', label: 'Size', unit: '%', min: 20, max: 100, initial: 80 },
    { name: 'diffusion', label: 'Diffusion', unit: '%', min: 0, max: 90, initial: 62 }
  ],
  build(signal, { builder, key, params, sampleRate }) {
    const scale = ((sampleRate / 48000) * (params.size as number)) / 100
    const lengths = LINES.map(l => Math.max(16, Math.round(l * scale)))
    const decay = params.decayS as number
    const bands = [(params.lowDecay as number) / 100, 1, (params.highDecay as number) / 100]
    const shelves = lengths.map(length => {
      const [low, mid, high] = bands.map(b => pow(10, (-3 * length) / (decay * b * sampleRate)))
      return [
        ...shelf(low / mid, 1, params.lowHz as number, sampleRate),
        ...shelf(mid, high, params.highHz as number, sampleRate)
      ]
    })
    const legs = signal.legs.length
    return builder.reverb(key, signal, {
      preDelay: Math.round(((params.preDelayMs as number) * sampleRate) / 1000),
      longestPreDelay: Math.ceil(0.25 * sampleRate),
      longestLine: Math.ceil((LINES[15] * sampleRate) / 48000),
      spreaders: SPREADERS.map(l => Math.max(8, Math.round((l * sampleRate) / 48000))),
      spread: (params.diffusion as number) / 100,
      // Unit input energy spread over sixteen lines and gathered again.
      level: 0.5 / Math.sqrt(legs),
      lengths,
      coefficients: [0, 1, 2, 3, 4, 5].flatMap(i => shelves.map(s => s[i])),
      signs: Array.from({ length: legs }, (_, leg) => lengths.map((_, line) => walsh(leg * 2 + 1, line))).flat()
    })
  }
}
