// A plan laid out in the WebAssembly module's memory, run block by block.
// Nothing is allocated after `new Machine`: running only writes into memory that is there.
import { BLOCK, CHUNK, isPlaced, isSameShape, KIND, type Op } from '../plan/operations'
import { Glides } from './glide'
import { dataBytes } from '../plan/responseSize'
import { FIRST_FREE, kernelsOn, memoryUpTo } from './kernels'
import { schedule, type Step } from './schedule'
import { layTeam, teamBytes, type Team } from './team'

interface Exports {
  openMarks(buffers: number, marks: number): void
  run(table: number, count: number, frame: number): void
  lead(team: number, table: number, levels: number, count: number, frame: number): void
}

export interface Choices {
  /** What is silent is not computed; so where nothing is said. */
  rests?: boolean
  /** Laid out so that another thread may help. */
  forTwo?: boolean
}

interface OpMemory {
  op: Op
  params: number
  state: number
  /** Where its response lies, and whether it is there. */ data?: number
  brought?: boolean
  values?: Float64Array
}

export class Machine {
  /** Frame at which the next block starts. */
  frame = 0
  private readonly memory: WebAssembly.Memory
  private readonly exports: Exports
  private readonly places = new Map<string, OpMemory>()
  private readonly staging = new Map<string, Float32Array[]>()
  private readonly table: number
  private readonly team: Team | null
  private readonly steps: number
  private readonly lanes: Op[][]
  private readonly states: [from: number, to: number]
  private readonly glides = new Glides()

  /** The samples are the same whatever is chosen. */
  constructor(
    private readonly ops: Op[],
    private readonly how: Choices = {}
  ) {
    const { steps, buffers, levels } = schedule(ops, how.forTwo)
    let top = FIRST_FREE
    const take = (bytes: number) => {
      const at = top
      top = (top + bytes + 15) & ~15
      return at
    }

    const firstBuffer = take(buffers * BLOCK * 4)
    const marks = how.rests === false ? 0 : take(buffers)
    const params = new Map(ops.map(op => [op, take(op.params.length * 8)]))
    const spare = take(16 * 64)
    const entries = steps.map(step => take((5 + step.ins.length + step.outs.length + 2 * step.width) * 4))
    this.table = take(steps.length * 4)
    this.steps = steps.length
    const team = how.forTwo ? take(teamBytes(levels)) : 0
    this.lanes = steps.map(s => s.lanes)
    const firstStaging = new Map(
      ops
        .filter(o => o.kind === 'source' || o.kind === 'sink')
        .map(op => [op, take(Math.max(op.ins.length, op.outs.length) * CHUNK * 4)])
    )
    const data = new Map(ops.filter(o => o.response).map(op => [op, take(dataBytes(op))]))
    const from = top
    const state = new Map(ops.map(op => [op, take(op.state)]))
    this.states = [from, top]

    this.memory = memoryUpTo(top)
    this.exports = kernelsOn<Exports>(this.memory)
    this.exports.openMarks(firstBuffer, marks)
    this.team = team
      ? layTeam(levels, { memory: this.memory, at: team, table: this.table, buffers: firstBuffer, marks })
      : null

    const words = new Int32Array(this.memory.buffer),
      floats = new Float64Array(this.memory.buffer)
    for (const op of ops) {
      const place: OpMemory = { op, params: params.get(op)!, state: state.get(op)! }
      if (this.places.has(op.key)) throw new Error(`two operations are called ${op.key}`)
      this.places.set(op.key, place)
      const staged = firstStaging.get(op)
      if (staged !== undefined) {
        op.params[0] = staged
        const legs = Math.max(op.ins.length, op.outs.length)
        this.staging.set(
          op.key,
          Array.from({ length: legs }, (_, i) => new Float32Array(this.memory.buffer, staged + i * CHUNK * 4, CHUNK))
        )
      }
      const held = data.get(op)
      if (held !== undefined) {
        op.params[0] = held
        place.data = held
      }
      floats.set(op.params, place.params >> 3)
    }
    const buffer = (b: number) => firstBuffer + b * BLOCK * 4
    steps.forEach((step: Step, i) => {
      const [first] = step.lanes
      const at = entries[i] >> 2
      words[(this.table >> 2) + i] = entries[i]
      const others = Array.from({ length: step.width - 1 }, (_, n) => step.lanes[n + 1])
      words.set(
        [
          KIND[first.kind],
          params.get(first)!,
          state.get(first)!,
          step.ins.length,
          step.outs.length,
          ...step.ins.map(buffer),
          ...step.outs.map(buffer),
          ...others.flatMap(lane => (lane ? [params.get(lane)!, state.get(lane)!] : [params.get(first)!, spare]))
        ],
        at
      )
    })
  }

