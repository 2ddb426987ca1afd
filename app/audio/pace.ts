// How much of a plan this machine runs in a given time, learnt from what it has run.
import { BLOCK, type Op } from '@nullet/core/plan/operations'
import { weightOf } from '@nullet/core/run/weights'

/** What a block takes beside what its operations weigh, until it was measured. */
const CAUTION = 2
/** Share of a new figure in what is believed. */
const LEARNT = 0.02
const MOST_AT_ONCE = 4

export class Pace {
  private ratio = CAUTION
  private ops: readonly Op[] = []
  private blockMs = 0

  /** @param runInMs work that may lie before a start */
  constructor(
    private readonly runInMs: number,
    private readonly clock: () => number = () => performance.now()
  ) {}

  private weigh(ops: readonly Op[]): number {
    if (ops !== this.ops) {
      this.ops = ops
      this.blockMs = Math.max(1e-4, (weightOf(ops) * BLOCK) / 1e6)
    }
    return this.blockMs
  }

  /** Runs a block of these operations and learns from it. */
  time(ops: readonly Op[], run: () => void): void {
    const begin = this.clock()
    run()
    const ratio = (this.clock() - begin) / this.weigh(ops)
    // A thread that was held up says nothing about the plan.
    this.ratio += (Math.min(ratio, MOST_AT_ONCE * this.ratio) - this.ratio) * LEARNT
  }

  /** Frames, whole blocks, that run in the time that is there. */
  frames(ops: readonly Op[]): number {
    return Math.floor(this.runInMs / (this.weigh(ops) * this.ratio)) * BLOCK
  }
}

/** There is time for everything: always from the beginning. */
export const UNHURRIED = new Pace(Infinity)
