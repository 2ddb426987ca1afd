// For tests: signals by formula, renders into memory, levels.
import { compile, type CompileOptions } from './compile'
import { MemoryMedia } from './memoryMedia'
import { PlanStream, renderWhole } from './stream'
import { hash32 } from '../rig/seed'
import type { Session } from '../session/session'

export const RATE = 48000

/** White noise, −1 … 1 times amplitude, the same for the same seed. */
export function whiteNoise(frames: number, seed: number, amplitude = 0.5): Float32Array {
  let state = hash32(`noise ${seed}`) || 1
  return Float32Array.from({ length: frames }, () => {
    state ^= state << 13; state ^= state >>> 17; state ^= state << 5
    return amplitude * ((state >>> 0) / 2147483648 - 1)
  })
}

export const sine = (frames: number, hz: number, amplitude = 0.5, rate = RATE): Float32Array =>
  Float32Array.from({ length: frames }, (_, n) => amplitude * Math.sin(2 * Math.PI * hz * n / rate))

export const impulse = (frames: number, at: number): Float32Array => { const x = new Float32Array(frames); x[at] = 1; return x }

export const rmsDb = (x: ArrayLike<number>): number => 10 * Math.log10(Array.from(x).reduce((s, v) => s + v * v, 0) / x.length)
export const peak = (x: ArrayLike<number>): number => Array.from(x).reduce((m, v) => Math.max(m, Math.abs(v)), 0)

export const difference = (a: ArrayLike<number>, b: ArrayLike<number>): Float64Array => Float64Array.from(a, (v, i) => v - b[i])

/** Renders taps of a session from frame 0. */
export async function renderTaps(session: Session, media: Record<string, Float32Array[]>, frames: number, options: CompileOptions, request?: number, from = 0) {
  const reader = new MemoryMedia()
  for (const [id, legs] of Object.entries(media)) reader.set(id, legs)
  const plan = compile(session, options)
  return renderWhole(new PlanStream(plan, session, reader), { from, frames }, request)
}
