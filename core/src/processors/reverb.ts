// Algorithmic reverb: a feedback delay network of sixteen lines with decay times for three bands.
// J.-M. Jot, "An analysis/synthesis approach to real-time artificial reverberation", ICASSP 1992: a line of d samples
// that is to lose 60 dB in T seconds has the gain 10^(−3 d / (T · rate)).
import { LN2, PI, cos, exp2, log, log10, pow, tan } from '../foundation/elementary'
import type { Params } from '../session/rows'
import { type Processor, derived, standingsOf } from './processor'

/** Line lengths at 48 kHz and size 100 %: primes from 31 to 97 ms, spread in equal ratios. */
const LINES = [1489, 1609, 1733, 1867, 2011, 2161, 2333, 2503, 2699, 2903, 3121, 3359, 3613, 3889, 4177, 4651]
const SPREADERS = [211, 347]

/** The tangent of half a corner's angle. */
const cornerAt = (hz: number, sampleRate: number): number => tan((PI * Math.min(hz, sampleRate * 0.49)) / sampleRate)

/** First-order shelf with gain `low` at 0 Hz and `high` at Nyquist, half way (in dB) at the corner `k`. */
function shelf(low: number, high: number, k: number): Shelf {
  const root = Math.sqrt(high / low)
  // H(s) = low · (1 + s·root·…)/(1 + s/root): zero and pole placed evenly about the corner.
  const zero = k / root,
    pole = k * root
  const scale = ((low * (zero + 1)) / (pole + 1)) * (pole / zero)
  const b0 = scale,
    b1 = (scale * (zero - 1)) / (zero + 1)
  return [b0, b1, (pole - 1) / (pole + 1)]
}

type Shelf = readonly [b0: number, b1: number, a1: number]

/** |H|² of a first-order section at z = e^(jω), given cos ω. */
const power = ([b0, b1, a1]: Shelf, c: number): number =>
  (b0 * b0 + b1 * b1 + 2 * b0 * b1 * c) / (1 + a1 * a1 + 2 * a1 * c)

const ROUNDS = 24
/** Powers of ten: what a round changes less than that is left, a decay is right to a millionth then. */
const ENOUGH = 1e-7
/** Shares of the way from plain plateaus to those that make the centres right, where all of it would ring for ever. */
const SHARES = [1, 0.75, 0.5, 0.25]
/** Cosines of ω from 0 Hz to half the rate, closer together at the bottom. */
const EVERYWHERE = Array.from({ length: 28 }, (_, i) => cos(PI * pow(10, -i / 7)))

/** Samples by which a first-order section is late there. */
const lateness = ([b0, b1, a1]: Shelf, c: number): number =>
  (b1 * (b1 + b0 * c)) / (b0 * b0 + b1 * b1 + 2 * b0 * b1 * c) - (a1 * (a1 + c)) / (1 + a1 * a1 + 2 * a1 * c)

/**
 * Two shelves that lose, at the centre of each of three bands, what a line has to lose there. Where one shelf ends the
 * other begins to work, and both make the line a little longer or shorter: their plateaus are moved until the centres
 * are right, as far as nothing between them is lost much more slowly than the slowest band.
 * @param length of the line, samples
 * @param losses in powers of ten a sample, of the low, the middle and the high band
 * @param centres cosines of the bands' centres
 * @param corners tangents, see cornerAt
 */
function absorption(
  length: number,
  losses: number[],
  centres: number[],
  corners: readonly [low: number, high: number]
): [Shelf, Shelf] {
  const shelvesAt = (plateaus: number[]): [Shelf, Shelf] => {
    const [low, mid, high] = plateaus.map(p => pow(10, -p))
    return [shelf(low / mid, 1, corners[0]), shelf(mid, high, corners[1])]
  }
  const kept = ([low, high]: [Shelf, Shelf], c: number) => power(low, c) * power(high, c)
  const plain = losses.map(loss => loss * length)
  const most = 3 * Math.max(...plain),
    mostKept = pow(10, -2 * 0.7 * Math.min(...plain))
  const plateaus = [...plain]
  for (let round = 0, isMoving = true; isMoving && round < ROUNDS; round++) {
    const shelves = shelvesAt(plateaus)
    isMoving = false
    losses.forEach((loss, band) => {
      const c = centres[band]
      const wanted = loss * (length + lateness(shelves[0], c) + lateness(shelves[1], c))
      const next = Math.min(most, Math.max(-most, plateaus[band] + wanted + log10(kept(shelves, c)) / 2))
      if (Math.abs(next - plateaus[band]) > ENOUGH) isMoving = true
      plateaus[band] = next
    })
  }
  for (const share of SHARES) {
    const shelves = shelvesAt(plain.map((loss, band) => loss + share * (plateaus[band] - loss)))
    if (EVERYWHERE.every(c => kept(shelves, c) <= mostKept)) return shelves
  }
  return shelvesAt(plain)
}

