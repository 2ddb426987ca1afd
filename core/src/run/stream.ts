// Runs a plan: pulls blocks, hands out taps. Any number of frames may be asked for at a time; inside it is always
// blocks of 128 counted from frame 0, so the samples do not depend on it.
import type { MediaReader } from './mediaReader'
import { Refusal } from '../foundation/refusal'
import type { Session } from '../session/session'
import { clipsOf } from './clipsOf'
import { BLOCK, CHUNK, STAGE } from '../plan/operations'
import type { Plan } from '../compile/plan'
import { Machine } from './machine'
import { Mover } from './mover'
import { bringResponses } from './bringResponses'
import { isAnalog } from './analog'
import { voiceUntil } from './ends'
import { Sources } from './sources'

export function firstSoundOf(plan: Plan, session: Session): number {
  // What moves has to have come from somewhere: the state at a frame is that of a render from the start.
  if (plan.noisy || plan.moves.length) return 0
  const starts = [
    ...[...clipsOf(session, plan.sources).values()].flat().map(c => c.startFrame),
    ...(plan.firstNote < Infinity ? [plan.firstNote] : [])
  ]
  return starts.length ? Math.max(0, Math.floor(Math.min(...starts) / CHUNK) * CHUNK) : 0
}

export class PlanStream {
  readonly machine: Machine
  private session!: Session
  private readonly sources: Sources
  private readonly mover: Mover
  private brought = false
  private rolls: number | null = null

  constructor(
    readonly plan: Plan,
    session: Session,
    private readonly media: MediaReader,
    machine?: Machine
  ) {
    this.machine = machine ?? new Machine(plan.ops)
    this.mover = new Mover(plan.moves, this.machine)
    this.sources = new Sources(plan.sources, media, this.machine)
    this.setSession(session)
  }

  setSession(session: Session): void {
    this.session = session
    this.sources.setSession(session)
  }

  /** Frame (a multiple of 4096) before which nothing can sound: there a render may begin. */
  firstSound(): number {
    return firstSoundOf(this.plan, this.session)
  }

  start(frame: number): void {
    this.machine.frame = frame
    this.sources.forget()
    this.mover.forget()
  }

  /** Units of the room stand still until this frame of the machine (a multiple of 128), as before the tape rolls. */
  restUntil(frame: number): void {
    this.rolls = frame
  }

  /** From this frame of source time on clips fade and no note sounds; Infinity: the session is whole. */
  endAt(frame: number): void {
    if (!this.sources.endAt(frame)) return
    for (const op of this.plan.ops)
      if (op.kind === 'voice') this.machine.write(this.machine.placeOf(op.key)!, voiceUntil(op, frame))
  }

  /** Computes the next block of 128 frames. Waits only where a chunk has to be read. */
  async block(): Promise<void> {
    await this.prepare()
    if (this.machine.frame === this.rolls) this.machine.rest(isAnalog)
    this.run()
  }

  /** Computes what is prepared; at the end of a piece the next one is laid out meanwhile. */
  run(): void {
    this.machine.run((this.machine.frame + BLOCK) % STAGE ? null : this.ahead)
  }

  private readonly ahead = () => {
    try {
      void this.sources.lay(this.machine.frame + BLOCK)
    } catch {
      // Whoever prepares the next block asks again, and hears of it.
    }
  }

  /** Reads what the next block needs. */
  async prepare(): Promise<void> {
    if (!this.brought) {
      await bringResponses(this.machine, this.plan.ops, this.session, this.media)
      this.brought = true
    }
    for (let coming; (coming = this.sources.lay(this.machine.frame));) await coming
    this.mover.to(this.machine.frame + BLOCK)
  }

  /** Channels in which values turned up that are not numbers: silenced there. Empty in all but broken sessions. */
  faults(): string[] {
    return [...new Set(this.machine.faults().flatMap(op => op.owner.channel ?? []))]
  }

  /** The last block of a sink, leg by leg: views that the next block overwrites. */
  last(sink: string): Float32Array[] {
    const at = (this.machine.frame - BLOCK) % CHUNK
    return this.machine.stagingOf(sink).map(leg => leg.subarray(at, at + BLOCK))
  }
}

export interface RenderRange {
  from: number
  frames: number
}

/** Called with legs × n frames of a tap, in order, latency taken off. The arrays are the callee's to keep. */
export type Receive = (sink: string, audio: Float32Array[]) => void | Promise<void>

