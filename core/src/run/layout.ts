// A plan laid out in memory, as the kernels want it (core/kernels/op.ts): parameters, states, buffers, the table of
// steps. It is plain data over shared memory, so one thread can lay out what another runs.
import { BLOCK, KIND, stagedFrames, STRIP, type Op } from '../plan/operations'
import { dataBytes } from '../plan/responseSize'
import { FIRST_FREE, memoryUpTo } from './kernels'
import { schedule } from './schedule'
import { isStrip } from './strips'
import { layTeam, teamBytes, type Team } from './team'

export interface Choices {
  /** What is silent is not computed; so where nothing is said. */
  rests?: boolean
  /** Laid out so that another thread may help. */
  forTwo?: boolean
}

/** Bytes at which an operation's things lie. */
export interface Place {
  params: number
  state: number
  /** Its response. */ data?: number
  /** Its samples, leg after leg. */ staged?: number
}

export interface Layout {
  memory: WebAssembly.Memory
  buffers: number
  marks: number
  table: number
  /** Operations, by number, of each step. */
  lanes: number[][]
  /** Of the operations of the plan, one by one. */
  places: Place[]
  states: [from: number, to: number]
  team: Team | null
}

/** The samples are the same whatever is chosen. Operations are told where their samples lie. */
export function layOut(ops: readonly Op[], { rests = true, forTwo = false }: Choices = {}): Layout {
  const { steps, buffers: count, levels } = schedule(ops, forTwo)
  let top = FIRST_FREE
  const take = (bytes: number) => {
    const at = top
    top = (top + bytes + 15) & ~15
    return at
  }
  const buffers = take(count * BLOCK * 4),
    marks = rests ? take(count) : 0
  const params = ops.map(op => take((op.params.length + (op.table?.length ?? 0)) * 8))
  const spare = take(16 * 64)
  const entries = steps.map(step => take((5 + step.ins.length + step.outs.length + 2 * step.width) * 4))
  const table = take(steps.length * 4),
    teamAt = forTwo ? take(teamBytes(levels)) : 0
  const staged = ops.map(op =>
    op.kind === 'source' || op.kind === 'sink'
      ? take(Math.max(op.ins.length, op.outs.length) * stagedFrames(op) * 4)
      : undefined
  )
  const data = ops.map(op => (op.response ? take(dataBytes(op)) : undefined))
  const from = top
  const places = ops.map((op, i): Place => ({
    params: params[i],
    state: take(op.state),
    ...(data[i] !== undefined && { data: data[i] }),
    ...(staged[i] !== undefined && { staged: staged[i] })
  }))

  const memory = memoryUpTo(top),
    words = new Int32Array(memory.buffer),
    floats = new Float64Array(memory.buffer)
  ops.forEach((op, i) => {
    const lies = staged[i] ?? data[i]
    if (lies !== undefined) op.params[0] = lies
    floats.set(op.params, params[i] >> 3)
    if (op.table) floats.set(op.table, (params[i] >> 3) + op.params.length)
  })
  const number = new Map(ops.map((op, i) => [op, i])),
    buffer = (b: number) => buffers + b * BLOCK * 4
  const lanes = steps.map(step => step.lanes.map(op => number.get(op)!))
  steps.forEach((step, i) => {
    const [first, ...others] = lanes[i]
    words[(table >> 2) + i] = entries[i]
    words.set(
      [
        isStrip(step.lanes) ? STRIP : KIND[step.lanes[0].kind],
        params[first],
        places[first].state,
        step.ins.length,
        step.outs.length,
        ...step.ins.map(buffer),
        ...step.outs.map(buffer),
        ...Array.from({ length: step.width - 1 }, (_, n) => others[n]).flatMap(lane =>
          lane === undefined ? [params[first], spare] : [params[lane], places[lane].state]
        )
      ],
      entries[i] >> 2
    )
  })
  const team = forTwo ? layTeam(levels, { memory, at: teamAt, table, buffers, marks }) : null
  return { memory, buffers, marks, table, lanes, places, states: [from, top], team }
}

/** The same in memory of its own, with all that lies there. */
export function copyOf(layout: Layout): Layout {
  const memory = memoryUpTo(layout.memory.buffer.byteLength)
  new Uint8Array(memory.buffer).set(new Uint8Array(layout.memory.buffer))
  return { ...layout, memory, team: layout.team && { ...layout.team, memory } }
}
