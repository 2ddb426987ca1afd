// What the two threads of a render say to each other, and the memory in which chunks cross over.
import { CHUNK } from '@nullet/core/plan/operations'

export interface Read {
  id: number
  medium: string
  from: number
  frames: number
}
export type ToHalf =
  | { kind: 'start'; frame: number }
  | { kind: 'chunk'; from: number; slot: number }
  | { kind: 'audio'; id: number; audio: Float32Array[] }
export type FromHalf =
  | { kind: 'reads'; list: Read[] }
  | { kind: 'chunk'; from: number; faults: string[] }
  | { kind: 'failed'; message: string }

/** Chunks that may be on their way: the first half runs ahead by all but the one that is read. */
export const SLOTS = 4

export const sharedSlots = (legs: number) => new SharedArrayBuffer(Math.max(1, SLOTS * legs) * CHUNK * 4)

/** Slots × legs × 4096 frames. */
export const slotsOver = (shared: SharedArrayBuffer, legs: number): Float32Array[][] =>
  Array.from({ length: SLOTS }, (_, slot) =>
    Array.from({ length: legs }, (_, leg) => new Float32Array(shared, (slot * legs + leg) * CHUNK * 4, CHUNK))
  )
