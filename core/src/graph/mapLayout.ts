// Where everything is drawn on the Map: columns by tier from left to right, bundles of tracks that share a destination,
// lanes for feeds that pass a column (so that no line runs under a strip), returns in a row of their own.
import type { Channel, Feed } from '../session/rows'
import { byOrder, rows } from '../session/session'
import type { Network } from './network'
import { tiers } from './tiers'

export interface Strip {
  id: string
  column: number
  y: number
  /** How many tracks a folded bundle stands for. */ count?: number
  members?: string[]
}
export interface Bundle {
  to: string
  members: string[]
  folded: boolean
  y: number
  height: number
}
export interface MapColumn {
  title: string
}
/** A feed as drawn: `via` are heights of the lanes it takes through columns between. */
export interface Line {
  feed: Feed
  from: string
  to: string
  via: { column: number; y: number }[]
}

export interface MapLayout {
  columns: MapColumn[]
  strips: Strip[]
  bundles: Bundle[]
  lines: Line[]
  returns: string[]
  /** Of the tracks, and of everything else. */ trackHeight: number
  busHeight: number
}

export interface MapOptions {
  /** Destinations whose bundles are folded. */
  folded: ReadonlySet<string>
  /** Only these channels, when a filter is typed. */
  only?: ReadonlySet<string> | null
  /** Height in which the buses should lie; the tracks, which may be many more, have a column that scrolls by itself. */
  fit?: number
  row: number
  lane: number
  gap: number
}

const NOWHERE = ''

export function mapLayout(network: Network, options: MapOptions): MapLayout {
  const { session } = network
  const shown = rows(session, 'channel')
    .filter(c => !options.only || options.only.has(c.id))
    .sort(byOrder)
  const columnOf = columnsOf(network, shown)
  const count = Math.max(2, ...[...columnOf.values()].map(c => c + 1))
  const columns = titles(session.channel, columnOf, count)
  const bundles = bundlesOf(network, shown, options)
  const standsIn = new Map<string, string>()
  for (const b of bundles) if (b.folded) for (const m of b.members) standsIn.set(m, b.members[0] ?? m)

  const items: Item[][] = Array.from({ length: count }, () => [])
  const placed = new Map<string, Item>()
  const put = (column: number, item: Item) => {
    items[column]?.push(item)
    placed.set(item.key, item)
  }
  for (const bundle of bundles) {
    for (const id of bundle.folded ? bundle.members.slice(0, 1) : bundle.members) {
      put(0, { key: id, height: options.row, y: 0, wants: [] })
    }
  }
  for (const c of shown)
    if (columnOf.get(c.id)! > 0) put(columnOf.get(c.id)!, { key: c.id, height: options.row, y: 0, wants: [] })
  const lines = linesOf(network, shown, columnOf, standsIn, key => placed.has(key))
  for (const line of lines) {
    for (const via of line.via) {
      const key = laneKey(line, via.column)
      let lane = placed.get(key)
      if (!lane) put(via.column, (lane = { key, height: options.lane, y: 0, wants: [] }))
      lane.wants.push(line.from)
    }
    const last = line.via.at(-1)
    placed.get(line.to)?.wants.push(last ? laneKey(line, last.column) : line.from)
  }
  const [tracks = [], ...buses] = items
  stack(tracks, options.gap)
  const trackHeight = Math.max(0, ...tracks.map(i => i.y + i.height))
  const scale = options.fit === undefined ? 1 : Math.min(1, options.fit / Math.max(1, trackHeight))
  for (const column of buses) settle(column, placed, options, id => (columnOf.get(id) === 0 ? scale : 1))
  for (const line of lines)
    for (const via of line.via) via.y = placed.get(laneKey(line, via.column))!.y + options.lane / 2

  const strips: Strip[] = [...columnOf]
    .filter(([id]) => placed.has(id))
    .map(([id, column]) => {
      const bundle = bundles.find(b => b.folded && b.members[0] === id)
      return {
        id,
        column,
        y: placed.get(id)!.y,
        ...(bundle ? { count: bundle.members.length, members: bundle.members } : {})
      }
    })
  for (const b of bundles) {
    const ends = (b.folded ? b.members.slice(0, 1) : b.members).map(m => placed.get(m)!.y)
    b.y = Math.min(...ends)
    b.height = Math.max(...ends) + options.row - b.y
  }
  const returns = shown.filter(c => c.role === 'return').map(c => c.id)
  return {
    columns,
    strips,
    bundles,
    lines,
    returns,
    trackHeight,
    busHeight: Math.max(0, ...buses.flat().map(i => i.y + i.height))
  }
}

interface Item {
  key: string
  height: number
  y: number
  wants: string[]
}

const laneKey = (line: Line, column: number) => `lane ${line.feed.kind === 'key' ? 'key ' : ''}${line.to} ${column}`

/** Tracks, then submixes as deep as they nest, then stems, then mains and outputs. Returns have no column. */
function columnsOf(network: Network, shown: Channel[]): Map<string, number> {
  const tier = tiers(network)
  const of = new Map<string, number>()
  const deepest = (role: string, from: number) =>
    Math.max(from, ...shown.filter(c => c.role === role).map(c => of.get(c.id)!))
  for (const c of shown) if (c.role === 'track') of.set(c.id, 0)
  const submixTiers = [...new Set(shown.filter(c => c.role === 'submix').map(c => tier.get(c.id)!))].sort(
    (a, b) => a - b
  )
  for (const c of shown) if (c.role === 'submix') of.set(c.id, 1 + submixTiers.indexOf(tier.get(c.id)!))
  const stem = deepest('submix', 0) + 1
  for (const c of shown) if (c.role === 'stem') of.set(c.id, stem)
  const main = shown.some(c => c.role === 'stem') ? stem + 1 : stem
  for (const c of shown) if (c.role === 'main' || c.role === 'output') of.set(c.id, main)
  return of
}

