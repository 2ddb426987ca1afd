// Builds the operations of a plan. Every operation writes buffers of its own, so order follows from use alone;
// schedule.ts decides it and lets buffers be used again.
import { FLOOR_DB } from '../foundation/elementary'
import { piecesOf, spectraBytes } from './responseSize'
import { shortHash } from '../foundation/hash'
import type { EnvelopePoint } from '../session/rows'
import {
  BLOCK,
  NOBODY,
  type CeilingShape,
  type Kind,
  type Op,
  type Owner,
  type ResponseWanted,
  type ReverbShape,
  type Section,
  type Signal,
  type Weighted
} from './operations'

/** Smallest power of two that holds n + one block. */
export function ringSize(n: number): number {
  let size = 256
  while (size < n + BLOCK) size *= 2
  return size
}

export class PlanBuilder {
  readonly ops: Op[] = []
  private owner: Owner = NOBODY
  private moving: string | undefined

  /**
   * @param buffers where the numbers of its legs begin
   * @param isFixed no value will be written into the plan while it runs: what passes a leg on as it is needs no step
   */
  constructor(
    private buffers = 0,
    private readonly isFixed = false
  ) {}

  /** What is made inside belongs to this owner. */
  by<T>(owner: Owner, make: () => T): T {
    const before = this.owner
    this.owner = owner
    try {
      return make()
    } finally {
      this.owner = before
    }
  }

  /** Envelopes move these settings of what is made inside. */
  inMotion<T>(settings: readonly string[], make: () => T): T {
    this.moving = settings.join() || undefined
    try {
      return make()
    } finally {
      this.moving = undefined
    }
  }

  protected add(
    kind: Kind,
    key: string,
    ins: number[],
    outs: number,
    params: number[],
    state: number,
    more?: Pick<Op, 'response' | 'table'>
  ): number[] {
    const made = Array.from({ length: outs }, () => this.buffers++)
    const { owner, moving } = this
    this.ops.push({ kind, owner, key, ins, outs: made, params, state, ...(moving && { moving }), ...more })
    return made
  }

  private eachLeg(signal: Signal, make: (leg: number, index: number) => number): Signal {
    return { ...signal, legs: signal.legs.map(make) }
  }

  /** Audio from the host. `gains` a leg. */
  source(key: string, layout: string[], gains: number[]): Signal {
    return {
      legs: this.add('source', key, [], layout.length, [0, ...gains], 8 + 8 * layout.length),
      layout,
      latency: 0
    }
  }

  sink(key: string, signal: Signal): void {
    this.add('sink', key, signal.legs, 0, [0], 0)
  }
  meter(key: string, signal: Signal): void {
    this.add('meter', key, signal.legs, 0, [], 8 * signal.legs.length)
  }

  mix(key: string, inputs: Weighted[]): number {
    return this.add(
      'mix',
      key,
      inputs.map(i => i.leg),
      1,
      inputs.map(i => i.gain),
      8 + 8 * inputs.length
    )[0]
  }

  /** Legs that meet: their mix, or the only one of them where it is passed on as it is. */
  meeting(key: string, inputs: Weighted[]): number {
    const [only] = inputs
    return this.isFixed && inputs.length === 1 && only!.gain === 1 ? only!.leg : this.mix(key, inputs)
  }

  /** Every leg times one gain; gains may differ a leg. */
  gain(key: string, signal: Signal, gain: number | number[]): Signal {
    return this.eachLeg(signal, (leg, i) =>
      this.mix(`${key}/${i}`, [{ leg, gain: typeof gain === 'number' ? gain : gain[i] }])
    )
  }

  /** a·x + b·y, leg by leg. Both must be aligned. */
  blend(key: string, x: Signal, a: number, y: Signal, b: number): Signal {
    return this.eachLeg(x, (leg, i) =>
      this.mix(`${key}/${i}`, [
        { leg, gain: a },
        { leg: y.legs[i], gain: b }
      ])
    )
  }

  multiply(key: string, signal: Signal, curve: number): Signal {
    return this.eachLeg(signal, (leg, i) => this.scaled(`${key}/by/${i}`, leg, curve))
  }

