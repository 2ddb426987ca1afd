// What is asked of a session, and the plan that answers it.
import { rowKey, type Op } from '../plan/operations'
import type { Channel, Tap } from '../session/rows'
import type { SlotMove } from './moves'

export interface TapName {
  channel: string
  tap: Tap
}
export const tapKey = (t: TapName) => `${t.channel}@${t.tap}`

export interface CompileOptions {
  taps: TapName[]
  /** Seed of everything analog in this pass; the session's own when left out. */
  seed?: number
  /** Live: solo counts, gates stay in the plan so that they can move, every channel has a meter. */
  live?: boolean
  /** What goes to the ears, as stereo, exactly this late in samples. */
  heard?: {
    channel: string
    latency: number
    /** Lowers it for comparing at equal loudness; never part of a print. */ trimDb?: number
    /** Instead of the channel, what steers this slot. */ keyOf?: string
  }
  /** A slot that is looked at: sinks `probe/in`, `probe/out` and `probe/key`. */
  probe?: string
  /** Contribution: only these tracks are let through main feeds and sends; keys still hear everything. */
  only?: ReadonlySet<string>
  /** As if these channels were not there: none of their feeds is let through, keys and ports included. */
  without?: ReadonlySet<string>
  /** Slots whose key input, and ports out whose sum, are wanted too: sinks `key/<slot>` and `port/<id>`. */
  keys?: readonly string[]
  ports?: readonly string[]
}

/** What is filled from media: the clips of a channel, or what a player of the rig plays. */
export interface PlanSource {
  key: string
  channel: string | null
  unit?: string
  layout: string[]
}
/** By the take too: another one is another source, into which what is heard is faded. */
export const clipsKey = ({ id, take }: Channel): string =>
  `clips/${rowKey('channel', id)}${take === null ? '' : `/${take}`}`

export interface PlanSink {
  key: string
  layout: string[]
  latency: number
}
export interface Plan {
  ops: Op[]
  sources: PlanSource[]
  sinks: Map<string, PlanSink>
  /** Slots whose settings follow envelopes. */
  moves: SlotMove[]
  /** Frame of the first note that a voice plays. */
  firstNote: number
  /** Does anything in it sound by itself? Otherwise a render may start where the first clip does. */
  noisy: boolean
}
