// The network as a grid: rows are channels, columns are buses, key inputs and ports out; what stands in each cell.
import { PROCESSORS, slotLabel } from '@nullet/core/processors/table'
import type { Channel, Feed } from '@nullet/core/session/rows'
import { byOrder, rows, settings, type Session } from '@nullet/core/session/session'
import { feedClosed } from '@nullet/core/graph/closed'
import type { Network } from '@nullet/core/graph/network'

export type Goal = { bus: string } | { slot: string } | { port: string }
export interface Column {
  key: string
  group: string
  name: string
  /** Which of a channel’s inputs it is. */ hint?: string
  goal: Goal
  colour: number
  channel?: string
}
export interface Cell {
  main?: Feed
  send?: Feed
  key?: Feed
  port?: Feed
  /** What stands here carries nothing: muted, parked, at −∞, or a print stands in its place. */
  closed?: boolean
}

const ROLES: { role: Channel['role']; title: string }[] = [
  { role: 'main', title: 'Mains' },
  { role: 'output', title: 'Outputs' },
  { role: 'stem', title: 'Stems' },
  { role: 'submix', title: 'Submixes' },
  { role: 'return', title: 'Returns' }
]

export function columnsOf(session: Session): Column[] {
  const channels = rows(session, 'channel').sort(byOrder)
  const rig = settings(session).rig
  const buses = ROLES.flatMap(({ role, title }) =>
    channels
      .filter(c => c.kind === 'bus' && c.role === role)
      .map(c => ({ key: c.id, group: title, name: c.name, goal: { bus: c.id }, colour: c.colour, channel: c.id }))
  )
  const keys = rows(session, 'slot')
    .filter(s => PROCESSORS[s.processor]?.keyed)
    .map(s => ({
      key: s.id,
      group: 'Key inputs',
      name: session.channel[s.channel]!.name,
      hint: slotLabel(s.processor).toLowerCase(),
      goal: { slot: s.id },
      colour: session.channel[s.channel]!.colour,
      channel: s.channel
    }))
  const ports = rows(session, 'port')
    .filter(p => p.direction === 'out' && session.interface[p.interface]?.rig === rig)
    .sort(byOrder)
    .map(p => ({ key: p.id, group: 'Ports out', name: p.name, goal: { port: p.id }, colour: 6 }))
  return [...buses, ...keys, ...ports]
}

/** By channel and column key. */
export function cellsOf(network: Network): Map<string, Map<string, Cell>> {
  const all = new Map<string, Map<string, Cell>>()
  const cell = (from: string, key: string) => {
    if (!all.has(from)) all.set(from, new Map())
    const row = all.get(from)!
    if (!row.has(key)) row.set(key, {})
    return row.get(key)!
  }
  for (const [from, feeds] of network.feedsFrom) {
    for (const f of feeds) {
      if (f.to && feedClosed(network, f)) cell(from, f.to).closed = true
      if (f.kind === 'key') cell(from, f.slot).key = f
      else if (f.kind === 'port')
        f.ports.forEach(p => {
          cell(from, p).port = f
        })
      else if (f.kind === 'main') cell(from, f.to).main = f
      else if (f.kind === 'send') cell(from, f.to).send = f
    }
  }
  return all
}