  /**
   * The curve of an envelope for a signal of that latency: gain where its values are dB, else the value. Room for as
   * many points again.
   */
  envelope(key: string, points: readonly EnvelopePoint[], decibels: boolean, latency: number): number {
    let room = 8
    while (room < points.length) room *= 2
    const params = [
      latency,
      decibels ? 1 : 0,
      points.length,
      ...points.flatMap(([frame, value]) => [frame, value ?? FLOOR_DB])
    ]
    return this.add(
      'envelope',
      key,
      [],
      1,
      [...params, ...new Array<number>(3 + 2 * room - params.length).fill(0)],
      16
    )[0]
  }

  /** Notes as sound. Other notes are another operation, so that one plan fades into the other. */
  voice(key: string, params: number[]): number {
    return this.add('voice', `${key}/${shortHash(params.join())}`, [], 1, params, 0)[0]
  }

  /** A curve from −1 to 1 through a table. */
  lookup(key: string, curve: number, table: readonly number[]): number {
    return this.add('lookup', key, [curve], 1, [table.length - 1, ...table], 0)[0]
  }

  /** One leg times a curve. */
  scaled(key: string, leg: number, curve: number): number {
    return this.add('multiply', key, [leg, curve], 1, [], 0)[0]
  }

  /** Delay in whole samples that counts as latency. */
  delay(key: string, signal: Signal, samples: number): Signal {
    if (samples === 0) return signal
    return { ...this.shift(key, signal, samples), latency: signal.latency + samples }
  }

  /** Delay in whole samples that is part of the sound. */
  shift(key: string, signal: Signal, samples: number, ring = ringSize(samples)): Signal {
    return this.eachLeg(
      signal,
      (leg, i) => this.add('delay', `${key}/${i}`, [leg], 1, [samples, ring], 8 + ring * 4)[0]
    )
  }

  /** All signals as late as the latest. */
  align<S extends Signal>(key: (index: number) => string, signals: S[]): S[] {
    const latest = Math.max(0, ...signals.map(s => s.latency))
    return signals.map((s, i) => ({ ...s, ...this.delay(key(i), s, latest - s.latency) }))
  }

  fir(key: string, signal: Signal, taps: number[]): Signal {
    return this.eachLeg(
      signal,
      (leg, i) => this.add('fir', `${key}/${i}`, [leg], 1, [taps.length, ...taps], (taps.length + BLOCK) * 4)[0]
    )
  }

  /** @param settings of sections that may move, four numbers each, see kernels/equaliser.ts */
  filter(key: string, signal: Signal, sections: Section[], settings = sections.map(() => [0, 0, 0, 0])): Signal {
    if (!sections.length) return signal
    const state = 8 + 56 * sections.length
    return this.eachLeg(signal, (leg, i) => {
      const params = [sections.length]
      for (const [b0, b1, b2, a1, a2] of sections) params.push(b0, b1, b2, a1, a2)
      for (const four of settings) params.push(...four)
      return this.add('equaliser', `${key}/${i}`, [leg], 1, params, state)[0]
    })
  }

  /** A compressor's gain, one curve for all legs. params: see kernels/compressor.ts */
  gainCurve(key: string, detector: Signal, params: number[]): number {
    // The curve squares what it is given: one leg needs no magnitude.
    const level =
      detector.legs.length === 1 ? detector.legs[0] : this.add('magnitude', `${key}/level`, detector.legs, 1, [], 0)[0]
    return this.add('compressor', `${key}/curve`, [level], 1, params, 40)[0]
  }

  /** A gate's or ducker's gain, one curve for all legs. params: see kernels/dynamics.ts */
  switchCurve(key: string, detector: Signal, params: number[]): number {
    const level = this.add('magnitude', `${key}/level`, detector.legs, 1, [], 0)[0]
    return this.add('gate', `${key}/curve`, [level], 1, params, 32)[0]
  }

  /** A limiter's gain for a signal: late by 16 samples and the window less one. */
  ceilingCurve(key: string, signal: Signal, { most, taps, ceiling, window, release, longest }: CeilingShape): number {
    const peaks = this.eachLeg(
      signal,
      (leg, i) =>
        this.add('peaks', `${key}/peaks/${i}`, [leg], 1, [most, ceiling], (32 + BLOCK) * 4, { table: taps })[0]
    )
    const ring = ringSize(longest)
    return this.add('ceiling', `${key}/curve`, peaks.legs, 1, [ceiling, window, release, ring], 48 + ring * 24)[0]
  }

  /** params: drive, bias, level */
  saturate(key: string, signal: Signal, params: number[], taps: number[]): Signal {
    return {
      ...this.eachLeg(
        signal,
        (leg, i) =>
          this.add('saturate', `${key}/${i}`, [leg], 1, params, (32 + BLOCK + 384 + 12 * BLOCK) * 4 + 64, {
            table: taps
          })[0]
      ),
      latency: signal.latency + 32
    }
  }

