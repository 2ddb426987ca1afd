// The rig library: rooms that sessions copy from.
import type { RigDocument } from '@nullet/core/session/rigDocument'
import type { RigSummary } from '@nullet/core/session/summary'
import type { Sql } from './connect'
import { Shelf } from './shelf'

export const rigs = new Shelf<RigDocument>('rig_entry', 'rig')

/** By name. */
export async function listRigs(sql: Sql): Promise<RigSummary[]> {
  const found = await sql<(Omit<RigSummary, 'changedAt'> & { changedAt: Date })[]>`
    select id, name, changed_at,
      coalesce((select jsonb_agg(u ->> 'name') from jsonb_array_elements(document -> 'rows' -> 'unit') u), '[]') as units,
      (select count(*)::int from jsonb_array_elements(document -> 'rows' -> 'port') p
      where p ->> 'direction' = 'out') as outs,
      (select count(*)::int from jsonb_array_elements(document -> 'rows' -> 'port') p
      where p ->> 'direction' = 'in') as ins
    from rig_entry where removed_at is null order by lower(name), id`
  return found.map(r => ({ ...r, changedAt: r.changedAt.toISOString() }))
}