/** Hz at which the bands are to be right: the middles of 20 Hz … low, low … high and high … 20 kHz. */
export function bandCentres(lowHz: number, highHz: number, rate: number): number[] {
  const top = Math.max(highHz, Math.min(20000, rate * 0.45))
  // The low band is as wide as it is far from its corner: between its middle and the octave below the corner.
  return [Math.sqrt(Math.sqrt(20 * lowHz) * (lowHz / 2)), Math.sqrt(lowHz * highHz), Math.sqrt(highHz * top)]
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

const lengthsOf = (params: Params, sampleRate: number): number[] => {
  const scale = ((sampleRate / 48000) * (params.size as number)) / 100
  return LINES.map(l => Math.max(16, Math.round(l * scale)))
}

/** Six tables of a number a line: b0, b1, a1 of all low shelves, then of all high ones. */
function coefficientsOf(params: Params, sampleRate: number): number[] {
  const { decayS, lowDecay, highDecay, lowHz, highHz } = params as Record<string, number>
  const centres = bandCentres(lowHz, highHz, sampleRate).map(hz => cos((2 * PI * hz) / sampleRate))
  const losses = [lowDecay / 100, 1, highDecay / 100].map(b => 3 / (decayS * b * sampleRate))
  const corners = [cornerAt(lowHz, sampleRate), cornerAt(highHz, sampleRate)] as const
  const shelves = lengthsOf(params, sampleRate).map(length => absorption(length, losses, centres, corners).flat())
  return [0, 1, 2, 3, 4, 5].flatMap(i => shelves.map(s => s[i]))
}

/** Settings of which losses are made. Settling them takes longer than a block of sound. */
const OF_LOSSES = ['decayS', 'lowDecay', 'highDecay', 'lowHz', 'highHz']
/** Of the scale between whose steps they are laid, an octave. */
const STEPS = 50
/** Coefficients of neighbours that lie further apart are of another kind: what lies between might ring for ever. */
const APART = 0.02

/**
 * Coefficients while one setting moves, straight between those of neighbours on a scale of fifty steps an octave: the
 * decays are off by 3 · 10⁻⁵ of themselves; where settling itself jumps by a little, the way there is a step long. What
 * was settled once stays: nothing else moves.
 */
function onTheWay(setting: string, sampleRate: number): (params: Params) => number[] {
  const settled = new Map<number, number[]>()
  const at = (params: Params, step: number): number[] => {
    const there = settled.get(step) ?? coefficientsOf({ ...params, [setting]: exp2(step / STEPS) }, sampleRate)
    settled.set(step, there)
    return there
  }
  return params => {
    const place = (log(params[setting] as number) / LN2) * STEPS,
      step = Math.floor(place)
    const low = at(params, step),
      high = at(params, step + 1)
    return low.every((v, i) => Math.abs(high[i] - v) < APART)
      ? low.map((v, i) => v + (high[i] - v) * (place - step))
      : coefficientsOf(params, sampleRate)
  }
}

const PRE_DELAY = derived('preDelayMs', (ms, sampleRate) => Math.round((ms * sampleRate) / 1000))
const SPREAD = derived('diffusion', percent => percent / 100)
/** Where coefficients begin among the parameters of the kernel: behind eight numbers and the lengths. */
const COEFFICIENTS = 8 + LINES.length

export const reverb: Processor = {
  // The size is another length of every line.
  standsIn: (setting, _, sampleRate) =>
    OF_LOSSES.includes(setting)
      ? [{ kind: 'reverb', at: COEFFICIENTS, byItself: true, values: onTheWay(setting, sampleRate) }]
      : [
          ...standingsOf('reverb', [PRE_DELAY], setting, sampleRate, 1),
          ...standingsOf('reverb', [SPREAD], setting, sampleRate, 6)
        ],
  id: 'reverb',
  label: 'Reverb',
  version: 2,
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
    const lengths = lengthsOf(params, sampleRate)
    const legs = signal.legs.length
    return builder.reverb(key, signal, {
      preDelay: PRE_DELAY.value(params, sampleRate),
      longestPreDelay: Math.ceil(0.25 * sampleRate),
      longestLine: Math.ceil((LINES[15] * sampleRate) / 48000),
      spreaders: SPREADERS.map(l => Math.max(8, Math.round((l * sampleRate) / 48000))),
      spread: SPREAD.value(params, sampleRate),
      // Unit input energy spread over sixteen lines and gathered again.
      level: 0.5 / Math.sqrt(legs),
      lengths,
      coefficients: coefficientsOf(params, sampleRate),
      signs: Array.from({ length: legs }, (_, leg) => lengths.map((_, line) => walsh(leg * 2 + 1, line))).flat()
    })
  }
}
