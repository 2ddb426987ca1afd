// Documents of the installation that all sessions share, each kind in a table of its own: templates and rigs. A
// document is one value: nothing asks for a part of it. What is removed is put away and can be brought back
// (removed.ts).
import { Refusal } from '@nullet/core/foundation/refusal'
import type { Sql, Transaction } from './connect'

export class Shelf<D extends { name: string }> {
  constructor(
    private readonly table: 'template' | 'rig_entry',
    /** What one is called in sentences, and in `Removed`. */
    readonly kind: 'template' | 'rig'
  ) {}

  /** @throws Refusal where there is none of that id */
  async read(sql: Sql, id: string): Promise<unknown> {
    const [row] = await sql<{ document: unknown }[]>`
      select document from ${sql(this.table)} where id = ${id} and removed_at is null`
    if (!row) throw this.none(id)
    return row.document
  }

  /** Keeps it under an id; the same id again takes its place. */
  async write(sql: Sql | Transaction, id: string, document: D): Promise<void> {
    const table = sql(this.table)
    await sql`insert into ${table} (id, name, document) values (${id}, ${document.name}, ${sql.json(document as never)})
      on conflict (id) do update set name = excluded.name, document = excluded.document, changed_at = now(), removed_at = null`
  }

  remove(sql: Sql, id: string): Promise<unknown> {
    return sql`update ${sql(this.table)} set removed_at = now() where id = ${id} and removed_at is null`
  }

  /** @throws Refusal where there is none of that id */
  async restore(sql: Sql, id: string): Promise<void> {
    const back = await sql`update ${sql(this.table)} set removed_at = null where id = ${id} returning id`
    if (!back.length) throw this.none(id)
  }

  /** What was put away, and can be brought back. */
  removed(sql: Sql): Promise<{ kind: 'template' | 'rig'; id: string; name: string; removedAt: Date }[]> {
    return sql`select ${this.kind} as kind, id, name, removed_at from ${sql(this.table)} where removed_at is not null`
  }

  /** What has been away for so many days goes for good. */
  forget(sql: Sql, days: number): Promise<unknown> {
    return sql`delete from ${sql(this.table)} where removed_at < now() - make_interval(days => ${days})`
  }

  private none(id: string): Refusal {
    return new Refusal('notFound', `There is no ${this.kind} “${id}”`, [id])
  }
}
