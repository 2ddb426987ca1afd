// The engine as it is heard: one stream whose ears are written block by block, that can start anywhere with the state
// it would have had from the beginning, and that turns into another plan without a click.
import type { Plan } from '@nullet/core/compile/plan'
import { RunningPlan } from '@nullet/core/compile/values'
import { isPlaced } from '@nullet/core/plan/operations'
import { Machine } from '@nullet/core/run/machine'
import { PlanStream } from '@nullet/core/run/stream'
import type { MediaReader } from '@nullet/core/run/mediaReader'
import { settings, type RowChange, type Session } from '@nullet/core/session/session'
import { BLOCK } from './ring'

const LATENCY_STEP = 2048
const SAVE_EVERY = 48000
const MOST_SAVED = 48
const MOST_BYTES = 256 * 2 ** 20
/** Frames over which one plan gives way to the next. */
export const CROSS = 256

/** What concerns listening alone and is no part of the session. */
export interface Listening {
  /** By how many dB channels are lowered while they are compared. */
  trims: Map<string, number>
  /** The slot whose key is heard instead of a channel. */
  keyOf: string | null
  /** The slot that is looked at. */
  probe: string | null
}

type Saved = ReturnType<Machine['save']>

export class Heard {
  stream: PlanStream
  latency: number
  private running: RunningPlan
  private saved: Saved[] = []
  /** Is the state what it would be from the beginning? After a change while playing it is not: old tails ring on. */
  private pure = false

  constructor(
    private session: Session,
    private readonly media: MediaReader,
    private readonly listening: Listening = { trims: new Map(), keyOf: null, probe: null }
  ) {
    const { running, latency } = planOf(session, 0, listening)
    this.running = running
    this.latency = latency
    this.stream = new PlanStream(running.plan, session, media)
  }

  get plan(): Plan {
    return this.stream.plan
  }
  get machine(): Machine {
    return this.stream.machine
  }

  /**
   * Takes the session as it is now. Values move inside the running plan at once; what can be another plan is compiled.
   * Where its shape changes, the next plan takes the states over.
   * @param changes all rows by which it differs from the one before; null where nobody knows
   * @returns the stream that was heard until now if it is another, so that it can be faded out
   */
  change(session: Session, changes: readonly RowChange[] | null = null): PlanStream | null {
    this.session = session
    const values = changes && this.running.changed(session, changes)
    if (values) {
      this.machine.aim(values)
      if (values.length) this.isOther()
      return null
    }
    const { running, latency } = planOf(session, this.latency, this.listening)
    const before = this.stream
    this.running = running
    if (this.machine.update(running.plan.ops)) {
      if (!sameSettings(before.plan, running.plan)) this.isOther()
      // The running machine keeps its operations; the plan's rows may still have moved.
      this.stream = new PlanStream(running.plan, session, this.media, this.machine)
      return null
    }
    this.isOther()
    this.latency = latency
    this.stream = new PlanStream(running.plan, session, this.media)
    this.machine.takeOver(before.machine)
    return before
  }

  /** What was kept belongs to what it sounded like before. */
  private isOther(): void {
    this.saved = []
    this.pure = false
  }

  /** Brings the engine to a machine frame (a multiple of 128), as if it had run from the start. */
  async runTo(frame: number, progress: (share: number) => void, cancelled: () => boolean): Promise<void> {
    const from = this.saved.filter(s => s.frame <= frame).at(-1)
    // A new machine holds no leftovers of what was played before.
    this.stream = new PlanStream(this.plan, this.session, this.media, from ? this.machine : new Machine(this.plan.ops))
    if (from) {
      this.machine.restore(from)
      this.stream.start(from.frame)
    } else this.stream.start(Math.min(this.stream.firstSound(), Math.floor(frame / 4096) * 4096))
    this.pure = true
    const begin = this.machine.frame
    for (let n = 0; this.machine.frame < frame; n++) {
      await this.stream.block()
      this.keep()
      if (n % 256 === 255) {
        progress((this.machine.frame - begin) / (frame - begin))
        // Lets messages in.
        await new Promise(done => setTimeout(done, 0))
        if (cancelled()) return
      }
    }
  }

  /** The next block for the ears. */
  async block(): Promise<Float32Array[]> {
    this.keep()
    await this.stream.block()
    return this.stream.last('sink/ears')
  }

  private keep(): void {
    const { frame } = this.machine
    const isNear = (s: Saved) => Math.abs(s.frame - frame) < SAVE_EVERY / 2
    if (this.pure && frame % SAVE_EVERY < BLOCK && !this.saved.some(isNear)) this.save()
  }

  /** Remembers the state here, so that coming back to it is quick. */
  mark(): void {
    if (this.pure && !this.saved.some(s => s.frame === this.machine.frame)) this.save()
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

/** The ears' latency never shrinks while playing: what is heard would jump. */
function planOf(
  session: Session,
  atLeast: number,
  { trims, keyOf, probe }: Listening
): { running: RunningPlan; latency: number } {
  const channel =
    settings(session).heardChannel ??
    Object.values(session.channel).find(c => c.role === 'main')?.id ??
    Object.keys(session.channel)[0]
  const wanted = { taps: [], live: true, ...(probe && { probe }) }
  if (!channel) return { running: new RunningPlan(session, wanted), latency: atLeast }
  const heard = { channel, trimDb: trims.get(channel) ?? 0, ...(keyOf && { keyOf }) }
  const running = new RunningPlan(session, { ...wanted, heard: { ...heard, latency: atLeast } })
  const needed = running.plan.sinks.get('ears')!.latency
  if (needed <= atLeast && atLeast > 0) return { running, latency: atLeast }
  const latency = Math.ceil(Math.max(needed, 1) / LATENCY_STEP) * LATENCY_STEP
  return { running: new RunningPlan(session, { ...wanted, heard: { ...heard, latency } }), latency }
}

function sameSettings(a: Plan, b: Plan): boolean {
  if (!sameMoves(a, b)) return false
  const of = new Map(a.ops.map(op => [op.key, op.params]))
  // The first value of sources, sinks and convolutions is where their samples lie.
  return b.ops.every(op => {
    const old = of.get(op.key)
    const first = isPlaced(op) ? 1 : 0
    return old && op.params.every((p, i) => i < first || p === old[i])
  })
}

/** Do the same slots follow the same points? */
function sameMoves(a: Plan, b: Plan): boolean {
  const fields = (p: Plan) =>
    p.moves.flatMap(m => [...m.fields, ...(m.mix ? [m.mix] : [])].map(f => ({ slot: m.slot, ...f })))
  const old = fields(a),
    now = fields(b)
  return (
    old.length === now.length &&
    old.every((f, i) => f.slot === now[i].slot && f.name === now[i].name && f.points === now[i].points)
  )
}
