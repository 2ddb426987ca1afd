// What a plan is made of: operations with their keys, signals on their way between them. No behaviour.

/** Numbers that kernels/walk.ts switches on. */
export const KIND = {
  source: 0,
  sink: 1,
  mix: 2,
  multiply: 3,
  delay: 4,
  fir: 5,
  equaliser: 6,
  magnitude: 7,
  compressor: 8,
  echo: 9,
  reverb: 10,
  noise: 11,
  clip: 12,
  bend: 13,
  meter: 14,
  drift: 15,
  gate: 16,
  peaks: 17,
  ceiling: 18,
  saturate: 19,
  swing: 20,
  spectral: 21,
  envelope: 22,
  lookup: 23,
  voice: 24,
  convolve: 25,
  wow: 26
} as const
export type Kind = keyof typeof KIND
/** A step of several operations, one after the other. */
export const STRIP = 27

/**
 * How keys of operations for a row begin. The stroke inside ids becomes one that no id has, so that no key runs into
 * another's.
 */
export const rowKey = (table: string, id: string): string => `${table}/${id.replaceAll('/', '|')}`

/** A second-order section of a filter. */
export type Section = [b0: number, b1: number, b2: number, a1: number, a2: number]

/** An impulse response, one of those made by code or a medium, and where it is cut. */
export interface ResponseWanted {
  id: string
  endS: number
}

/** Whose an operation is: a slot of a channel, a channel, or nobody's (ports, units, ears). */
export interface Owner {
  readonly channel: string | null
  readonly slot: string | null
}
export const NOBODY: Owner = { channel: null, slot: null }

export interface Op {
  kind: Kind
  owner: Owner
  /**
   * Names the same operation in the next plan, so that its state can be carried over. Begins with the table of the row
   * it is made for, since rows of two tables may share an id. Nobody takes it apart.
   */
  key: string
  ins: number[]
  outs: number[]
  params: number[]
  /** Numbers behind the parameters that never change: the same for all operations of a kind. */
  table?: readonly number[]
  /** Bytes of state. */
  state: number
  /** Settings that envelopes move: what moves alike is computed side by side. */
  moving?: string
  /** What a convolution is made with: brought in before the first block, see responses.ts. */
  response?: ResponseWanted & { leg: number; frames: number }
}

/** Is its first parameter where its samples lie? That is the machine’s to say. */
export const isPlaced = (op: Op): boolean => op.kind === 'source' || op.kind === 'sink' || !!op.response

/**
 * The same operation but for its parameters: of the same kind, with the same state and the same legs. A ring's or a
 * cascade's size is part of the shape.
 */
export const isSameShape = (a: Op, b: Op, isSameLeg = (x: number, y: number) => x === y): boolean =>
  a.kind === b.kind &&
  a.state === b.state &&
  a.params.length === b.params.length &&
  a.table?.length === b.table?.length &&
  a.ins.length === b.ins.length &&
  a.outs.length === b.outs.length &&
  a.ins.every((leg, i) => isSameLeg(leg, b.ins[i]!)) &&
  a.outs.every((leg, i) => isSameLeg(leg, b.outs[i]!)) &&
  (a.kind !== 'equaliser' || a.params[0] === b.params[0])

/** Legs of audio on their way: buffer numbers, what each leg is, and how late they are in samples. */
export interface Signal {
  legs: number[]
  layout: string[]
  latency: number
}

export interface Weighted {
  leg: number
  gain: number
}

export const BLOCK = 128
/** Frames of sinks that the host finds, and of media that are read at a time. */
export const CHUNK = 4096
/** Frames of sources that lie ready: as many as stay in the cache until all are used. */
export const STAGE = 512
/** Frames a leg of what lies between the module and its host. */
export const stagedFrames = ({ kind }: Op): number => (kind === 'source' ? STAGE : CHUNK)

export interface ReverbShape {
  preDelay: number
  longestPreDelay: number
  longestLine: number
  spreaders: number[]
  spread: number
  level: number
  lengths: number[]
  coefficients: number[]
  signs: number[]
}

export interface CeilingShape {
  most: number
  taps: number[]
  ceiling: number
  window: number
  release: number
  longest: number
}
