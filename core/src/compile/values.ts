// Values that change while a plan runs: a level, a pan, a setting, a mute, those of the rig too. Only the operations
// that hold them (in the rig, with what leads there) are made anew against the signals that are there; everything else,
// and everything that could be another shape, is compiled.
import { isPlaced, isSameShape, type Op } from '../plan/operations'
import type { Feed, TableName } from '../session/rows'
import { otherFields, rows, type RowChange, type Session } from '../session/session'
import { Compiler, type Remaking } from './compile'
import type { SlotMove } from './moves'
import type { CompileOptions, Plan } from './plan'

/** What holds the value of a row’s field. `null`: nothing that sounds. A field that is not named here is no value. */
type Holder = ((parts: Remaking, id: string) => void) | null

/** Where a feed arrives. */
function arrival(parts: Remaking, feed: Feed): void {
  if (feed.kind === 'key') parts.slot(feed.slot)
  else if (feed.kind === 'port') feed.ports.forEach(id => parts.rig('port', id))
  else parts.arriving(feed.to)
}
const feedsOf = (parts: Remaking, channel: string, which: (f: Feed) => boolean) =>
  (parts.network.feedsFrom.get(channel) ?? []).filter(which).forEach(f => arrival(parts, f))
const feed: Holder = (parts, id) => arrival(parts, parts.network.session.feed[id])
const slot: Holder = (parts, id) => parts.slot(id)
const arriving: Holder = (parts, id) => parts.arriving(id)

/** Where a cable ends. */
const cableEnd: Holder = ({ network, rig }, id) => {
  const { toPort, toUnit } = network.session.cable[id]
  if (toPort !== null) rig('port', toPort)
  else rig('unit', toUnit)
}
const unitOf: Holder = (parts, id) => parts.rig('unit', id)
/** What comes back by a loop comes into the slot that holds it. */
const loopReturn: Holder = (parts, id) =>
  rows(parts.network.session, 'slot').forEach(s => s.loop === id && parts.slot(s.id))

/** Points are values as long as they have room (see PlanBuilder.envelope). */
const points: Holder = (parts, id) => {
  const { channel, feed: of, slot: inside, field } = parts.network.session.envelope[id]
  if (inside) parts.slot(inside)
  else if (of) arrival(parts, parts.network.session.feed[of])
  else if (channel && field === 'levelDb') parts.fader(channel)
  else if (channel) feedsOf(parts, channel, f => f.pan === null)
}

const HOLDERS: Partial<Record<TableName, Record<string, Holder>>> = {
  session: { name: null, families: null, heardLevelDb: parts => parts.ears() },
  channel: {
    name: null,
    colour: null,
    family: null,
    familyGuessed: null,
    levelDb: (parts, id) => parts.fader(id),
    muted(parts, id) {
      parts.fader(id)
      feedsOf(parts, id, () => true)
    },
    pan: (parts, id) => feedsOf(parts, id, f => f.pan === null),
    trimDb: arriving,
    flippedLegs: arriving,
    mutedLegs: arriving
  },
  envelope: { points },
  feed: { levelDb: feed, pan: feed, muted: feed, withMute: feed },
  slot: { params: slot, mix: slot, keyLowCutHz: slot, keyHighCutHz: slot },
  loop: {
    name: null,
    order: null,
    sendDb: (parts, id) => parts.network.session.loop[id].outPorts.forEach(port => parts.rig('port', port)),
    returnDb: loopReturn,
    inverted: loopReturn
  },
  port: { name: null, order: null, trimDb: (parts, id) => parts.rig('port', id) },
  cable: { levelDb: cableEnd, inverts: cableEnd },
  unit: { name: null, order: null, notes: null, photos: null, presets: null, putBack: null, settings: unitOf }
}

/**
 * Of a plan that comes after another one: operations with other values. They are told where samples lie.
 * @returns null where its shape is another
 */
export function valuesAfter(before: readonly Op[], ops: readonly Op[]): Op[] | null {
  const there = new Map(before.map(op => [op.key, op]))
  const isThere = (op: Op) => {
    const old = there.get(op.key)
    return !!old && isSameShape(old, op)
  }
  if (ops.length !== there.size || !ops.every(isThere)) return null
  return ops.filter(op => {
    const { params } = there.get(op.key)!
    if (isPlaced(op)) op.params[0] = params[0]!
    return !op.params.every((p, i) => p === params[i])
  })
}

/** A plan that is played, with what it takes to change values in it. */
export class RunningPlan {
  readonly plan: Plan
  private readonly compiler: Compiler
  /** Operations by key, and the output that a leg is by its number: made when a value changes for the first time. */
  private index: { ops: ReadonlyMap<string, Op>; legs: ReadonlyMap<number, string> } | null = null

  constructor(session: Session, options: CompileOptions) {
    this.compiler = new Compiler(session, options)
    this.plan = this.compiler.plan()
  }

  /**
   * The operations whose parameters are others now; the plan has them from now on.
   * @param changes all rows by which the session differs from the one before
   * @returns null where the plan has to be compiled again
   */
  changed(session: Session, changes: readonly RowChange[]): Op[] | null {
    const holders = new Map<string, (parts: Remaking) => void>()
    for (const { table, id, before, after } of changes) {
      if (!before || !after) return null
      const known = HOLDERS[table] ?? {}
      for (const field of otherFields(before, after)) {
        const holder = known[field]
        if (holder === undefined) return null
        if (holder) holders.set(`${table} ${id} ${field}`, parts => holder(parts, id))
      }
    }
    if (!holders.size) return []
    const { ops } = this.plan
    this.index ??= { ops: new Map(ops.map(op => [op.key, op])), legs: legsOf(ops) }
    const made = this.compiler.remade(session, this.index.legs.size, parts => holders.forEach(make => make(parts)))
    const changed = made && this.taken(made.ops)
    if (changed) this.follow(made.moves)
    return changed
  }

  /** What envelopes move is set block by block from the settings beside them: soon from the new ones. */
  private follow(moves: readonly SlotMove[]): void {
    for (const move of moves) {
      const at = this.plan.moves.findIndex(m => m.slot === move.slot)
      if (at >= 0) this.plan.moves[at] = move
    }
  }

  /** What was made anew, where it is the same but for its parameters. */
  private taken(made: readonly Op[]): Op[] | null {
    const { ops, legs } = this.index!,
      own = legsOf(made)
    const source = (leg: number) => legs.get(leg) ?? own.get(leg)
    for (const op of made) {
      const there = ops.get(op.key)
      if (!there || !isSameShape(there, op, (a, b) => source(a) === source(b))) return null
    }
    const changed = new Map<string, Op>()
    for (const op of made) {
      const there = ops.get(op.key)!,
        params = isPlaced(op) ? [there.params[0]!, ...op.params.slice(1)] : op.params
      if (params.every((p, i) => p === there.params[i])) continue
      there.params = params
      changed.set(there.key, there)
    }
    return [...changed.values()]
  }
}

const legsOf = (ops: readonly Op[]) =>
  new Map(ops.flatMap(op => op.outs.map((leg, i): [number, string] => [leg, `${op.key} ${i}`])))
