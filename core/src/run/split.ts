// A plan in two halves that run side by side: a prefix of its operations in the order of making (which only ever uses
// what exists already), and the rest. What the second half needs of the first crosses over, a chunk of 4096 frames at a
// time. Same operations, same order, same samples.
import type { Session } from '../session/session'
import { NOBODY, type Op } from '../plan/operations'
import type { Plan } from '../compile/plan'
import type { Machine } from './machine'
import { firstSoundOf, PlanStream } from './stream'
import { weight, weightOf } from './weights'
import type { MediaReader } from './mediaReader'

export interface Split {
  first: Plan
  second: Plan
  /** Legs that cross over. */ crossing: number
}

/** Where legs leave the first half, and where they come into the second. */
export const CROSS_OUT = 'cross/out',
  CROSS_IN = 'cross/in'

/** The first half is a little larger: the thread of the second also reads audio for both and writes. */
const FIRST_SHARE = 0.54

export function splitPlan(plan: Plan): Split {
  const total = weightOf(plan.ops)
  let sum = 0,
    cut = 0
  while (cut < plan.ops.length && sum + weight(plan.ops[cut]) / 2 < total * FIRST_SHARE) sum += weight(plan.ops[cut++])
  // Sinks stay where they are read.
  const before = plan.ops.slice(0, cut),
    first = before.filter(op => op.kind !== 'sink')
  const second = [...before.filter(op => op.kind === 'sink'), ...plan.ops.slice(cut)]
  const made = new Set(first.flatMap(op => op.outs))
  const crossing = [...new Set(second.flatMap(op => op.ins.filter(b => made.has(b))))]
  const out: Op = { kind: 'sink', owner: NOBODY, key: CROSS_OUT, ins: crossing, outs: [], params: [0], state: 0 }
  const into: Op = {
    kind: 'source',
    owner: NOBODY,
    key: CROSS_IN,
    ins: [],
    outs: crossing,
    params: [0, ...crossing.map(() => 1)],
    state: 8 + 8 * crossing.length
  }
  const part = (ops: Op[]): Plan => {
    const keys = new Set(ops.map(op => op.key))
    return { ...plan, ops, sources: plan.sources.filter(s => keys.has(s.key)) }
  }
  return {
    first: { ...part([...first, out]), sinks: new Map() },
    second: part([into, ...second]),
    crossing: crossing.length
  }
}

/** The first half, wherever it runs. */
export interface Far {
  start(frame: number): void
  /** Fills legs × 4096 frames from a multiple of 4096 on; asked for in order. */
  chunk(from: number, into: Float32Array[]): Promise<void>
}

/** The second half of a plan as a stream, with the first half coming from far. */
export class JoinedStream extends PlanStream {
  constructor(
    private readonly whole: Plan,
    split: Split,
    session: Session,
    media: MediaReader,
    private readonly far: Far,
    machine?: Machine
  ) {
    super(split.second, session, media, machine)
  }

  override firstSound(): number {
    return firstSoundOf(this.whole, this.session)
  }

  override start(frame: number): void {
    super.start(frame)
    this.far.start(frame)
  }

  protected override async fill(from: number): Promise<void> {
    await super.fill(from)
    await this.far.chunk(from, this.machine.stagingOf(CROSS_IN))
  }
}
