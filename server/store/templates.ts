// Templates: networks kept for other sessions. The document is one value: nothing asks for a part of it.
import type { TemplateDocument } from '@nullet/core/session/templateDocument'
import { Refusal } from '@nullet/core/foundation/refusal'
import type { Sql } from './connect'

export interface TemplateSummary {
  id: string
  name: string
  buses: number
  tracks: number
  madeAt: string
}

export async function listTemplates(sql: Sql): Promise<TemplateSummary[]> {
  const found = await sql<(TemplateSummary & { madeAt: Date })[]>`
    select id, name, made_at, jsonb_array_length(document -> 'rows' -> 'channel') as buses, jsonb_array_length(document -> 'tracks') as tracks
    from template where removed_at is null order by made_at desc, id`
  return found.map(t => ({ ...t, madeAt: t.madeAt.toISOString() }))
}

export async function readTemplateDocument(sql: Sql, id: string): Promise<unknown> {
  const [row] = await sql<
    { document: unknown }[]
  >`select document from template where id = ${id} and removed_at is null`
  if (!row) throw noTemplate(id)
  return row.document
}

/** Keeps it under an id; the same id again takes its place. */
export async function writeTemplate(sql: Sql, id: string, document: TemplateDocument): Promise<void> {
  await sql`insert into template (id, name, document) values (${id}, ${document.name}, ${sql.json(document as never)})
    on conflict (id) do update set name = excluded.name, document = excluded.document, made_at = now(), removed_at = null`
}

/** Puts it away; it can be brought back (removed.ts). */
export const removeTemplate = (sql: Sql, id: string) =>
  sql`update template set removed_at = now() where id = ${id} and removed_at is null`

/** @throws Refusal where there is none of that id */
export async function restoreTemplate(sql: Sql, id: string): Promise<void> {
  const back = await sql`update template set removed_at = null where id = ${id} returning id`
  if (!back.length) throw noTemplate(id)
}

const noTemplate = (id: string) => new Refusal('notFound', `There is no template “${id}”`, [id])
