// What each channel and slot costs to compute, measured while rendering: every step of the plan is timed in its place,
// block after block, so that caches are as they are in a real run.
import type { Session } from '../session/session'
import { type Op, BLOCK } from '../plan/operations'
import { compile } from '../compile/compile'
import type { CompileOptions } from '../compile/plan'
import { PlanStream, type RenderRange } from '../run/stream'
import type { MediaReader } from '../run/mediaReader'

/** Blocks whose times are added up: long enough for a coarse clock. */
const WINDOW = 48

const median = (list: number[]) => list.sort((a, b) => a - b)[list.length >> 1]

export interface OpCost {
  op: Op
  seconds: number
}
export interface Cost {
  /** Seconds of computing for the measured range. */
  seconds: number
  /** Seconds of sound in it. */
  audioSeconds: number
  ops: OpCost[]
}

/** @param clock seconds, as fine as the caller has it: core has no clock of its own */
export async function measureCost(
  session: Session,
  media: MediaReader,
  options: CompileOptions,
  range: RenderRange,
  rate: number,
  clock: () => number,
  measuring: { progress?: (share: number) => void; stopped?: () => boolean } = {}
): Promise<Cost> {
  const stream = new PlanStream(compile(session, options), session, media)
  const { machine } = stream
  stream.start(Math.floor(range.from / BLOCK) * BLOCK)
  const blocks = Math.max(1, Math.round(range.frames / BLOCK))
  // Another program that takes the processor for a while must not count: of many short windows the median is taken.
  const windows: Float64Array[] = []
  for (let b = 0; b < blocks; b++) {
    if (b % WINDOW === 0) windows.push(new Float64Array(machine.stepCount))
    await stream.prepare()
    machine.runTimed(clock, windows.at(-1)!)
    if (b % WINDOW === WINDOW - 1) {
      measuring.progress?.(b / blocks)
      if (measuring.stopped?.()) break
    }
  }
  // The last window may be short.
  if (windows.length > 1 && blocks % WINDOW) windows.pop()
  const perWindow = Math.min(blocks, WINDOW)
  // Reading the clock costs too: what an empty step takes is taken off.
  const empty = machine.emptyStep(clock, 4000) * blocks
  const seconds = Float64Array.from(
    { length: machine.stepCount },
    (_, i) => (median(windows.map(w => w[i])) * blocks) / perWindow
  )
  const ops: OpCost[] = []
  machine.eachStep((lanes, i) => {
    const own = Math.max(seconds[i] - empty, seconds[i] * 0.02)
    for (const op of lanes) ops.push({ op, seconds: own / lanes.length })
  })
  return { seconds: ops.reduce((sum, o) => sum + o.seconds, 0), audioSeconds: (blocks * BLOCK) / rate, ops }
}

export interface CostRow {
  channel: string | null
  slot: string | null
  share: number
  secondsPerSecond: number
}

/**
 * Shares of channels (without their slots) and of slots; they add up to 1. What belongs to neither is one row of nulls.
 */
export function costRows(cost: Cost): CostRow[] {
  const sums = new Map<string, CostRow>()
  for (const { op, seconds } of cost.ops) {
    const own = op.owner,
      name = JSON.stringify([own.channel, own.slot])
    const row = sums.get(name) ?? { ...own, share: 0, secondsPerSecond: 0 }
    row.share += seconds / cost.seconds
    row.secondsPerSecond += seconds / cost.audioSeconds
    sums.set(name, row)
  }
  return [...sums.values()].sort((a, b) => b.share - a.share)
}

/** How an operation's cost grows with what it is given. */
const weight = (op: Op) =>
  op.kind === 'mix' ? 1 + op.ins.length : op.kind === 'equaliser' || op.kind === 'fir' ? op.params[0] : 1

/**
 * Foresees from one measurement what other sessions would cost, in seconds: operations keep their cost, mixes pay by
 * their inputs.
 */
export function costPredictor(cost: Cost, options: CompileOptions): (after: Session) => number {
  const known = new Map(cost.ops.map(o => [o.op.key, o]))
  const byKind = new Map<string, { seconds: number; weight: number }>()
  for (const { op, seconds } of cost.ops) {
    const sum = byKind.get(op.kind) ?? { seconds: 0, weight: 0 }
    byKind.set(op.kind, { seconds: sum.seconds + seconds, weight: sum.weight + weight(op) })
  }
  return after =>
    compile(after, options).ops.reduce((total, op) => {
      const same = known.get(op.key),
        kind = byKind.get(op.kind)
      if (same && same.op.kind === op.kind) return total + (same.seconds * weight(op)) / weight(same.op)
      return kind ? total + (kind.seconds / kind.weight) * weight(op) : total
    }, 0)
}
