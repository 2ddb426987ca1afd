// A session's network as a small picture: columns of channels by tier, and the ways that main feeds take between them.
import { byOrder, rows, type Session } from '../session/session'
import { Network } from './network'
import { tiers } from './tiers'

export interface NetworkPicture {
  /** From tracks to mains: of each channel its hue. */ columns: number[][]
  /** From column and row to column and row, each once. */ ways: [number, number, number, number][]
}

export function networkPicture(session: Session): NetworkPicture {
  const network = new Network(session),
    tier = tiers(network)
  const columns: number[][] = [],
    at = new Map<string, [number, number]>()
  for (const channel of rows(session, 'channel').sort(byOrder)) {
    if (channel.parked) continue
    const column = tier.get(channel.id) ?? 0
    while (columns.length <= column) columns.push([])
    at.set(channel.id, [column, columns[column]?.length ?? 0])
    columns[column]?.push(channel.colour)
  }
  const ways: NetworkPicture['ways'] = []
  for (const feed of rows(session, 'feed')) {
    const from = feed.kind === 'main' && at.get(feed.from),
      to = feed.kind === 'main' && at.get(feed.to)
    if (from && to) ways.push([...from, ...to])
  }
  return { columns, ways }
}
