// What the two threads of a render say to each other, and the memory in which chunks cross over.
import { CHUNK } from '@nullet/core/plan/operations'

/** Audio that the first half wants, and where it is to be written: legs × frames, leg after leg. */
export interface Read {
  id: number
  medium: string
  from: number
  frames: number
  into: SharedArrayBuffer
}
export type ToHalf =
  { kind: 'start'; frame: number } | { kind: 'chunk'; from: number; slot: number } | { kind: 'read'; id: number }
export type FromHalf =
  | { kind: 'reads'; list: Read[] }
  | { kind: 'chunk'; from: number; faults: string[] }
  | { kind: 'failed'; message: string }

/** Legs × frames over memory that holds them one after the other. */
export const legsOver = (memory: SharedArrayBuffer, legs: number, frames: number): Float32Array[] =>
  Array.from({ length: legs }, (_, leg) => new Float32Array(memory, leg * frames * 4, frames))

/** Chunks that may be on their way: the first half runs ahead by all but the one that is read. */
export const SLOTS = 4

export const sharedSlots = (legs: number) => new SharedArrayBuffer(Math.max(1, SLOTS * legs) * CHUNK * 4)

/** Slots × legs × 4096 frames. */
export const slotsOver = (shared: SharedArrayBuffer, legs: number): Float32Array[][] =>
  Array.from({ length: SLOTS }, (_, slot) =>
    Array.from({ length: legs }, (_, leg) => new Float32Array(shared, (slot * legs + leg) * CHUNK * 4, CHUNK))
  )
