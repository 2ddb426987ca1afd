// Memory that the engine's worker writes and the output worklet reads, with the meters of every block beside the sound.
// One writer, one reader, nothing allocated after `ringMemory`. Positions are frames since the ring was made.

import { BLOCK } from '@nullet/core/plan/operations'

export { BLOCK }
export const RING_FRAMES = 65536
export const METER_SLOTS = 1024

/** Words of the control area. */
export const WORD = {
  /** Frames written and frames put out, modulo 2³⁰. */
  written: 0,
  read: 1,
  /** 1 while the worklet may take frames. */
  running: 2,
  /** Raised when the writer starts somewhere else: the reader fades out and goes on at `jumpTo`. */
  jump: 3,
  jumpTo: 4,
  underruns: 5,
  /** The last jump that the reader has followed. */
  followed: 6,
  count: 16
} as const

export const WRAP = 2 ** 30

export interface RingMemory {
  control: SharedArrayBuffer
  audio: SharedArrayBuffer
}

export function ringMemory(): RingMemory {
  return { control: new SharedArrayBuffer(WORD.count * 4), audio: new SharedArrayBuffer(RING_FRAMES * 2 * 4) }
}

export interface Ring {
  control: Int32Array
  left: Float32Array
  right: Float32Array
}

export const ringOver = (m: RingMemory): Ring => ({
  control: new Int32Array(m.control),
  left: new Float32Array(m.audio, 0, RING_FRAMES),
  right: new Float32Array(m.audio, RING_FRAMES * 4, RING_FRAMES)
})

/** Frames from a to b on the wrapping count. */
export const ahead = (a: number, b: number) => (((b - a) % WRAP) + WRAP) % WRAP

/** Values that are shown when their block is heard: as many beside each block as the plan has. */
export interface Meters {
  values: Float32Array
  width: number
}
/** @param width values beside a block */
export const meterMemory = (width: number) => new SharedArrayBuffer(METER_SLOTS * width * 4)
export const metersOver = (memory: SharedArrayBuffer): Meters => ({
  values: new Float32Array(memory),
  width: memory.byteLength / 4 / METER_SLOTS
})

/** Place of the meters of the block that starts at a ring position. */
export const meterSlot = (position: number, width: number) => (Math.floor(position / BLOCK) % METER_SLOTS) * width
