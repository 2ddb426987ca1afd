// A plan laid out in the WebAssembly module's memory, run block by block.
// Nothing is allocated after `new Machine`: running only writes into memory that is there.
import { BLOCK, isPlaced, stagedFrames, type Op } from '../plan/operations'
import { Glides } from './glide'
import { dataBytes } from '../plan/responseSize'
import { kernelsOn } from './kernels'
import { copyOf, layOut, type Layout, type Place } from './layout'
import { Quicker } from './quicker'
import type { Team } from './team'

interface Exports {
  openMarks(buffers: number, marks: number): void
  run(table: number, count: number, frame: number): void
  rouse(team: number, frame: number): void
  lead(team: number, table: number, levels: number, count: number, from: number, to: number): void
}

interface OpMemory extends Place {
  op: Op
  /** Is its response there? */ brought?: boolean
  values?: Float64Array
}

export class Machine {
  /** Frame at which the next block starts. */
  frame = 0
  private readonly exports: Exports
  private readonly places = new Map<string, OpMemory>()
  private readonly staging = new Map<string, Float32Array[]>()
  private readonly glides = new Glides()
  private readonly quicker: Quicker | null
  private readonly ways = { together: () => this.together(), alone: () => this.alone() }
  private meanwhile: (() => void) | null = null

  /**
   * @param layout of these operations, which is this machine's from now on
   * @param clock milliseconds: by it another thread helps only while that is quicker; without one, whenever it is there
   */
  constructor(
    private readonly ops: readonly Op[],
    private readonly layout: Layout = layOut(ops),
    private readonly clock?: () => number
  ) {
    this.quicker = clock && layout.team ? new Quicker(clock) : null
    this.exports = kernelsOn<Exports>(this.memory)
    this.exports.openMarks(layout.buffers, layout.marks)
    ops.forEach((op, i) => {
      const place = layout.places[i]
      if (this.places.has(op.key)) throw new Error(`two operations are called ${op.key}`)
      this.places.set(op.key, { ...place, op })
      if (place.staged === undefined) return
      const legs = Math.max(op.ins.length, op.outs.length),
        frames = stagedFrames(op)
      this.staging.set(
        op.key,
        Array.from(
          { length: legs },
          (_, i) => new Float32Array(this.memory.buffer, place.staged! + i * frames * 4, frames)
        )
      )
    })
  }

  private get memory(): WebAssembly.Memory {
    return this.layout.memory
  }

  /** Legs × 512 frames that the host fills (sources), 4096 that it reads (sinks); frame f lies at f mod as many. */
  stagingOf(key: string): Float32Array[] {
    return this.staging.get(key)!
  }

  get bytes(): number {
    return this.memory.buffer.byteLength
  }

  /** @param meanwhile what this thread does for the next block while the other goes on; sources are read by then */
  run(meanwhile: (() => void) | null = null): void {
    this.meanwhile = meanwhile
    this.glides.step()
    if (this.quicker) this.quicker.block(this.ways)
    else if (this.layout.team) this.together()
    else this.alone()
    this.frame += BLOCK
  }

  private alone(): void {
    this.exports.run(this.layout.table, this.layout.lanes.length, this.frame)
    this.meanwhile?.()
  }

  private together(): void {
    const { at, table, levels, count } = this.layout.team!
    const lead = (from: number, to: number) => this.exports.lead(at, table, levels, count, from, to)
    try {
      this.exports.rouse(at, this.frame)
      if (this.meanwhile) {
        // Nothing comes before sources, so all lie in the first level.
        lead(0, 1)
        this.meanwhile()
        lead(1, count)
      } else lead(0, count)
    } catch (error) {
      throw new Error('the thread that helps did not finish what it had begun', { cause: error })
    }
  }

  /** What another thread needs to work on this machine beside this one; null: it is laid out for one. */
  get forAnother(): Team | null {
    return this.layout.team
  }

  get stepCount(): number {
    return this.layout.lanes.length
  }

  /** The operations of each step, in the order in which they run. */
  eachStep(look: (lanes: readonly Op[], index: number) => void): void {
    this.layout.lanes.forEach((lanes, i) =>
      look(
        lanes.map(n => this.ops[n]),
        i
      )
    )
  }

  /** Like `run`, adding the time of each step to `into`. */
  runTimed(clock: () => number, into: Float64Array): void {
    let before = clock()
    for (let i = 0; i < this.stepCount; i++) {
      this.exports.run(this.layout.table + i * 4, 1, this.frame)
      const now = clock()
      into[i] += now - before
      before = now
    }
    this.frame += BLOCK
  }

