// A sinc, windows and taps whose sum is one, written again for the reference and for tests of filters.

export const sinc = (x: number) => (x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x))
export const normal = (taps: number[]) => taps.map(t => t / taps.reduce((a, b) => a + b, 0))

/** Modified Bessel function of order 0 by its integral, (1/π) ∫ e^(x cos t) dt from 0 to π. */
function bessel(x: number): number {
  const steps = 400
  let sum = 0
  for (let i = 0; i < steps; i++) sum += Math.exp(x * Math.cos((Math.PI * (i + 0.5)) / steps))
  return sum / steps
}
/** @param r place in the window, −1 … 1 */
export const kaiser = (r: number, beta: number) =>
  Math.abs(r) < 1 ? bessel(beta * Math.sqrt(1 - r * r)) / bessel(beta) : 0
