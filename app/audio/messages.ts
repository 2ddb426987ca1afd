// What the page, the planner and the engine say to each other. The page talks to the planner, which sends on what is
// for the engine, in order; the engine answers the page.
import type { TapName } from '@nullet/core/compile/plan'
import type { Heavy } from '@nullet/core/run/weights'
import type { RowChange, Session } from '@nullet/core/session/session'
import type { Update } from './planning'
import type { RingMemory } from './ring'

export interface Range {
  from: number
  to: number
}

/** Sent on by the planner. */
type Transport =
  | { kind: 'memory'; memory: RingMemory }
  | { kind: 'play'; from: number; until: number | null; repeat: Range | null }
  | { kind: 'stop' }
  | { kind: 'repeat'; repeat: Range | null }

export type ToPlanner =
  | Transport
  /** The engine’s end of a line to it. @param cores that this machine has */
  | { kind: 'engine'; port: MessagePort; cores: number }
  | { kind: 'session'; session: Session }
  | { kind: 'changes'; changes: RowChange[] }
  /** By how many dB channels are lowered while they are compared at equal loudness. */
  | { kind: 'trims'; trims: [string, number][] }
  /** The slot whose key is heard, and the slot that is looked at. */
  | { kind: 'listen'; keyOf: string | null; probe: string | null }
  /** Renders a range offline with the same engine, for comparison: SHA-256 and samples of the taps. */
  | { kind: 'render'; serial: number; tap: TapName; from: number; frames: number }

/** The session as it is now, or how it differs, with what comes of it. */
export interface Told {
  kind: 'planned'
  rows: { session: Session } | { changes: RowChange[] }
  update: Update
}
export type ToEngine = Transport | Told

/** The engine’s lines to the planner and to the thread that helps it. */
export interface Lines {
  planner: MessagePort
  helper: MessagePort | null
}

/** From a ring position on, source time runs on from a frame. */
export interface Mark {
  at: number
  frame: number
}

/**
 * What goes into the slot that is looked at, out of it, and steers it: power in dB in bands, highest levels since the
 * last time.
 */
export interface Probe {
  at: number
  slot: string
  in: Float32Array
  out: Float32Array
  key: Float32Array
  inDb: number
  outDb: number
  keyDb: number
}

export type ToPage =
  | {
      kind: 'plan'
      meters: string[]
      meterMemory: SharedArrayBuffer
      latency: number
      readAhead: number
      /** That work on it. */
      cores: 1 | 2
      heavy: Heavy[]
    }
  /** `since`: where what is heard began to run; 0 is the beginning, null where a hand has moved since. */
  | { kind: 'mark'; mark: Mark; first: boolean; since: number | null }
  | { kind: 'ended'; at: number }
  | { kind: 'error'; message: string }
  | { kind: 'probe'; probe: Probe }
  /** Channels that were muted because they put out values that are not numbers. */
  | { kind: 'faults'; channels: string[] }
  | { kind: 'rendered'; serial: number; audio: Float32Array[]; sha256: string }
