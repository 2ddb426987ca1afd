// What converters do while a pass runs: where more arrives at a port than full scale, the print that hears that port is
// clipped there.
import { decibels } from '../foundation/elementary'
import { believedDelay } from '../rig/believedDelay'
import { COMPENSATION_DELAY } from '../rig/fractional'
import { BLOCK } from '../plan/operations'
import type { PlanStream } from '../run/stream'
import type { Fault } from '../session/rows'
import { rows, type Session } from '../session/session'

interface Run {
  /** Frames of the machine. */
  from: number
  to: number
  peak: number
}

const METER = 'meter/port/'
/** What clips again so soon is one place. */
const APART_S = 0.25

/** Looks at the meters of a stream's ports after each of its blocks. */
export class Converters {
  private readonly meters: { port: string; state: Float32Array; runs: Run[] }[]
  private readonly apart: number

  constructor(
    private readonly stage: Session,
    stream: PlanStream,
    sampleRate: number
  ) {
    this.apart = APART_S * sampleRate
    this.meters = stream.plan.ops.flatMap(op =>
      op.kind === 'meter' && op.key.startsWith(METER)
        ? [{ port: op.key.slice(METER.length), state: stream.machine.stateOf(op.key)!, runs: [] }]
        : []
    )
  }

  /** @param at frame of the block that was just computed */
  look(at: number): void {
    for (const { state, runs } of this.meters) {
      const peak = state[0]!
      if (peak <= 1) continue
      const last = runs.at(-1)
      if (last && at - last.to < this.apart) {
        last.to = at + BLOCK
        last.peak = Math.max(last.peak, peak)
      } else runs.push({ from: at, to: at + BLOCK, peak })
    }
  }

  /**
   * @param ports those that a print hears · @param latency of the print, in samples
   * @returns where it is clipped, in frames of source time
   */
  read(ports: ReadonlySet<string>, latency: number): Fault[] {
    return this.meters.flatMap(({ port, runs }) =>
      ports.has(port)
        ? runs.map(run => ({
            kind: 'clipped' as const,
            from: Math.max(0, run.from - latency),
            // What leaves comes back later than what has come back; both are told as one place.
            frames: run.to - run.from + this.behind(port),
            what: this.stage.port[port]?.name ?? port,
            overDb: Math.round(100 * decibels(run.peak)) / 100
          }))
        : []
    )
  }

  private behind(port: string): number {
    const loop = rows(this.stage, 'loop').find(l => l.outPorts.includes(port))
    return COMPENSATION_DELAY + (loop ? Math.ceil(believedDelay(this.stage, loop)) : 0)
  }
}
