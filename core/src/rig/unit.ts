// What every simulated unit says about itself. Levels inside the rig are analog: a sine of peak 1 is 0 dBu.
import type { Params } from '../session/rows'
import type { PlanBuilder } from '../plan/builder'
import type { Signal } from '../plan/operations'
import type { Parameter } from '../processors/processor'

export interface UnitContext {
  builder: PlanBuilder
  key: string
  settings: Params
  sampleRate: number
  seed: number
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
  /**
   * Every jack in belongs to the jack out of the same number and to no other: each side may have an owner of its own.
   */
  apart?: true
  linear: boolean
  version: number
  /** One mono signal an input jack in, one an output jack out. Noise is added by the caller. */
  build(inputs: Signal[], context: UnitContext): Signal[]
}
