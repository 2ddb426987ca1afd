// The engine as it is heard: one stream whose ears are written block by block, that can start anywhere after a run-in
// that is bounded, comes back to the start of a range as it passed it, and turns into another plan without a click.
import type { Plan } from '@nullet/core/compile/plan'
import { CHUNK } from '@nullet/core/plan/operations'
import { Machine } from '@nullet/core/run/machine'
import { PlanStream } from '@nullet/core/run/stream'
import type { MediaReader } from '@nullet/core/run/mediaReader'
import type { Session } from '@nullet/core/session/session'
import { Pace, UNHURRIED } from './pace'
import type { Planned, Update } from './planning'
import { BLOCK } from './ring'

const SAVE_EVERY = 48000
const MOST_SAVED = 48
const MOST_BYTES = 256 * 2 ** 20
/** Frames over which one plan gives way to the next. */
export const CROSS = 256

type Saved = ReturnType<Machine['save']>

/** The state at the start of a range that repeats. */
export interface Turn {
  saved: Saved
  since: number | null
}

/** Milliseconds. */
const now = () => performance.now()

export class Heard {
  stream: PlanStream
  latency: number
  /** The slot that is looked at. */
  probe: string | null
  /** Where what is heard began to run: 0 is the beginning. Null after a change while playing: old tails ring on. */
  since: number | null = null
  /** The start of the range that repeats, once it was passed; and the one that was passed last, if that is the same. */
  turn: Turn | null = null
  passed: Turn | null = null
  private saved: Saved[] = []
  private range: { from: number; to: number } | null = null
  private end = Infinity
  private spare: Machine | undefined

  /** @param pace how much can be run before a start */
  constructor(
    { plan, layout, latency, probe }: Planned,
    private session: Session,
    private readonly media: MediaReader,
    private readonly pace: Pace = UNHURRIED
  ) {
    this.latency = latency
    this.probe = probe
    this.stream = new PlanStream(plan, session, media, new Machine(plan.ops, layout, now))
  }

  get plan(): Plan {
    return this.stream.plan
  }
  get machine(): Machine {
    return this.stream.machine
  }

  /**
   * Takes what planning.ts made of the session as it is now. Values move inside the running plan at once; another plan
   * takes the states over.
   * @returns the stream that was heard until now if the plan is another, so that it can be faded out
   */
  take(update: Update, session: Session): PlanStream | null {
    this.session = session
    if (update.kind === 'values') {
      const { ops, moves, clips } = update
      this.machine.aim(ops)
      if (moves) this.plan.moves.splice(0, Infinity, ...moves)
      if (clips) this.stream = this.streamOn(this.plan, this.machine)
      if (ops.length || moves || clips) this.isOther()
      return null
    }
    const before = this.stream
    this.isOther()
    this.latency = update.latency
    this.probe = update.probe
    this.stream = this.streamOn(update.plan, new Machine(update.plan.ops, update.layout, now))
    this.machine.takeOver(before.machine)
    return before
  }

  private streamOn(plan: Plan, machine: Machine): PlanStream {
    const stream = new PlanStream(plan, this.session, this.media, machine)
    stream.endAt(this.end)
    return stream
  }

  /** What was kept belongs to what it sounded like before. */
  private isOther(): void {
    this.saved = []
    this.since = this.turn = this.passed = null
  }

  /**
   * Brings the engine to a machine frame (a multiple of 128): as if it had run from the beginning where that, or a
   * state that is remembered, is near enough; else it runs in from as far before as its pace allows.
   */
  async runTo(frame: number, cancelled: () => boolean): Promise<void> {
    const known = this.saved.filter(s => s.frame <= frame).at(-1)
    const begin = Math.min(this.stream.firstSound(), Math.floor(frame / CHUNK) * CHUNK)
    const bound = frame - this.pace.frames(this.plan.ops)
    this.passed = null
    this.since = 0
    // Either way nothing is left of what was played before.
    if (known && known.frame >= bound) this.machine.restore(known)
    else if (begin < bound) this.machine.reset((this.since = Math.ceil(bound / BLOCK) * BLOCK))
    else this.machine.reset(begin)
    this.stream.start(this.machine.frame)
    for (let n = 1; this.machine.frame < frame; n++) {
      await this.advance()
      // Lets messages in.
      if (n % 256 === 0) await new Promise(done => setTimeout(done, 0))
      if (cancelled()) return
    }
  }

  private async advance(): Promise<void> {
    this.keep()
    await this.stream.prepare()
    this.pace.time(this.plan.ops, () => this.stream.run())
  }

  /** The next block for the ears. */
  async block(): Promise<Float32Array[]> {
    if (this.machine.frame === this.turnAt && !this.turn)
      this.turn = this.passed = { saved: this.machine.save(), since: this.since }
    await this.advance()
    return this.stream.last('sink/ears')
  }

  /**
   * The range that repeats, in frames of source time, from now on; null: none. Clips and notes end where it ends, so
   * that only what rings goes on.
   */
  repeat(range: { from: number; to: number } | null): void {
    if (range?.from !== this.range?.from) this.turn = this.passed = null
    this.range = range
    this.end = range?.to ?? Infinity
    this.stream.endAt(this.end)
  }

  /** The machine’s frame at the start of the range, as ears hear it. */
  private get turnAt(): number | null {
    return this.range && Math.floor((this.range.from + this.latency) / BLOCK) * BLOCK
  }

  /** Back to where the range begins for the ears, as it was passed. False where it has not been. */
  turnBack(): boolean {
    if (!this.turn) return false
    this.machine.restore(this.turn.saved)
    this.stream.start(this.machine.frame)
    this.since = this.turn.since
    this.passed = this.turn
    return true
  }

  /** What leaving will need is made while there is time. */
  foresee(): void {
    if (this.turnAt !== null && !this.spare?.isLike(this.machine)) this.spare = this.machine.twin()
  }

  /** @returns the stream that was heard until now, so that it can ring out; this one goes on with all that it had */
  leave(): PlanStream {
    const before = this.stream
    this.stream = this.streamOn(before.plan, before.machine.twin(this.spare))
    this.spare = undefined
    return before
  }

  /** A machine that has rung out can be used again. */
  giveBack(machine: Machine): void {
    if (machine.isLike(this.machine)) this.spare = machine
  }

  private keep(): void {
    const { frame } = this.machine
    const isNear = (s: Saved) => Math.abs(s.frame - frame) < SAVE_EVERY / 2
    if (this.since === 0 && frame % SAVE_EVERY < BLOCK && !this.saved.some(isNear)) this.save()
  }

  /** Remembers the state here, so that coming back to it is quick. */
  mark(): void {
    if (this.since === 0 && !this.saved.some(s => s.frame === this.machine.frame)) this.save()
  }

  private save(): void {
    const one = this.machine.save()
    this.saved = [...this.saved, one].sort((a, b) => a.frame - b.frame)
    // When there are too many, every other one goes.
    const most = Math.max(2, Math.min(MOST_SAVED, Math.floor(MOST_BYTES / one.state.byteLength)))
    if (this.saved.length > most) this.saved = this.saved.filter((_, i) => i % 2 === 0)
  }

  /** Bytes of what is remembered. */
  get kept(): number {
    return this.saved.reduce((sum, s) => sum + s.state.byteLength, 0)
  }
}
