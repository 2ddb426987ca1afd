// Prints as jobs of a plan of passes: what each has to itself, what has to be patched and set for it, what comes before
// it, and all of that in words.
import { cableFrom, cableTo, patchedCables } from '../graph/cables'
import { nodeName, nodeOf, upstreamOf } from '../graph/edges'
import { sidesReached } from '../graph/sides'
import type { Parameter } from '../processors/processor'
import { unitSettings } from '../rig/unit'
import { UNITS } from '../rig/units'
import type { Cable, Through } from '../session/rows'
import { rows, type Session } from '../session/session'
import { edgesOf } from './fingerprint'
import { clash, type PassJob, type PassPlan } from './passPlan'
import type { PrintItem } from './printRows'
import { stageOf } from './through'

export type Wanted = Pick<PrintItem, 'print' | 'source' | 'tap' | 'share' | 'through' | 'takesOver' | 'take' | 'name'>

/** What the session itself sends through its rig is one use, however many prints hear it. */
const SESSION = 'the session'
const PULLED = ''

/** Ports by which something comes to a tap. */
function portsBefore(session: Session, channel: string, tap: string): string[] {
  const { nodes } = upstreamOf(edgesOf(session), nodeName(tap as 'post', channel))
  return [...nodes].map(nodeOf).flatMap(({ kind, id }) => (kind === 'port' && session.port[id] ? [id] : []))
}

/** What a print needs, and what its own source needs of the same: then it cannot be printed so. */
function claimsOf(session: Session, item: Wanted, stage: Session): { claims: Map<string, string>; twice: string[] } {
  const before = claimedBy(session, portsBefore(session, item.source, item.through?.tap ?? item.tap))
  const claims = new Map(before.map(c => [c, SESSION]))
  if (!item.through) return { claims, twice: [] }
  const own = claimedBy(stage, [...item.through.outPorts, ...item.through.inPorts])
  for (const c of own) claims.set(c, item.print)
  return { claims, twice: own.filter(c => before.includes(c)) }
}

/** `port …`, and `side …` of every unit on the way from these. */
function claimedBy(session: Session, ports: readonly string[]): string[] {
  const outs = ports.filter(p => session.port[p]?.direction === 'out')
  return [...ports.map(p => `port ${p}`), ...[...sidesReached(session, outs)].map(side => `side ${side}`)]
}

const unitOfClaim = (claim: string) => (claim.startsWith('side ') ? claim.slice(5, claim.lastIndexOf('|')) : null)
const into = (cable: Cable) => `into ${cableTo(cable)}${cable.toUnit === null ? '' : `|${cable.toJack}`}`
const outOf = (cable: Cable) => `${cableFrom(cable)}${cable.fromUnit === null ? '' : `|${cable.fromJack}`}`

/** How units and cables stand in a session: all of them, or those of these claims. */
export function standing(session: Session, claims?: Iterable<string>): Map<string, string> {
  const wanted = claims && new Set(claims)
  const units = new Set([...(wanted ?? [])].flatMap(c => unitOfClaim(c) ?? []))
  const state = new Map<string, string>()
  for (const unit of rows(session, 'unit')) {
    const model = UNITS[unit.model]
    if (!model || (wanted && !units.has(unit.id))) continue
    for (const [name, value] of Object.entries(unitSettings(model, unit.settings)))
      state.set(`set ${unit.id} ${name}`, JSON.stringify(value))
    if (!model.passive) state.set(`power ${unit.id}`, wanted ? 'on' : unit.powered ? 'on' : 'off')
  }
  for (const cable of patchedCables(session))
    if (!wanted || units.has(cable.toUnit ?? '') || wanted.has(`port ${cable.toPort}`))
      state.set(into(cable), outOf(cable))
  return state
}

function setsOf(session: Session, stage: Session, claims: Iterable<string>): Map<string, string> {
  const sets = standing(stage, claims)
  // What stands elsewhere meanwhile is not wired where it was.
  if (stage.cable !== session.cable) {
    const left = new Set(patchedCables(stage).map(into))
    for (const cable of patchedCables(session)) if (!left.has(into(cable))) sets.set(into(cable), PULLED)
  }
  return sets
}

export interface Planned {
  jobs: PassJob[]
  /** Why a print cannot be made so, in a sentence; null where it can. */
  refused: (string | null)[]
}

/** @returns a job for every print, in their order */
export function passJobs(session: Session, items: readonly Wanted[]): Planned {
  const { network } = edgesOf(session)
  const refused: (string | null)[] = []
  const jobs = items.map((item, i): PassJob => {
    const { source } = item,
      stage = stageOf(session, item)
    const { claims, twice } = claimsOf(session, item, stage)
    const name = (claim: string) => claimName(session, claim)
    refused[i] = twice.length
      ? `“${item.name}” comes through ${name(twice.find(unitOfClaim) ?? twice[0]!)} already: print what comes from there first, then this`
      : goneText(session, item)
    const heard = network.reach([source], id => network.upstream(id))
    const after = items.flatMap((other, k) =>
      other.through && (other.takesOver || other.take) && other.source !== source && heard.has(other.source) ? [k] : []
    )
    return { claims, sets: setsOf(session, stage, claims.keys()), after }
  })
  return { jobs, refused }
}

