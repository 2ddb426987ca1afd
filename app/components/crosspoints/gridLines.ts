// The rows of the grid: channels, gathered by family, by tier or not at all; groups can be folded.
import { tiers } from '@nullet/core/graph/tiers'
import type { Network } from '@nullet/core/graph/network'
import type { Channel } from '@nullet/core/session/rows'
import { byOrder, rows } from '@nullet/core/session/session'

export const GROUPINGS = ['none', 'family', 'tier'] as const
export type Grouping = (typeof GROUPINGS)[number]
export type GridLine =
  | { kind: 'channel'; key: string; channel: Channel }
  | { kind: 'group'; key: string; title: string; members: string[]; folded: boolean }

const ROLE_TITLES: Record<string, string> = {
  track: 'Tracks',
  return: 'Returns',
  stem: 'Stems',
  main: 'Mains',
  output: 'Outputs'
}

export function gridLines(
  network: Network,
  found: ReadonlySet<string> | null,
  by: Grouping,
  folded: ReadonlySet<string>
): GridLine[] {
  const channels = rows(network.session, 'channel')
    .filter(c => !found || found.has(c.id))
    .sort((a, b) => Number(a.kind === 'bus') - Number(b.kind === 'bus') || byOrder(a, b))
  if (by === 'none') return channels.map(channel => ({ kind: 'channel', key: channel.id, channel }))
  const tier = tiers(network)
  const titleOf = (c: Channel) =>
    by === 'family'
      ? c.family || 'No family'
      : c.role === 'submix'
        ? `Submixes, tier ${tier.get(c.id)}`
        : ROLE_TITLES[c.role]!
  const groups = new Map<string, Channel[]>()
  for (const c of channels) groups.set(titleOf(c), [...(groups.get(titleOf(c)) ?? []), c])
  const ordered = [...groups].sort(([a, x], [b, y]) =>
    by === 'tier' ? tier.get(x[0]!.id)! - tier.get(y[0]!.id)! : Number(a === 'No family') - Number(b === 'No family')
  )
  return ordered.flatMap(([title, list]): GridLine[] => {
    const isFolded = folded.has(title)
    return [
      { kind: 'group', key: `group ${title}`, title, members: list.map(c => c.id), folded: isFolded },
      ...(isFolded ? [] : list.map((channel): GridLine => ({ kind: 'channel', key: channel.id, channel })))
    ]
  })
}