  /** Legs × 4096 frames that the host fills (sources) or reads (sinks); frame f lies at f mod 4096. */
  stagingOf(key: string): Float32Array[] {
    return this.staging.get(key)!
  }

  get bytes(): number {
    return this.memory.buffer.byteLength
  }

  run(): void {
    this.glides.step()
    const { team, table } = this
    if (team) this.exports.lead(team.at, table, team.levels, team.count, this.frame)
    else this.exports.run(table, this.steps, this.frame)
    this.frame += BLOCK
  }

  /** What another thread needs to work on this machine beside this one; null: it is laid out for one. */
  get forAnother(): Team | null {
    return this.team
  }

  get stepCount(): number {
    return this.steps
  }

  /** The operations of each step, in the order in which they run. */
  eachStep(look: (lanes: readonly Op[], index: number) => void): void {
    this.lanes.forEach(look)
  }

  /** Like `run`, adding the time of each step to `into`. */
  runTimed(clock: () => number, into: Float64Array): void {
    let before = clock()
    for (let i = 0; i < this.steps; i++) {
      this.exports.run(this.table + i * 4, 1, this.frame)
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
      this.exports.run(this.table, 0, this.frame)
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

  /** The same view for the same operation every time. */
  private paramsOf(key: string): Float64Array {
    const place = this.places.get(key)!
    return (place.values ??= new Float64Array(this.memory.buffer, place.params, place.op.params.length))
  }

  /**
   * Takes new parameters if the plan has the same shape; says whether it did. What can glide gets there within some
   * blocks.
   */
  update(ops: Op[]): boolean {
    const isThere = (op: Op) => {
      const there = this.places.get(op.key)?.op
      return !!there && isSameShape(there, op)
    }
    if (ops.length !== this.places.size || !ops.every(isThere)) return false
    this.aim(ops)
    return true
  }

  /** New parameters for operations of this plan. What can glide gets there within some blocks. */
  aim(ops: readonly Op[]): void {
    for (const op of ops) {
      const values = this.paramsOf(op.key)
      if (isPlaced(op)) values.set(op.params.slice(1), 1)
      else this.glides.aim(op, values)
    }
  }

  /** New parameters for one operation; other lengths would be another shape and are left alone. */
  set(key: string, params: readonly number[]): void {
    const place = this.places.get(key)
    if (place && place.op.params.length === params.length) {
      this.glides.drop(this.paramsOf(key))
      this.paramsOf(key).set(params)
    }
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
    return { frame: this.frame, state: new Uint8Array(this.memory.buffer).slice(...this.states) }
  }

  /** As it was made: nothing has sounded, the settings stay. */
  reset(frame: number): void {
    this.glides.settle()
    this.frame = frame
    new Uint8Array(this.memory.buffer).fill(0, ...this.states)
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
    const other = spare?.isLike(this) ? spare : new Machine(this.ops, this.how)
    other.glides.settle()
    new Uint8Array(other.memory.buffer).set(new Uint8Array(this.memory.buffer))
    for (const [key, place] of this.places) other.places.get(key)!.brought = place.brought
    other.frame = this.frame
    return other
  }

  restore(saved: { frame: number; state: Uint8Array }): void {
    this.glides.settle()
    this.frame = saved.frame
    new Uint8Array(this.memory.buffer).set(saved.state, this.states[0])
  }
}
