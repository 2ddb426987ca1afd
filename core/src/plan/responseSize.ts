// How large impulse responses are in a machine's memory. See kernels/convolve.ts.
import type { Op } from './operations'

const SIZES = [128, 1024, 8192] as const
/** Where in an operation's memory the twiddle factors stand, and where the response itself begins. Bytes. */
export const TWIDDLES_AT = 16
export const RESPONSE_AT = TWIDDLES_AT + 8193 * 16 + 16384 * 8 + 2 * 8196 * 4

/** Pieces of each size for so many frames: 1024 frames in the smallest, 8192 in the middle, the rest in the largest. */
export function piecesOf(frames: number): [number, number, number] {
  return [
    Math.ceil(Math.min(frames, 1024) / 128),
    Math.ceil(Math.max(0, Math.min(frames, 8192) - 1024) / 1024),
    Math.ceil(Math.max(0, frames - 8192) / 8192)
  ]
}
const total = (pieces: readonly number[], of: (size: number) => number) =>
  pieces.reduce((sum, n, i) => sum + n * of(SIZES[i]), 0)
export const spectraBytes = (pieces: readonly number[]) => total(pieces, size => (size + 4) * 8)

/** Bytes beside parameters and state. */
export const dataBytes = (op: Op): number => {
  if (!op.response) return 0
  const pieces = op.params.slice(1)
  return RESPONSE_AT + total(pieces, size => size * 4) + spectraBytes(pieces)
}
