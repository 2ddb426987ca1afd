// What an engine is to play, as its session goes on: other values in the plan that it has, or another plan, laid out in
// memory. All that takes long about a change is done here, in a thread of its own. What is said is plain data.
import { sameList } from '@nullet/core/foundation/lists'
import type { SlotMove } from '@nullet/core/compile/moves'
import type { Plan } from '@nullet/core/compile/plan'
import { RunningPlan, valuesAfter } from '@nullet/core/compile/values'
import type { Op } from '@nullet/core/plan/operations'
import { clipsOf } from '@nullet/core/run/clipsOf'
import { layOut, type Layout } from '@nullet/core/run/layout'
import { weightOf } from '@nullet/core/run/weights'
import { settings, type RowChange, type Session } from '@nullet/core/session/session'

const LATENCY_STEP = 2048

/** What concerns listening alone and is no part of the session. */
export interface Listening {
  /** By how many dB channels are lowered while they are compared. */
  trims: Map<string, number>
  /** The slot whose key is heard instead of a channel. */
  keyOf: string | null
  /** The slot that is looked at. */
  probe: string | null
}

export interface Planned {
  kind: 'plan'
  plan: Plan
  layout: Layout
  /** Samples by which the ears are late. */
  latency: number
  probe: string | null
}

export type Update =
  | Planned
  | {
      kind: 'values'
      /** Operations that have other values. */
      ops: Op[]
      /** How settings follow envelopes, all of them; null: as before. */
      moves: SlotMove[] | null
      /** Clips or their audio are others. */
      clips: boolean
    }

export class Planning {
  /** How often a plan was compiled. */
  compiled = 0
  private running: RunningPlan | null = null
  private latency = 0

  /** @param twoFrom plans that weigh so much of real time are laid out for two threads */
  constructor(
    private session: Session,
    private readonly listening: Listening = { trims: new Map(), keyOf: null, probe: null },
    private readonly twoFrom = Infinity
  ) {}

  /**
   * Takes the session as it is now. Values are written where the plan holds them; what can be another plan is compiled.
   * @param changes all rows by which it differs from the one before; null where nobody knows
   */
  change(session: Session, changes: readonly RowChange[] | null = null): Update {
    const before = this.session
    this.session = session
    const { running } = this
    if (!running) return this.whole()
    if (changes) {
      const moves = [...running.plan.moves]
      const ops = running.changed(session, changes)
      if (ops) {
        const isOther = running.plan.moves.some((m, i) => m !== moves[i])
        return { kind: 'values', ops, moves: isOther ? running.plan.moves : null, clips: false }
      }
    }
    const next = this.planned()
    const ops = valuesAfter(running.plan.ops, next.plan.ops)
    if (!ops) return this.laidOut(next)
    this.running = next
    const moves = sameMoves(running.plan, next.plan) ? null : next.plan.moves
    return { kind: 'values', ops, moves, clips: !sameClips(before, session, next.plan) }
  }

  /** The plan of the session as it is. */
  whole(): Planned {
    return this.laidOut(this.planned())
  }

  private laidOut(running: RunningPlan): Planned {
    this.running = running
    const { plan } = running
    const share = (weightOf(plan.ops) * settings(this.session).sampleRate) / 1e9
    const layout = layOut(plan.ops, { forTwo: share >= this.twoFrom })
    return { kind: 'plan', plan, layout, latency: this.latency, probe: this.listening.probe }
  }

  /** The ears' latency never shrinks while playing: what is heard would jump. */
  private planned(): RunningPlan {
    this.compiled++
    const { session, latency } = this,
      { trims, keyOf, probe } = this.listening
    const channel =
      settings(session).heardChannel ??
      Object.values(session.channel).find(c => c.role === 'main')?.id ??
      Object.keys(session.channel)[0]
    const wanted = { taps: [], live: true, ...(probe && { probe }) }
    if (!channel) return new RunningPlan(session, wanted)
    const heard = { channel, trimDb: trims.get(channel) ?? 0, ...(keyOf && { keyOf }) }
    const running = new RunningPlan(session, { ...wanted, heard: { ...heard, latency } })
    const needed = running.plan.sinks.get('ears')!.latency
    if (needed <= latency && latency > 0) return running
    this.latency = Math.ceil(Math.max(needed, 1) / LATENCY_STEP) * LATENCY_STEP
    return new RunningPlan(session, { ...wanted, heard: { ...heard, latency: this.latency } })
  }
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

/** Do sources play the same? Rows that did not change are the same objects; a player's clip is made every time. */
function sameClips(a: Session, b: Session, { sources }: Plan): boolean {
  if (a.medium !== b.medium || a.unit !== b.unit) return false
  if (a.clip === b.clip && a.channel === b.channel) return true
  const old = clipsOf(a, sources)
  return [...clipsOf(b, sources)].every(([key, clips]) => sameList(clips, old.get(key)!))
}
