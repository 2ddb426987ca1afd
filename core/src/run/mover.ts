// Keeps slots where their envelopes are. Once a block the settings at the block's end are turned into parameters of the
// slot's operations; the kernels go there in a straight line over the block. Which operations those are is found out
// once: from then on only numbers are made and written.
import type { MovingField, SlotMove } from '../compile/moves'
import { valueAt } from '../movement/envelope'
import { PlanBuilder } from '../plan/builder'
import { rowKey } from '../plan/operations'
import type { BuildContext, Standing } from '../processors/processor'
import { PROCESSORS } from '../processors/table'
import type { Machine } from './machine'

/** What a processor asks of a builder: its parameters, and whose they are where that is wanted. */
class Recording extends PlanBuilder {
  asked: number[][] = []
  keys: string[] | null = null

  protected override add(...[, key, , outs, params]: Parameters<PlanBuilder['add']>): number[] {
    this.asked.push(params)
    this.keys?.push(key)
    return (LEGS[outs] ??= new Array<number>(outs).fill(0))
  }
}
/** Legs that lead nowhere, by their number. */
const LEGS: number[][] = []

/** One slot, with where its parameters lie in a machine. */
class Moving {
  private readonly recording = new Recording()
  private readonly context: BuildContext | null
  private places: (Float64Array | undefined)[] | null = null
  private readonly mixes: (Float64Array | undefined)[]
  private readonly all: MovingField[]
  private readonly values: number[]
  /** Numbers of settings that are others now. */
  private readonly moved: number[] = []
  private readonly standings: (Standing | null)[]

  constructor(
    private readonly move: SlotMove,
    private readonly machine: Machine
  ) {
    const { made, fields, mix, slot, signal } = move
    this.context = made && {
      ...made,
      params: { ...made.params },
      builder: this.recording,
      responseFrames: () => made.responseFrames
    }
    this.all = mix ? [...fields, mix] : fields
    this.values = this.all.map(() => NaN)
    const processor = made && PROCESSORS[made.processor]
    this.standings = fields.map(f => processor?.standsIn?.(f.name, made!.params) ?? null)
    this.mixes = mix ? signal.legs.map((_, leg) => machine.placeOf(`${rowKey('slot', slot)}/mix/${leg}`)) : []
  }

  /** @param frame of the machine */
  to(frame: number): void {
    const { all, values, move } = this,
      at = frame - move.signal.latency
    this.moved.length = 0
    let isMixed = false
    for (let i = 0; i < all.length; i++) {
      const value = valueAt(all[i].points, at, all[i].law)
      if (value === values[i]) continue
      values[i] = value
      if (i < move.fields.length) this.moved.push(i)
      else isMixed = true
    }
    if (this.moved.length) this.settle()
    if (!isMixed) return
    const mix = values[values.length - 1]
    for (const place of this.mixes) if (place) this.machine.write(place, [mix, 1 - mix])
  }

  private settle(): void {
    const { recording, context, move, values } = this
    if (!context || !move.made) return
    const { params, sampleRate } = context
    for (let i = 0; i < move.fields.length; i++) params[move.fields[i].name] = values[i]
    if (this.places && this.moved.every(i => this.standings[i])) {
      for (const i of this.moved) {
        const { at, values: now } = this.standings[i]!,
          stands = now(params, sampleRate)
        for (const place of this.places) if (place) this.machine.write(place, stands, at)
      }
      return
    }
    recording.asked = []
    recording.keys = this.places ? null : []
    PROCESSORS[move.made.processor].build(move.signal, context)
    this.places ??= recording.keys!.map(key => this.machine.placeOf(key))
    for (let i = 0; i < recording.asked.length; i++) {
      const place = this.places[i],
        asked = recording.asked[i]
      // Other lengths would be another shape and are left alone.
      if (place?.length === asked.length) this.machine.write(place, asked)
    }
  }
}

export class Mover {
  private moving: { move: SlotMove; slot: Moving }[] = []

  constructor(
    private readonly moves: readonly SlotMove[],
    private readonly machine: Machine
  ) {}

  /** @param frame machine frame at which the next block ends */
  to(frame: number): void {
    for (let i = 0; i < this.moves.length; i++) {
      const move = this.moves[i]
      if (this.moving[i]?.move !== move) this.moving[i] = { move, slot: new Moving(move, this.machine) }
      this.moving[i].slot.to(frame)
    }
  }

  /** Everything is set anew with the next block. */
  forget(): void {
    this.moving = []
  }
}
