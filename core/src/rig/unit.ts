// What every simulated unit says about itself. Levels inside the rig are analog: a sine of peak 1 is 0 dBu.
import type { Params } from '../session/rows'
import type { PlanBuilder } from '../plan/builder'
import type { Signal } from '../plan/operations'
import { complete, type Parameter } from '../processors/processor'

export interface UnitContext {
  builder: PlanBuilder
  key: string
  settings: Params
  sampleRate: number
  seed: number
}

/** What is published of a unit as it comes; units.test.ts measures it again. Tones are sines of 1 kHz. */
export interface UnitFigures {
  nominalDbu: number
  /** Harmonics against the fundamental in per cent, at nominal level and 10 dB above it. */
  distortion: readonly [number, number]
  /** Between these it is no more than 3 dB below its level at 1 kHz; null where it has no response to speak of. */
  bandHz: readonly [number, number] | null
  /** From one side to the other, at least so many dB down; null where there is one side, or where sides are mixed. */
  crosstalkDb: number | null
  /** Until the first sound at 48 kHz. */
  delayMs: number
}

export interface UnitModel {
  model: string
  label: string
  /** What it does, in a sentence. */
  about: string
  inputs: string[]
  outputs: string[]
  settings: readonly Parameter[]
  /** RMS noise at each output, dBu unweighted; −∞ for none. */
  noiseDbu: number
  /** Peak level at which its stages clip, in dBu; +∞ for a wire. */
  clipDbu: number
  /** Passive units have no power to forget. */
  passive: boolean
  figures: UnitFigures
  /**
   * Every jack in belongs to the jack out of the same number and to no other: each side may have an owner of its own.
   */
  apart?: true
  /** Jacks in that it listens to, as its switches stand; all of them where this is left out. */
  listensTo?(settings: Params): readonly number[]
  /** Jacks in that expect an instrument: a high impedance, and less than a line gives. */
  instrument?: readonly number[]
  /** Jacks out that are for listening beside what is recorded: nothing is re-amped or summed through them. */
  monitors?: readonly number[]
  /** It has no jacks in and plays the row's medium: a signal for each jack out goes into `build`. */
  plays?: true
  /** Its digital jacks in and the one rate that they run at. */
  digital?: { inputs: readonly number[]; rate: number }
  linear: boolean
  version: number
  /** One mono signal an input jack in, one an output jack out. Noise is added by the caller. */
  build(inputs: Signal[], context: UnitContext): Signal[]
}

export const unitSettings = (model: UnitModel, settings: Params): Params => complete(model.settings, settings)

/** Left and right of a unit as one signal. */
export const pairOf = (inputs: readonly Signal[]): Signal => ({
  legs: inputs.flatMap(i => i.legs),
  layout: ['L', 'R'],
  latency: inputs[0].latency
})
/** One signal a leg. */
export const sidesOf = (signal: Signal): Signal[] => signal.legs.map(leg => ({ ...signal, layout: ['M'], legs: [leg] }))
