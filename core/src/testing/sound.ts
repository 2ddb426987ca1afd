// For tests: signals by formula, renders into memory, levels.
import { compile } from '../compile/compile'
import type { CompileOptions } from '../compile/plan'
import { MemoryMedia } from '../run/memoryMedia'
import { PlanStream, renderWhole } from '../run/stream'
import { spectrum } from '../measure/spectrum'
import { hash32 } from '../foundation/seed'
import type { Session } from '../session/session'

export const RATE = 48000

/** White noise, −1 … 1 times amplitude, the same for the same seed. */
export function whiteNoise(frames: number, seed: number, amplitude = 0.5): Float32Array {
  let state = hash32(`noise ${seed}`) || 1
  return Float32Array.from({ length: frames }, () => {
    state ^= state << 13
    state ^= state >>> 17
    state ^= state << 5
    return amplitude * ((state >>> 0) / 2147483648 - 1)
  })
}

export const sine = (frames: number, hz: number, amplitude = 0.5, rate = RATE): Float32Array =>
  Float32Array.from({ length: frames }, (_, n) => amplitude * Math.sin((2 * Math.PI * hz * n) / rate))

export const impulse = (frames: number, at: number): Float32Array => {
  const x = new Float32Array(frames)
  x[at] = 1
  return x
}

export const rmsDb = (x: ArrayLike<number>): number =>
  10 * Math.log10(Array.from(x).reduce((s, v) => s + v * v, 0) / x.length)
export const peak = (x: ArrayLike<number>): number => Array.from(x).reduce((m, v) => Math.max(m, Math.abs(v)), 0)

export const difference = (a: ArrayLike<number>, b: ArrayLike<number>): Float64Array =>
  Float64Array.from(a, (v, i) => v - b[i])

/** Renders taps of a session from frame 0. */
export async function renderTaps(
  session: Session,
  media: Record<string, Float32Array[]>,
  frames: number,
  options: CompileOptions,
  request?: number,
  from = 0
) {
  const reader = new MemoryMedia()
  for (const [id, legs] of Object.entries(media)) reader.set(id, legs)
  const plan = compile(session, options)
  return renderWhole(new PlanStream(plan, session, reader), { from, frames }, request)
}

/**
 * Highest product further than 100 Hz from the tone, in dB under it. 32,768 samples under a four-term Blackman-Harris
 * window.
 */
export function besideDb(x: Float32Array, hz = 1000): number {
  const n = 32768
  const [a0, a1, a2, a3] = [0.35875, 0.48829, 0.14128, 0.01168]
  const windowed = Float32Array.from({ length: n }, (_, i) => {
    const w = (2 * Math.PI * i) / n
    return x[i] * (a0 - a1 * Math.cos(w) + a2 * Math.cos(2 * w) - a3 * Math.cos(3 * w))
  })
  const h = spectrum(windowed, n)
  const power = (k: number) => h[2 * k] ** 2 + h[2 * k + 1] ** 2
  let top = 0,
    beside = 0
  for (let k = 1; k < n / 2; k++) {
    const f = (k * RATE) / n
    if (Math.abs(f - hz) <= 100) top = Math.max(top, power(k))
    else beside = Math.max(beside, power(k))
  }
  return 10 * Math.log10(beside / top)
}
