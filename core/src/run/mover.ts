// Keeps slots where their envelopes are. Once a block the settings at the block's end are turned into parameters of the
// slot's operations; the kernels go there in a straight line over the block. Which operations those are is found out
// once: from then on only numbers are made and written.
import type { SlotMove } from '../compile/moves'
import { readerOf } from '../movement/envelope'
import { PlanBuilder } from '../plan/builder'
import { type Kind, rowKey } from '../plan/operations'
import type { Params } from '../session/rows'
import type { BuildContext, Standing } from '../processors/processor'
import { PROCESSORS } from '../processors/table'
import type { Machine } from './machine'

/** What a processor asks of a builder: parameters, and of which operations. */
class Recording extends PlanBuilder {
  asked: { kind: Kind; key: string; params: number[] }[] = []

  protected override add(...[kind, key, , outs, params]: Parameters<PlanBuilder['add']>): number[] {
    this.asked.push({ kind, key, params })
    return (LEGS[outs] ??= new Array<number>(outs).fill(0))
  }
}
/** Legs that lead nowhere, by their number. */
const LEGS: number[][] = []

type Values = Float64Array | undefined
/** A setting that stands in some places, and where those are. */
interface Stands extends Pick<Standing, 'at' | 'values'> {
  places: readonly Float64Array[]
}

/** One slot, with where its parameters lie in a machine. */
class Moving {
  private readonly recording = new Recording()
  private readonly context: BuildContext | null
  private readonly mixes: readonly Values[]
  private readonly fields: { name: string; read: (frame: number) => number; value: number; moved: boolean }[]
  private readonly mix: { read: (frame: number) => number; value: number } | null
  /** Of what building asks, one after the other; null: nothing was built yet. */
  private places: readonly Values[] | null = null
  /** Where each field stands; nowhere, where it stands in no known places, or is not alone where it must be. */
  private stands: readonly (readonly Stands[])[] = []

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
    this.fields = fields.map(f => ({ name: f.name, read: readerOf(f.points, f.law), value: NaN, moved: false }))
    this.mix = mix && { read: readerOf(mix.points, mix.law), value: NaN }
    this.mixes = mix ? signal.legs.map((_, leg) => machine.placeOf(`${rowKey('slot', slot)}/mix/${leg}`)) : []
  }

  /** @param frame of the machine */
  to(frame: number): void {
    const { fields, mix, move, context } = this,
      at = frame - move.signal.latency
    let isMoved = false
    for (const field of fields) {
      const value = field.read(at)
      field.moved = value !== field.value
      if (!field.moved) continue
      field.value = value
      isMoved = true
      if (context) context.params[field.name] = value
    }
    if (isMoved && context) this.settle(context)
    if (!mix) return
    const value = mix.read(at)
    if (value === mix.value) return
    mix.value = value
    for (const place of this.mixes) if (place) this.machine.write(place, [value, 1 - value])
  }

  private settle(context: BuildContext): void {
    const { fields, stands } = this
    const isBuilt = !this.places || fields.some((f, i) => f.moved && !stands[i].length)
    if (isBuilt) this.build(context)
    // What stands somewhere is put there even so: kernels may make of it what they make of it in every block.
    for (let i = 0; i < fields.length; i++)
      if (isBuilt || fields[i].moved) for (const one of this.stands[i]) this.put(one, context.params, fields[i].value)
  }

  private put({ places, at, values }: Stands, params: Params, value: number): void {
    const now = values(params, value)
    for (const place of places) this.machine.write(place, now, at)
  }

  private build(context: BuildContext): void {
    const { recording, move, machine } = this,
      processor = PROCESSORS[move.made!.processor]
    recording.asked = []
    processor.build(move.signal, context)
    const { asked } = recording
    if (!this.places) {
      const places = (this.places = asked.map(({ key }) => machine.placeOf(key)))
      this.stands = this.fields.map(({ name }) => {
        const stands = processor.standsIn?.(name, context.params, context.sampleRate) ?? []
        if (this.fields.length > 1 && stands.some(s => s.byItself)) return []
        return stands.map(({ kind, at, values }) => ({
          at,
          values,
          places: places.filter((place, i): place is Float64Array => !!place && asked[i].kind === kind)
        }))
      })
    }
    for (let i = 0; i < asked.length; i++) {
      const place = this.places[i],
        { params } = asked[i]
      // Other lengths would be another shape and are left alone.
      if (place?.length === params.length) machine.write(place, params)
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
