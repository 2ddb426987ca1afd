// The rows of the cost view: what was measured beside who uses it.
import type { EditMessage } from '@nullet/core/session/editMessage'
import type { CostRow } from '@nullet/core/measure/cost'
import type { Network } from '@nullet/core/graph/network'
import type { Session } from '@nullet/core/session/session'

export interface CostLine {
  key: string
  name: string
  channel: string | null
  slot: string | null
  share: number
  /** How many feeds arrive; null where that says nothing. */
  users: number | null
  /** Share of the whole that parking the channel would save; null where it cannot be parked. */
  saves: number | null
}
export type SortBy = 'name' | 'share' | 'users' | 'saves'

export const parkEdit = (ids: string[]): EditMessage => ({
  verb: 'setChannels',
  args: { ids, fields: { parked: true } }
})

export function costLines(
  session: Session,
  network: Network,
  rows: readonly CostRow[],
  saved: ReadonlyMap<string, number>
): CostLine[] {
  return rows
    .filter(r => r.channel === null || session.channel[r.channel])
    .map(r => {
      const channel = r.channel === null ? null : session.channel[r.channel]!
      return {
        key: `${r.channel ?? 'outside'} ${r.slot ?? ''}`,
        name: channel?.name ?? 'ports, units and listening',
        channel: r.channel,
        slot: r.slot,
        share: r.share,
        users: r.slot
          ? (network.keysTo.get(r.slot)?.length ?? 0) || null
          : channel?.kind === 'bus'
            ? (network.feedsTo.get(channel.id)?.length ?? 0)
            : null,
        saves: channel && !r.slot && !channel.parked ? (saved.get(channel.id) ?? null) : null
      }
    })
}

/** Numbers from the highest down, names from the first up. */
export const sorted = (lines: CostLine[], by: SortBy): CostLine[] =>
  [...lines].sort((a, b) =>
    by === 'name'
      ? a.name.localeCompare(b.name) || b.share - a.share
      : (b[by] ?? -1) - (a[by] ?? -1) || b.share - a.share
  )
