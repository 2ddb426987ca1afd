// What goes out, block by block: the engine as it is heard, what still rings of a range that begins again, and what
// fades while one plan gives way to another. A range is as long as it says, to the sample. What rings is computed once:
// while nothing is changed every turn ends the same way.
import type { PlanStream } from '@nullet/core/run/stream'
import { CROSS, type Heard, type Turn } from './heard'
import type { Range } from './messages'
import { BLOCK } from './ring'

/** Frames over which a range rises at its start, so that a wave that is cut does not click. */
const RISE = 64
/** How long something may ring on, and how quiet it is when it has rung out. */
const MOST_S = 8
const RUNG_OUT = 1e-5
const QUIET_FRAMES = 4800

type Legs = [Float32Array, Float32Array]
const legsOf = (frames: number): Legs => [new Float32Array(frames), new Float32Array(frames)]

/** Something that is there already and is added to what goes out. */
interface Over {
  legs: readonly Float32Array[]
  at: number
  /** Where it begins in the next block. */
  begins: number
}

/** The stream that was left, while it rings, and what it gave. */
interface Ringing {
  stream: PlanStream
  of: Turn | null
  legs: Legs
  /** Frames that are there, and that went out. */
  there: number
  at: number
  begins: number
  quiet: number
}

export class Sounding {
  /** Frame of source time that goes out next. */
  source = 0
  range: Range | null = null
  private inside = false
  private block: readonly Float32Array[] = []
  private at = BLOCK
  private rise = { waits: 0, done: 0, frames: 0 }
  private overs: Over[] = []
  private ringing: Ringing | null = null
  private rung: { of: Turn; legs: readonly Float32Array[] } | null = null

  /** @param hidden called for every block that runs before a start and is not heard */
  constructor(
    readonly heard: Heard,
    readonly rate: number,
    private readonly hidden: () => void,
    private readonly cancelled: () => boolean
  ) {}

  /** Is something computed beside what is heard? */
  get isRinging(): boolean {
    return this.ringing !== null
  }

  async start(frame: number, range: Range | null): Promise<void> {
    this.setRange(range, frame)
    await this.goTo(frame)
    this.heard.mark()
  }

  private setRange(range: Range | null, source: number): void {
    this.range = range
    this.inside = range !== null && source < range.to
    this.heard.repeat(this.inside ? range : null)
  }

  /** Another range, or none, while playing. Where the engine is ahead of its end already, it comes back. */
  async repeat(range: Range | null): Promise<void> {
    const before = this.inside ? this.range!.to : Infinity
    const ahead = this.heard.machine.frame
    this.setRange(range, this.source)
    const end = this.inside ? this.range!.to : Infinity
    if (before !== end && Math.min(before, end) < ahead) await this.jump(this.source)
  }

  private async goTo(frame: number): Promise<void> {
    const { heard } = this
    const ears = frame + heard.latency,
      block = Math.floor(ears / BLOCK) * BLOCK
    await heard.runTo(Math.floor(frame / BLOCK) * BLOCK, this.cancelled)
    // Channels are ahead of the ears by the latency.
    while (!this.cancelled() && heard.machine.frame < block) {
      await heard.block()
      this.hidden()
    }
    await this.entered(frame)
  }

  private async entered(frame: number): Promise<void> {
    this.block = await this.heard.block()
    this.at = (frame + this.heard.latency) % BLOCK
    this.source = frame
  }

  /** Somewhere else; what was heard fades out meanwhile. */
  private async jump(frame: number): Promise<void> {
    const before = this.heard.leave(),
      rest = this.block.map(leg => leg.slice(this.at))
    await this.goTo(frame)
    await this.cross(before, rest, 0)
    this.heard.giveBack(before.machine)
  }

  /** Another plan has taken over: the one before fades out. */
  async giveWay(before: PlanStream, latencyBefore: number): Promise<void> {
    // More latency than there was room for: what is heard moves once, and the position with it.
    this.source -= this.heard.latency - latencyBefore
    await this.cross(before, [], BLOCK - this.at)
  }

  /** What a stream would have gone on with falls while what is heard now rises, after so many frames. */
  private async cross(before: PlanStream, rest: readonly Float32Array[], after: number): Promise<void> {
    const legs = fallen(await goOn(before, CROSS, rest))
    this.overs.push({ legs, at: 0, begins: after })
    this.rise = { waits: after, done: 0, frames: CROSS }
  }

