// Templates: networks kept for other sessions.
import type { TemplateDocument } from '@nullet/core/session/templateDocument'
import type { Sql } from './connect'
import { Shelf } from './shelf'

export const templates = new Shelf<TemplateDocument>('template', 'template')

export interface TemplateSummary {
  id: string
  name: string
  buses: number
  tracks: number
  madeAt: string
}

export async function listTemplates(sql: Sql): Promise<TemplateSummary[]> {
  const found = await sql<(TemplateSummary & { madeAt: Date })[]>`
    select id, name, changed_at as made_at, jsonb_array_length(document -> 'rows' -> 'channel') as buses,
      jsonb_array_length(document -> 'tracks') as tracks
    from template where removed_at is null order by changed_at desc, id`
  return found.map(t => ({ ...t, madeAt: t.madeAt.toISOString() }))
}