  /** params: see kernels/spectral.ts */
  spectral(key: string, signal: Signal, steer: number, params: number[]): Signal {
    return {
      ...signal,
      legs: this.add(
        'spectral',
        key,
        [steer, ...signal.legs],
        signal.legs.length,
        params,
        params[0] * (5 + 4 * signal.legs.length) * 16
      )
    }
  }

  /** `phases` a leg, in turns. */
  swing(key: string, signal: Signal, [step, depth]: number[], triangle: boolean, phases: number[]): Signal {
    return this.eachLeg(
      signal,
      (leg, i) =>
        this.add('swing', `${key}/${i}`, [leg], 1, [step, depth, triangle ? 1 : 0, phases[i], signal.latency], 40)[0]
    )
  }

  /**
   * Every leg with its leg of a response of so many frames. Another response is another operation, so that one plan
   * fades into the other.
   */
  convolve(key: string, signal: Signal, wanted: ResponseWanted, frames: number): Signal {
    const pieces = piecesOf(frames)
    return this.eachLeg(
      signal,
      (leg, i) =>
        this.add(
          'convolve',
          `${key}/convolve/${shortHash(`${wanted.id} ${wanted.endS} ${frames}`)}/${i}`,
          [leg],
          1,
          [0, ...pieces],
          16 + (8192 + 32768) * 4 + spectraBytes(pieces),
          { response: { ...wanted, leg: i, frames } }
        )[0]
    )
  }

  echo(key: string, signal: Signal, [samples, ...rest]: number[], longest: number): Signal {
    const ring = ringSize(longest)
    const legs = signal.legs.length
    return {
      ...signal,
      legs: this.add('echo', key, signal.legs, legs, [samples, ring, ...rest], 16 + legs * (16 + ring * 4))
    }
  }

  reverb(key: string, signal: Signal, r: ReverbShape): Signal {
    const legs = signal.legs.length
    const ring = ringSize(r.longestLine),
      entry = ringSize(r.longestPreDelay)
    return {
      ...signal,
      legs: this.add(
        'reverb',
        key,
        signal.legs,
        legs,
        [legs, r.preDelay, ring, entry, ...r.spreaders, r.spread, r.level, ...r.lengths, ...r.coefficients, ...r.signs],
        32 + 64 + 256 + ring * 64 + legs * 3 * entry * 4
      )
    }
  }

  noise(key: string, signal: Signal, rms: number, seed: number): Signal {
    return this.eachLeg(
      signal,
      (leg, i) => this.add('noise', `${key}/${i}`, [leg], 1, [rms, seed + i * 7919, signal.latency], 0)[0]
    )
  }

  clip(key: string, signal: Signal, ceiling: number): Signal {
    return this.eachLeg(signal, (leg, i) => this.add('clip', `${key}/${i}`, [leg], 1, [ceiling], 8)[0])
  }

  /** A clock that runs free by so many parts per million. */
  drift(key: string, signal: Signal, ppm: number): Signal {
    return this.eachLeg(signal, (leg, i) => this.add('drift', `${key}/${i}`, [leg], 1, [ppm], 8 + 1024 * 4)[0])
  }

  /** A delay that wanders: `sines` with their swing in samples, turns a frame, and where they begin in turns. */
  wow(
    key: string,
    signal: Signal,
    samples: number,
    ring: number,
    sines: readonly { swing: number; turns: number; from: number }[]
  ): Signal {
    const params = [samples, ring, ...sines.flatMap(s => [s.swing, s.turns, s.from])]
    return this.eachLeg(signal, (leg, i) => this.add('wow', `${key}/${i}`, [leg], 1, params, 8 + 4 * ring)[0])
  }

  bend(key: string, signal: Signal, drive: number, bias: number, level: number, taps: number[]): Signal {
    const state = (16 + BLOCK) * 4 + (64 + 512) * 8
    return this.eachLeg(
      signal,
      (leg, i) => this.add('bend', `${key}/${i}`, [leg], 1, [drive, bias, level], state, { table: taps })[0]
    )
  }

  silence(key: string, layout: string[]): Signal {
    return { legs: layout.map((_, i) => this.mix(`${key}/silence/${i}`, [])), layout, latency: 0 }
  }
}
