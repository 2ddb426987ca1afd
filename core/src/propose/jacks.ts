// The jacks of a room in the order in which one reads it, and connections between rows of them.
import type { EditMessage } from '../session/editMessage'
import { byOrder, rows, type Session } from '../session/session'
import { UNITS } from '../rig/units'
import { portsOfRig } from './outputs'

export type JackEnd = { port: string } | { unit: string; jack: number }
export interface RigJack {
  key: string
  name: string
  end: JackEnd
}
/** `from`: what signal leaves, ports out and units' outputs; `to`: what it ends in. */
export type JackSide = 'from' | 'to'

/** Ports first, then the units' jacks. */
export function jacksOfRig(session: Session, rig: string, side: JackSide): RigJack[] {
  const ports = portsOfRig(session, rig, side === 'from' ? 'out' : 'in')
  const units = rows(session, 'unit')
    .filter(u => u.rig === rig)
    .sort(byOrder)
  return [
    ...ports.map(({ id, name }): RigJack => ({ key: `port ${id}`, name, end: { port: id } })),
    ...units.flatMap(({ id, name, model }) =>
      (UNITS[model]?.[side === 'from' ? 'outputs' : 'inputs'] ?? []).map((jack, i): RigJack => ({
        key: `unit ${id} ${i}`,
        name: `${name}, ${jack}`,
        end: { unit: id, jack: i }
      }))
    )
  ]
}

export interface Normals {
  rig: string
  /** Keys of the first jacks. */
  from: string
  to: string
  /** So many in a row, as far as both rows go. */
  count: number
  kind: 'half' | 'full'
}

/**
 * Normals one row of jacks to another, one after the other.
 * @returns null where a first jack is not there
 */
export function normalsInARow(session: Session, wanted: Normals, newId: () => string): EditMessage | null {
  const { rig, count, kind } = wanted
  const rowFrom = (side: JackSide) => {
    const jacks = jacksOfRig(session, rig, side)
    const at = jacks.findIndex(j => j.key === wanted[side])
    return at < 0 ? [] : jacks.slice(at, at + count)
  }
  const from = rowFrom('from'),
    to = rowFrom('to')
  const pairs = from.slice(0, to.length).map((j, i) => ({ from: j, to: to[i]! }))
  if (!pairs.length) return null
  const edits = pairs.map(pair => ({
    verb: 'addCable',
    args: { id: newId(), rig, from: pair.from.end, to: pair.to.end, normalled: kind }
  }))
  const more = pairs.length > 1 ? ` and ${pairs.length - 1} more` : ''
  return { verb: 'several', args: { label: `Normal ${pairs[0]!.from.name} → ${pairs[0]!.to.name}${more}`, edits } }
}