function goneText(session: Session, { through, name }: Wanted): string | null {
  const lost = [...(through?.outPorts ?? []), ...(through?.inPorts ?? [])].filter(p => !session.port[p])
  return lost.length ? `a port that “${name}” was to go through is not in the rig any more: choose another way` : null
}

// ── in words ──

export const jackName = (session: Session, node: string): string => {
  const [kind, id, jack] = node.split('|') as ['port' | 'unit', string, string?]
  if (kind === 'port') return session.port[id]?.name ?? id
  const unit = session.unit[id]
  return `“${unit?.name ?? id}”${jack && jack !== '0' ? `, jack ${Number(jack) + 1}` : ''}`
}

const claimName = (session: Session, claim: string): string => {
  const unit = unitOfClaim(claim)
  return unit ? `“${session.unit[unit]?.name ?? unit}”` : (session.port[claim.slice(5)]?.name ?? claim.slice(5))
}

const settingText = ({ unit }: Parameter, value: number | string): string =>
  `${typeof value === 'number' ? Number(value.toFixed(2)) : value}${unit ? ` ${unit}` : ''}`

/** One thing to do before a pass; null where it goes without saying. */
export function changeText(session: Session, what: string, value: string, was: string | undefined): string | null {
  const [kind, id = '', name = ''] = what.split(' ')
  if (kind === 'power')
    return value === 'on' ? `switch “${session.unit[id]?.name}” on` : `switch “${session.unit[id]?.name}” off`
  if (kind === 'into') {
    if (value === PULLED) return null
    const moved = was && was !== PULLED ? ` (instead of ${jackName(session, was)})` : ''
    return `cable from ${jackName(session, value)} to ${jackName(session, id)}${moved}`
  }
  const unit = session.unit[id],
    parameter = UNITS[unit?.model ?? '']?.settings.find(p => p.name === name)
  if (!unit || !parameter) return null
  const show = (json: string) => settingText(parameter, JSON.parse(json) as number | string)
  return `“${unit.name}”: ${parameter.label} ${show(value)}${was === undefined ? '' : ` (is ${show(was)})`}`
}

/** How units are set for a print, and which stand in: what is not as the session has it. */
export function throughText(session: Session, through: Through): string[] {
  const name = (id: string) => `“${session.unit[id]?.name ?? id}”`
  return [
    ...Object.entries(through.instead).map(([unit, other]) => `${name(other)} in place of ${name(unit)}`),
    ...Object.entries(through.settings).flatMap(([id, settings]) => {
      const parameters = UNITS[session.unit[id]?.model ?? '']?.settings ?? []
      const set = parameters.flatMap(p =>
        p.name in settings ? [`${p.label} ${settingText(p, settings[p.name] as number)}`] : []
      )
      return set.length ? [`${name(id)} at ${set.join(', ')}`] : []
    })
  ]
}

export interface PassCard {
  jobs: number[]
  /** What has to be done first. */
  todo: { what: string; text: string }[]
  /** Why it is a pass of its own; null for the first. */
  why: string | null
}

/**
 * A plan as it is worked through, and what is put back at its end.
 * @param now how everything stands in the room, where passes before have left it otherwise than the session says
 */
export function passCards(
  session: Session,
  items: readonly Wanted[],
  jobs: readonly PassJob[],
  plan: PassPlan,
  now: ReadonlyMap<string, string> = standing(session)
): { cards: PassCard[]; back: { what: string; text: string }[] } {
  const state = new Map(now)
  const list = (changes: ReadonlyMap<string, string>) => {
    const todo = [...changes].flatMap(([what, value]) => {
      const text = changeText(session, what, value, state.get(what))
      return text === null ? [] : [{ what, text }]
    })
    for (const [what, value] of changes) state.set(what, value)
    return todo
  }
  const cards = plan.passes.map((pass, n) => ({
    jobs: pass,
    todo: list(plan.changes[n]!),
    why: n === 0 ? null : whyLater(session, items, jobs, plan.passes.slice(0, n), pass)
  }))
  const before = standing(session)
  return { cards, back: list(new Map([...before].filter(([what, value]) => state.get(what) !== value))) }
}

function whyLater(
  session: Session,
  items: readonly Wanted[],
  jobs: readonly PassJob[],
  earlier: readonly (readonly number[])[],
  pass: readonly number[]
): string {
  for (const i of pass)
    for (const [n, others] of earlier.entries())
      for (const k of others) {
        if (jobs[i]!.after.includes(k)) return `“${items[i]!.name}” is to hear “${items[k]!.name}” of pass ${n + 1}`
        if (!clash(jobs[i]!, jobs[k]!)) continue
        const shared = [...jobs[i]!.claims].find(([c, use]) => jobs[k]!.claims.has(c) && jobs[k]!.claims.get(c) !== use)
        const unit = [...jobs[i]!.claims.keys()].find(c => unitOfClaim(c) && jobs[k]!.claims.has(c))
        const what = unit ?? shared?.[0]
        return `“${items[k]!.name}” has ${what ? claimName(session, what) : 'what it needs'} in pass ${n + 1}`
      }
  return 'fewer things have to be set this way'
}
