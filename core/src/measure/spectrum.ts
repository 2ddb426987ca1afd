// Fourier transforms of real signals, over the fft.js package. Interleaved re, im; sizes are powers of two.
import FFT from 'fft.js'

const plans = new Map<number, FFT>()
const planOf = (size: number) => {
  let p = plans.get(size)
  if (!p) plans.set(size, (p = new FFT(size)))
  return p
}

export function powerOfTwoAbove(n: number): number {
  let s = 1
  while (s < n) s *= 2
  return s
}

/** Full spectrum of a real signal, zero-padded to size: 2 × size numbers. */
export function spectrum(x: ArrayLike<number>, size: number): number[] {
  const padded = new Float64Array(size)
  padded.set(x.length > size ? Array.prototype.slice.call(x, 0, size) : x)
  const out = planOf(size).createComplexArray()
  planOf(size).realTransform(out, padded)
  planOf(size).completeSpectrum(out)
  return out
}

/** Real part of the inverse transform. */
export function inverseReal(s: number[]): Float64Array {
  const size = s.length / 2
  const out = planOf(size).createComplexArray()
  planOf(size).inverseTransform(out, s)
  return Float64Array.from({ length: size }, (_, n) => out[2 * n])
}