  /**
   * Fills two legs of a block.
   * @returns where in it the range began anew; null: nowhere
   */
  async next(out: Legs): Promise<number | null> {
    let filled = 0,
      turned: number | null = null
    out.forEach(leg => leg.fill(0))
    while (filled < BLOCK && !this.cancelled()) {
      const { range } = this
      if (range && this.inside && this.source >= range.to) {
        await this.turn(range, filled)
        turned = filled
      }
      if (this.at === BLOCK) {
        this.block = await this.heard.block()
        this.at = 0
      }
      const left = range && this.inside ? range.to - this.source : Infinity
      const count = Math.min(BLOCK - filled, BLOCK - this.at, left)
      this.add(out, filled, count)
      filled += count
      this.at += count
      this.source += count
    }
    await this.ring(out)
    for (const over of this.overs) pour(over, over.legs, out)
    this.overs = this.overs.filter(o => o.at < o.legs[0]!.length)
    return turned
  }

  private add(out: Legs, to: number, count: number): void {
    for (let n = 0; n < count; n++) {
      const share = this.risen()
      out.forEach((leg, i) => (leg[to + n]! += this.block[i]![this.at + n]! * share))
    }
  }

  private risen(): number {
    const { rise } = this
    if (rise.waits > 0) {
      rise.waits--
      return 1
    }
    return rise.done < rise.frames ? (rise.done++ + 0.5) / rise.frames : 1
  }

  // ── a range begins anew ──

  private async turn({ from }: Range, begins: number): Promise<void> {
    const { heard } = this,
      of = heard.passed,
      rest = this.block.map(leg => leg.slice(this.at))
    const known = of && [this.rung, this.ringing].find(r => r?.of === of)
    if (known) this.overs.push({ legs: known.legs, at: 0, begins })
    else {
      await this.stopRinging()
      const stream = heard.leave(),
        legs = legsOf(MOST_S * this.rate)
      rest.forEach((leg, i) => legs[i]?.set(leg))
      this.ringing = { stream, of, legs, there: rest[0]?.length ?? 0, at: 0, begins, quiet: 0 }
      this.rung = null
    }
    if (heard.turnBack()) await this.entered(from)
    else await this.goTo(from)
    this.rise = { waits: 0, done: 0, frames: RISE }
  }

  private async ring(out: Legs): Promise<void> {
    const r = this.ringing
    if (!r) return
    const most = r.legs[0].length
    while (r.there < Math.min(most, r.at + BLOCK)) {
      await r.stream.block()
      const block = r.stream.last('sink/ears'),
        n = Math.min(BLOCK, most - r.there)
      block.forEach((leg, i) => r.legs[i]?.set(leg.subarray(0, n), r.there))
      r.there += n
      r.quiet = block.every(leg => leg.every(v => Math.abs(v) < RUNG_OUT)) ? r.quiet + n : 0
    }
    pour(r, r.legs, out)
    if (r.quiet >= QUIET_FRAMES || r.at + BLOCK + CROSS > most) await this.stopRinging()
  }

  /** What rings fades now; what it gave is kept for the next turns. */
  async stopRinging(): Promise<void> {
    const r = this.ringing
    if (!r) return
    this.ringing = null
    const there = r.legs.map(leg => leg.slice(r.at, r.there))
    const legs = fallen(await goOn(r.stream, CROSS, there))
    legs.forEach((leg, i) => r.legs[i]?.set(leg, r.at))
    this.overs.push({ legs, at: 0, begins: r.begins })
    if (r.of) this.rung = { of: r.of, legs: r.legs.map(leg => leg.slice(0, r.at + CROSS)) }
    this.heard.giveBack(r.stream.machine)
  }
}

/** Adds what comes next of something to a block. */
function pour(from: { at: number; begins: number }, legs: readonly Float32Array[], out: Legs): void {
  const count = Math.min(BLOCK - from.begins, legs[0]!.length - from.at)
  out.forEach((leg, i) => {
    for (let n = 0; n < count; n++) leg[from.begins + n]! += legs[i]![from.at + n]!
  })
  from.at += Math.max(0, count)
  from.begins = 0
}

/** In place: from all to nothing. */
function fallen(legs: Legs): Legs {
  for (const leg of legs) leg.forEach((v, n) => (leg[n] = v * (1 - (n + 0.5) / leg.length)))
  return legs
}

/** What a stream goes on with, after what of it is there already. */
async function goOn(stream: PlanStream, frames: number, there: readonly Float32Array[]): Promise<Legs> {
  const legs = legsOf(frames)
  there.forEach((leg, i) => legs[i]?.set(leg.subarray(0, frames)))
  for (let at = there[0]?.length ?? 0; at < frames; at += BLOCK) {
    await stream.block()
    stream.last('sink/ears').forEach((leg, i) => legs[i]?.set(leg.subarray(0, frames - at), at))
  }
  return legs
}
