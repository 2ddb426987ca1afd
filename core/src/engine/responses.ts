// Impulse responses in a machine's memory: how large they are there, and how they come there. See kernels/convolve.ts.
import { PI, cos, sin } from '../elementary'
import { shaped } from '../processors/convolution'
import { makeResponse, RESPONSES } from '../processors/responses'
import { settings, type Session } from '../session/session'
import type { Op } from './builder'
import type { Machine } from './machine'
import type { MediaReader } from './stream'

const SIZES = [128, 1024, 8192] as const
const TWIDDLES = 16, BEFORE = TWIDDLES + 8193 * 16 + 16384 * 8 + 2 * 8196 * 4

/** Pieces of each size for so many frames: 1024 frames in the smallest, 8192 in the middle, the rest in the largest. */
export function piecesOf(frames: number): [number, number, number] {
  return [Math.ceil(Math.min(frames, 1024) / 128), Math.ceil(Math.max(0, Math.min(frames, 8192) - 1024) / 1024), Math.ceil(Math.max(0, frames - 8192) / 8192)]
}
const total = (pieces: readonly number[], of: (size: number) => number) => pieces.reduce((sum, n, i) => sum + n * of(SIZES[i]), 0)
export const spectraBytes = (pieces: readonly number[]) => total(pieces, size => (size + 4) * 8)

/** Bytes beside parameters and state. */
export const dataBytes = (op: Op): number => {
  if (!op.response) return 0
  const pieces = op.params.slice(1)
  return BEFORE + total(pieces, size => size * 4) + spectraBytes(pieces)
}

let twiddles: Float64Array | undefined
function makeTwiddles(): Float64Array {
  const out = new Float64Array(8193 * 2)
  for (let k = 0; k <= 8192; k++) { const w = -2 * PI * k / 16384; out[2 * k] = cos(w); out[2 * k + 1] = sin(w) }
  return out
}

/** Responses in the order in which a plan needs them, read and shaped once each. */
export async function bringResponses(machine: Machine, ops: readonly Op[], session: Session, media: MediaReader): Promise<void> {
  const made = new Map<string, Float32Array[]>()
  for (const op of ops) {
    if (!op.response || machine.hasData(op.key)) continue
    const { id, endS, leg, frames } = op.response
    const name = `${id} ${endS}`
    if (!made.has(name)) {
      const rate = settings(session).sampleRate
      const legs = id in RESPONSES ? makeResponse(id, rate) : (await media.read(id, 0, session.medium[id].frames)).map(l => l.slice())
      made.set(name, shaped(legs, { id, endS }, rate))
    }
    const legs = made.get(name)!
    const data = machine.dataOf(op.key)
    new Float64Array(data.buffer, data.byteOffset + TWIDDLES, 8193 * 2).set(twiddles ??= makeTwiddles())
    new Float32Array(data.buffer, data.byteOffset + BEFORE, frames).set(legs[Math.min(leg, legs.length - 1)].subarray(0, frames))
  }
}

/** Frames of a response by its id; 0 when it is not there. */
export function responseFrames(session: Session, id: string): number {
  if (id in RESPONSES) return Math.ceil(Math.max(...RESPONSES[id].decay) * 70 / 60 * settings(session).sampleRate)
  return session.medium[id]?.frames ?? 0
}