/**
 * Renders every sink of a plan over a range of source time.
 * @param options.request frames handed out at a time; has no influence on the samples
 * @throws Refusal when stopped
 */
export async function render(
  stream: PlanStream,
  { from, frames }: RenderRange,
  receive: Receive,
  options: {
    request?: number
    progress?: (share: number) => void
    stopped?: () => boolean
    /** Asked after each block, with its first frame. */
    look?: (at: number) => void
  } = {}
): Promise<void> {
  const request = options.request ?? CHUNK
  const sinks = [...stream.plan.sinks].map(([name, sink]) => ({
    name,
    sink,
    first: from + sink.latency,
    last: from + sink.latency + frames,
    kept: sink.layout.map(() => new Float32Array(request)),
    fill: 0
  }))
  const begin = Math.min(stream.firstSound(), Math.floor(from / CHUNK) * CHUNK)
  const end = Math.max(...sinks.map(s => s.last))
  stream.start(begin)
  while (stream.machine.frame < end) {
    const at = stream.machine.frame
    await stream.block()
    options.look?.(at)
    for (const s of sinks) {
      const lo = Math.max(at, s.first),
        hi = Math.min(at + BLOCK, s.last)
      if (lo >= hi) continue
      const audio = stream.last(s.sink.key)
      for (let n = lo; n < hi;) {
        const count = Math.min(hi - n, request - s.fill)
        audio.forEach((leg, i) => s.kept[i].set(leg.subarray(n - at, n - at + count), s.fill))
        s.fill += count
        n += count
        if (s.fill === request || n === s.last) {
          const full = s.fill
          await receive(
            s.name,
            s.kept.map(leg => leg.slice(0, full))
          )
          s.fill = 0
        }
      }
    }
    if (at % (CHUNK * 8) === 0) {
      options.progress?.((at - begin) / (end - begin))
      if (options.stopped?.()) throw new Refusal('stale', 'The render was stopped', [], 'Nothing was stored.')
    }
  }
}

/** One sink's range in pieces of 4096 frames, latency taken off: for running several plans side by side. */
export async function* pieces(
  stream: PlanStream,
  sink: string,
  range: RenderRange,
  options: { progress?: (share: number) => void; stopped?: () => boolean } = {}
): AsyncGenerator<Float32Array[]> {
  const { key, latency, layout } = stream.plan.sinks.get(sink)!
  const first = range.from + latency,
    last = first + range.frames
  stream.start(Math.min(stream.firstSound(), Math.floor(range.from / CHUNK) * CHUNK))
  let piece = layout.map(() => new Float32Array(Math.min(CHUNK, range.frames))),
    fill = 0
  while (stream.machine.frame < last) {
    const at = stream.machine.frame
    await stream.block()
    for (let n = Math.max(at, first); n < Math.min(at + BLOCK, last);) {
      const count = Math.min(Math.min(at + BLOCK, last) - n, piece[0].length - fill)
      stream.last(key).forEach((leg, i) => piece[i].set(leg.subarray(n - at, n - at + count), fill))
      n += count
      fill += count
      if (fill < piece[0].length) continue
      yield piece
      options.progress?.((n - first) / range.frames)
      if (options.stopped?.()) throw new Refusal('stale', 'Measuring was stopped', [], 'Nothing was changed.')
      piece = layout.map(() => new Float32Array(Math.min(CHUNK, last - n)))
      fill = 0
    }
  }
}

/** The same range of one sink of two plans, piece by piece: before and after, with and without. */
export async function* pairs(
  a: PlanStream,
  b: PlanStream,
  sink: string,
  range: RenderRange,
  options: Parameters<typeof pieces>[3] = {}
): AsyncGenerator<[Float32Array[], Float32Array[]]> {
  const other = pieces(b, sink, range)
  for await (const piece of pieces(a, sink, range, options)) yield [piece, (await other.next()).value as Float32Array[]]
}

/** Renders into memory: legs × frames a sink. For short ranges and tests. */
export async function renderWhole(
  stream: PlanStream,
  range: RenderRange,
  request?: number
): Promise<Map<string, Float32Array[]>> {
  const whole = new Map(
    [...stream.plan.sinks].map(([name, s]) => [name, s.layout.map(() => new Float32Array(range.frames))])
  )
  const fill = new Map<string, number>()
  await render(
    stream,
    range,
    (name, audio) => {
      const at = fill.get(name) ?? 0
      audio.forEach((leg, i) => whole.get(name)![i].set(leg, at))
      fill.set(name, at + audio[0].length)
    },
    { request }
  )
  return whole
}
