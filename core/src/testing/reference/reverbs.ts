// The two reverbs over whole legs in float64: a network of sixteen lines sample by sample, and a convolution as the sum
// that it is.
import type { PlanBuilder } from '../../plan/builder'
import { reverb as processor } from '../../processors/reverb'
import { makeResponse } from '../../processors/responses'
import { butterworth, filtered, type Leg } from './filters'
import type { Audio, Heard } from './heard'

type Shape = Parameters<PlanBuilder['reverb']>[2]

/**
 * Lengths, shelves and signs of the lines as the processor sets them: a table of constants here. Whether they are the
 * right ones is judged by the decay that they make (processors.test.ts). The kernel keeps shelves in single precision.
 */
function shapeOf({ audio, p, rate }: Heard): Shape {
  let shape: Shape | undefined
  const builder = { reverb: (_key: string, signal: unknown, wanted: Shape) => ((shape = wanted), signal) }
  const signal = { legs: audio.map((_, i) => i), layout: audio.map(() => ''), latency: 0 }
  processor.build(signal, { builder, key: '', params: p, sampleRate: rate } as never)
  return shape!
}

/** Two allpasses (M. Schroeder, 1962): y = old − g·w, w = x + g·old. */
function spread(x: Leg, lengths: number[], gain: number): Leg {
  return lengths.reduce((leg, length) => {
    const w = new Float64Array(leg.length)
    return leg.map((v, n) => {
      const old = w[n - length] ?? 0
      w[n] = v + gain * old
      return old - gain * w[n]
    })
  }, x)
}

const LINES = 16
const isOdd = (bits: number) => [0, 1, 2, 3].filter(bit => (bits >> bit) & 1).length % 2 === 1
/** Sylvester's matrix, orthonormal. */
const hadamard = (row: number, column: number) => (isOdd(row & column) ? -0.25 : 0.25)

export function reverb(heard: Heard): Audio {
  const { audio } = heard,
    shape = shapeOf(heard)
  const frames = audio[0].length,
    legs = audio.length
  const entered = audio.map((leg, i) =>
    spread(
      leg.map((_, n) => leg[n - shape.preDelay] ?? 0),
      shape.spreaders.map(l => l + i * 7),
      shape.spread
    )
  )
  const lines = shape.lengths.map(() => new Float64Array(frames))
  const kept = shape.lengths.map(() => [0, 0, 0, 0])
  const factor = (i: number, line: number) => Math.fround(shape.coefficients[i * LINES + line])
  for (let n = 0; n < frames; n++) {
    const absorbed = lines.map((line, k) => {
      const x = line[n - shape.lengths[k]] ?? 0,
        [x1, low1, mid1, high1] = kept[k]
      const low = factor(0, k) * x + factor(1, k) * x1 - factor(2, k) * low1
      const high = factor(3, k) * low + factor(4, k) * mid1 - factor(5, k) * high1
      kept[k] = [x, low, low, high]
      return high
    })
    lines.forEach((line, k) => {
      line[n] = absorbed.reduce((sum, v, j) => sum + hadamard(k, j) * v, entered[k % legs][n])
    })
  }
  const shortest = Math.min(...shape.lengths)
  return audio.map((leg, i) =>
    leg.map((_, n) =>
      lines.reduce(
        (sum, line, k) => sum + shape.level * shape.signs[i * LINES + k] * (line[n - shape.lengths[k] + shortest] ?? 0),
        0
      )
    )
  )
}

/** A response made by code is a table here; how it is cut, faded and brought to unit energy is written again. */
export function convolution({ audio, p, rate }: Heard): Audio {
  const made = makeResponse(p.response as unknown as string, rate)
  const length = Math.min(made[0].length, Math.round(p.endS * rate)),
    isCut = length < made[0].length,
    fades = isCut ? Math.round(0.3 * length) : 0
  const shaped = made.map(leg =>
    Float64Array.from(leg.subarray(0, length), (v, n) => {
      const left = (length - n) / fades
      return n < length - fades ? v : v * left * left * (3 - 2 * left)
    })
  )
  const energy = Math.max(...shaped.map(leg => leg.reduce((sum, v) => sum + v * v, 0)))
  const before = Math.round((p.preDelayMs * rate) / 1000)
  return audio.map((x, i) => {
    const h = shaped[i % shaped.length],
      out = new Float64Array(x.length)
    for (let k = 0; k < Math.min(h.length, x.length - before); k++)
      for (let n = k + before; n < x.length; n++) out[n] += h[k] * x[n - k - before]
    const cuts = [...butterworth('high', p.lowCutHz, 12, rate), ...butterworth('low', p.highCutHz, 12, rate)]
    return filtered(
      out.map(v => (v * 10 ** (p.gainDb / 20)) / Math.sqrt(energy)),
      cuts
    )
  })
}