  /** Seconds that timing a step takes by itself. */
  emptyStep(clock: () => number, times: number): number {
    const begin = clock()
    for (let i = 0; i < times; i++) {
      this.exports.run(this.layout.table, 0, this.frame)
      clock()
    }
    return (clock() - begin) / times
  }

  /** Operations in which blocks were silenced because numbers in them were none, see kernels/mix.ts. */
  faults(): Op[] {
    const words = new Int32Array(this.memory.buffer)
    return [...this.places.values()]
      .filter(({ op, state }) => (op.kind === 'mix' || op.kind === 'source') && words[(state >> 2) + 1])
      .map(p => p.op)
  }

  /** Has the response of this operation been brought? */
  hasData(key: string): boolean {
    return !!this.places.get(key)?.brought
  }

  /** Memory for the response of an operation, which counts as brought from now on. */
  dataOf(key: string): Uint8Array {
    const place = this.places.get(key)!
    place.brought = true
    return new Uint8Array(this.memory.buffer, place.data!, dataBytes(place.op))
  }

  /** f32 view of an operation's state, for meters. */
  stateOf(key: string): Float32Array | undefined {
    const place = this.places.get(key)
    return place && new Float32Array(this.memory.buffer, place.state, place.op.state >> 2)
  }

  /** Parameters of an operation as they lie in memory; undefined where there is none of that key. */
  placeOf(key: string): Float64Array | undefined {
    const place = this.places.get(key)
    return place && (place.values ??= new Float64Array(this.memory.buffer, place.params, place.op.params.length))
  }

  /** Other values for operations of this plan. What can glide gets there within some blocks. */
  aim(ops: readonly Op[]): void {
    for (const { key, params } of ops) {
      const { op } = this.places.get(key)!,
        values = this.placeOf(key)!
      op.params = isPlaced(op) ? [op.params[0], ...params.slice(1)] : params
      if (isPlaced(op)) values.set(op.params)
      else this.glides.aim(op, values)
    }
  }

  /** New parameters in a place, from one of them on, at once. */
  write(place: Float64Array, params: readonly number[], at = 0): void {
    this.glides.drop(place)
    for (let i = 0; i < params.length; i++) place[at + i] = params[i]
  }

  /** Carries the state of every operation that both plans have, and the time. */
  takeOver(other: Machine): void {
    this.frame = other.frame
    const mine = new Uint8Array(this.memory.buffer),
      theirs = new Uint8Array(other.memory.buffer)
    for (const [key, place] of this.places) {
      const old = other.places.get(key)
      if (old && old.op.kind === place.op.kind && old.op.state === place.op.state) {
        mine.set(theirs.subarray(old.state, old.state + old.op.state), place.state)
        if (old.brought && place.data) {
          mine.set(theirs.subarray(old.data!, old.data! + dataBytes(old.op)), place.data)
          place.brought = true
        }
      }
    }
    for (const [key, legs] of this.staging) {
      other.staging.get(key)?.forEach((leg, i) => legs[i]?.set(leg))
    }
  }

  /** Everything that a later block depends on; sources are filled anew. */
  save(): { frame: number; state: Uint8Array } {
    return { frame: this.frame, state: new Uint8Array(this.memory.buffer).slice(...this.layout.states) }
  }

  /** As it was made: nothing has sounded, the settings stay. */
  reset(frame: number): void {
    this.glides.settle()
    this.frame = frame
    new Uint8Array(this.memory.buffer).fill(0, ...this.layout.states)
  }

  /** These operations as they were made, while the others go on: nothing has sounded in them. */
  rest(should: (op: Op) => boolean): void {
    const all = new Uint8Array(this.memory.buffer)
    for (const { op, state } of this.places.values()) if (should(op)) all.fill(0, state, state + op.state)
  }

  /** Laid out in the same way? */
  isLike(other: Machine): boolean {
    return this.ops === other.ops
  }

  /**
   * Another machine with all that this one has, which can go on from here by itself.
   * @param spare one that came from here before and is not used any more
   */
  twin(spare?: Machine): Machine {
    this.glides.settle()
    let other = spare
    if (other?.isLike(this)) {
      other.glides.settle()
      new Uint8Array(other.memory.buffer).set(new Uint8Array(this.memory.buffer))
    } else other = new Machine(this.ops, copyOf(this.layout), this.clock)
    for (const [key, place] of this.places) other.places.get(key)!.brought = place.brought
    other.frame = this.frame
    return other
  }

  restore(saved: { frame: number; state: Uint8Array }): void {
    this.glides.settle()
    this.frame = saved.frame
    new Uint8Array(this.memory.buffer).set(saved.state, this.layout.states[0])
  }
}
