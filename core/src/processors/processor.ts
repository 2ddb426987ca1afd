// What every processor says about itself. The interface, validation and documents are derived from this.
import type { Params } from '../session/rows'
import type { PlanBuilder } from '../plan/builder'
import type { Kind, Signal } from '../plan/operations'

export type Parameter = {
  name: string
  label: string
  unit?: 'dB' | 'Hz' | 'ms' | 's' | '%' | ':1' | 'dB/oct'
  /** One of a list instead of a number. */
  choices?: readonly string[]
  min?: number
  max?: number
  /** The choices, or the id of a medium of the session. */
  medium?: true
  /** How a control moves: in equal steps or in equal ratios. */
  law?: 'linear' | 'ratio'
  /** Sets the latency or the plan's shape: it cannot follow an envelope. */
  shapes?: true
  /** Does it count with the other settings as they are? Always, where this is left out. */
  counts?(params: Params): boolean
  /** What one should know before turning it that far, in a sentence. */
  note?: string
  initial: number | string
}

export interface BuildContext {
  builder: PlanBuilder
  /** Prefix of the keys of all operations made for this slot: states are carried over by it. */
  key: string
  params: Params
  sampleRate: number
  /** Milliseconds of a beat where the session begins. */
  beatMs: number
  /** Frames of an impulse response by its id; 0 when it is not there. */
  responseFrames(id: string): number
  /** What is heard at the key input: the channel itself unless key feeds arrive. Aligned with the audio. */
  keySignal: Signal
}

export interface Processor {
  id: string
  label: string
  /** Raised whenever the same settings sound different: part of fingerprints. */
  version: number
  parameters: readonly Parameter[]
  keyed: boolean
  /** Does it obey superposition? Stems through processors that do not need not add up. */
  linear: boolean
  /**
   * Settings in dB that go along when the signal's level moves, so that only the level changes: +1 with it, −1 against
   * it.
   */
  followsLevel?: readonly { name: string; by: 1 | -1 }[]
  /** Seconds that it rings on after its input; left out where it does not. */
  tailS?(params: Params, context: Pick<BuildContext, 'beatMs' | 'responseFrames' | 'sampleRate'>): number
  build(signal: Signal, context: BuildContext): Signal
  /**
   * Where one setting stands in the parameters of the slot's operations: a quicker way to move it than to build
   * everything. Nowhere, where it moves more than that.
   */
  standsIn?(setting: string, params: Params, sampleRate: number): readonly Standing[]
}

/** Some parameters of all operations of a kind in a slot. */
export interface Standing {
  kind: Kind
  /** The first of them. */
  at: number
  /** So only while nothing else of the slot moves. */
  byItself?: true
  /** What they are with these settings, of which this one is `value`. */
  values(params: Params, value: number): readonly number[]
}

/** One parameter of an operation, and the settings that it is made of. */
export interface Derived {
  from: readonly string[]
  value(params: Params, sampleRate: number): number
}

/** A setting as it is, or what becomes of it. */
export const derived = (setting: string, of: (value: number, sampleRate: number) => number = v => v): Derived => ({
  from: [setting],
  value: (params, sampleRate) => of(params[setting] as number, sampleRate)
})

export const valuesOf = (all: readonly Derived[], params: Params, sampleRate: number): number[] =>
  all.map(d => d.value(params, sampleRate))

/**
 * Where a setting stands.
 * @param first where the derived parameters begin among those of the operation */
export const standingsOf = (
  kind: Kind,
  all: readonly Derived[],
  setting: string,
  sampleRate: number,
  first = 0
): Standing[] =>
  all.flatMap(({ from, value }, i) =>
    from.includes(setting) ? { kind, at: first + i, values: params => [value(params, sampleRate)] } : []
  )

/** Stored settings over defaults; unknown names are kept aside by the caller, not used. */
export function complete(parameters: readonly Parameter[], params: Params): Params {
  const full: Params = {}
  for (const p of parameters) full[p.name] = params[p.name] ?? p.initial
  return full
}

/** The first setting that is not known or not within its range, as a sentence; null when all are right. */
export function paramFault(parameters: readonly Parameter[], params: Params): string | null {
  for (const [name, value] of Object.entries(params)) {
    const p = parameters.find(p => p.name === name)
    if (!p) return `there is no setting “${name}”`
    if (p.medium && typeof value === 'string') continue
    if (
      p.choices
        ? !p.choices.includes(value as string)
        : typeof value !== 'number' || !(value >= p.min! && value <= p.max!)
    ) {
      const range = p.choices ? p.choices.join(', ') : `${p.min} to ${p.max}${p.unit ? ` ${p.unit}` : ''}`
      return `${p.label} cannot be ${value}; it takes ${range}`
    }
  }
  return null
}