function titles(channels: Record<string, Channel>, columnOf: Map<string, number>, count: number): MapColumn[] {
  const submixColumns = new Set([...columnOf].filter(([id]) => channels[id]?.role === 'submix').map(([, c]) => c))
  return Array.from({ length: count }, (_, column) => {
    if (column === 0) return { title: 'Tracks' }
    if (submixColumns.has(column)) return { title: submixColumns.size > 1 ? `Submixes ${column}` : 'Submixes' }
    const roles = new Set([...columnOf].flatMap(([id, c]) => (c === column ? (channels[id]?.role ?? []) : [])))
    if (roles.has('stem')) return { title: 'Stems' }
    return { title: !roles.has('output') ? 'Main' : roles.has('main') ? 'Main, outputs' : 'Outputs' }
  })
}

function bundlesOf(network: Network, shown: Channel[], { folded, only }: MapOptions): Bundle[] {
  const groups = new Map<string, string[]>()
  for (const c of shown) {
    if (c.role !== 'track') continue
    const to = network.next(c.id).find(f => f.kind === 'main')?.to ?? NOWHERE
    groups.set(to, [...(groups.get(to) ?? []), c.id])
  }
  // A filter shows what it found: nothing stays folded away then.
  return [...groups].map(([to, members]) => ({
    to,
    members,
    folded: !only && members.length > 1 && to !== NOWHERE && folded.has(to),
    y: 0,
    height: 0
  }))
}

function linesOf(
  network: Network,
  shown: Channel[],
  columnOf: Map<string, number>,
  standsIn: Map<string, string>,
  isPlaced: (id: string) => boolean
): Line[] {
  const lines: Line[] = []
  const drawn = new Set<string>()
  for (const c of shown) {
    for (const feed of network.feedsFrom.get(c.id) ?? []) {
      const target = feed.kind === 'key' ? network.session.slot[feed.slot]?.channel : feed.to
      if (!target) continue
      const from = standsIn.get(c.id) ?? c.id,
        to = standsIn.get(target) ?? target
      const known = (id: string) => isPlaced(id) || network.session.channel[id]?.role === 'return'
      const key = `${feed.kind} ${from} ${to}`
      if (!known(from) || !known(to) || from === to || drawn.has(key)) continue
      drawn.add(key)
      const a = columnOf.get(from),
        b = columnOf.get(to)
      const via =
        a !== undefined && b !== undefined
          ? Array.from({ length: Math.max(0, b - a - 1) }, (_, i) => ({ column: a + 1 + i, y: 0 }))
          : []
      lines.push({ feed, from, to, via })
    }
  }
  return lines
}

function stack(items: Item[], gap: number): void {
  let y = 0
  for (const item of items) {
    item.y = y
    y += item.height + gap
  }
}

/**
 * Every item as near as can be to the middle one of what it comes from (what carries more counts more), in that order,
 * without touching.
 */
function settle(
  items: Item[],
  placed: Map<string, Item>,
  { gap, fit }: MapOptions,
  scaleOf: (key: string) => number
): void {
  const wish = new Map(
    items.map(item => {
      const from = item.wants
        .map(w => placed.get(w))
        .filter(p => p !== undefined)
        .map(p => ({ y: (p.y + p.height / 2) * scaleOf(p.key), weight: Math.max(1, p.wants.length) }))
        .sort((a, b) => a.y - b.y)
      return [item, (weightedMedian(from) ?? item.height / 2) - item.height / 2]
    })
  )
  items.sort((a, b) => wish.get(a)! - wish.get(b)!)
  // Blocks of items that would touch share one shift: the mean of their wishes (pool adjacent violators).
  interface Pool {
    items: Item[]
    height: number
    sum: number
  }
  const pools: Pool[] = []
  const top = (p: Pool) => Math.max(0, p.sum / p.items.length)
  for (const item of items) {
    let pool: Pool = { items: [item], height: item.height, sum: wish.get(item)! }
    for (let last = pools.at(-1); last && top(last) + last.height + gap > top(pool); last = pools.at(-1)) {
      pools.pop()
      pool = {
        items: [...last.items, ...pool.items],
        sum: last.sum + pool.sum - pool.items.length * (last.height + gap),
        height: last.height + gap + pool.height
      }
    }
    pools.push(pool)
  }
  for (const pool of pools) {
    // What would stick out below moves up as far as there is room.
    let y =
      fit !== undefined && pool === pools.at(-1)
        ? Math.max(
            pools.length > 1 ? top(pools.at(-2)!) + pools.at(-2)!.height + gap : 0,
            Math.min(top(pool), fit - pool.height)
          )
        : top(pool)
    for (const item of pool.items) {
      item.y = y
      y += item.height + gap
    }
  }
}

function weightedMedian(sorted: { y: number; weight: number }[]): number | undefined {
  const half = sorted.reduce((sum, p) => sum + p.weight, 0) / 2
  let passed = 0
  for (const [i, p] of sorted.entries()) {
    passed += p.weight
    if (passed > half) return p.y
    if (passed === half) return (p.y + (sorted[i + 1] ?? p).y) / 2
  }
  return undefined
}
