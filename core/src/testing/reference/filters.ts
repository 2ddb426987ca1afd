// Second-order sections for the reference, from the analog prototypes by the bilinear transform, written again so that
// the engine's coefficients are judged and not repeated.

/** b0, b1, b2, a1, a2. */
export type Coefficients = [number, number, number, number, number]
export type Leg = Float64Array<ArrayBuffer>

/** H(s) = (n0 + n1 s + n2 s²) / (d0 + d1 s + d2 s²), s in units of the corner, at a corner in Hz. */
function bilinear(n: [number, number, number], d: [number, number, number], hz: number, rate: number): Coefficients {
  const c = 1 / Math.tan((Math.PI * Math.min(hz, 0.499 * rate)) / rate)
  const spread = ([p0, p1, p2]: [number, number, number]) => [
    p0 + p1 * c + p2 * c * c,
    2 * (p0 - p2 * c * c),
    p0 - p1 * c + p2 * c * c
  ]
  const [b0, b1, b2] = spread(n),
    [a0, a1, a2] = spread(d)
  return [b0 / a0, b1 / a0, b2 / a0, a1 / a0, a2 / a0]
}

export function bell(kind: string, hz: number, db: number, q: number, rate: number): Coefficients {
  const a = 10 ** (db / 40),
    r = Math.sqrt(a)
  if (kind === 'bell') return bilinear([1, a / q, 1], [1, 1 / (a * q), 1], hz, rate)
  if (kind === 'notch') return bilinear([1, 0, 1], [1, 1 / q, 1], hz, rate)
  if (kind === 'low shelf') return bilinear([a * a, (a * r) / q, a], [1, r / q, a], hz, rate)
  return bilinear([a, (a * r) / q, a * a], [a, r / q, 1], hz, rate)
}

/** Butterworth: the poles of 1 / (1 + (−s²)^order) in the left half plane, two by two. */
export function butterworth(side: 'low' | 'high', hz: number, slope: number, rate: number): Coefficients[] {
  const order = slope / 6
  const sections: Coefficients[] = []
  for (let k = 1; k <= order / 2; k++) {
    const damping = 2 * Math.sin(((2 * k - 1) * Math.PI) / (2 * order))
    sections.push(bilinear(side === 'low' ? [1, 0, 0] : [0, 0, 1], [1, damping, 1], hz, rate))
  }
  if (order % 2) sections.push(bilinear(side === 'low' ? [1, 0, 0] : [0, 1, 0], [1, 1, 0], hz, rate))
  return sections
}

export const bandPass = (hz: number, q: number, rate: number): Coefficients =>
  bilinear([0, 1 / q, 0], [1, 1 / q, 1], hz, rate)

export const filtered = (leg: Leg, sections: readonly Coefficients[]): Leg =>
  sections.reduce((x, [b0, b1, b2, a1, a2]) => {
    const y = new Float64Array(x.length)
    for (let n = 0; n < x.length; n++)
      y[n] = b0 * x[n] + b1 * (x[n - 1] ?? 0) + b2 * (x[n - 2] ?? 0) - a1 * (y[n - 1] ?? 0) - a2 * (y[n - 2] ?? 0)
    return y
  }, leg)
