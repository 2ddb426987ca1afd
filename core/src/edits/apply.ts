// Applies an edit: arguments checked, draft changed, invariants checked, row changes out. The same function runs in
// the browser and on the server.
import { produce } from 'immer'
import { z } from 'zod'
import { dropLeft } from '../movement/carry'
import { findCircle } from '../network/circles'
import { Refusal } from '../refusal'
import { TABLES } from '../session/rows'
import { dangling, difference, type RowChange, type Session } from '../session/session'
import { EDITS } from './table'

export const EditMessage = z.object({ verb: z.string(), args: z.unknown() })
export type EditMessage = z.infer<typeof EditMessage>

export interface Applied { session: Session, changes: RowChange[], label: string }

/** Tables in which a change can close a circle. */
const WIRING = new Set(['feed', 'slot', 'loop', 'cable', 'print'])

/** @throws Refusal with the reason and the rows concerned; the session given is never changed. */
export function applyEdit(session: Session, { verb, args }: EditMessage): Applied {
  const edit = EDITS[verb]
  if (!edit) throw new Refusal('badArguments', `There is no edit called “${verb}”`)
  const parsed = edit.args.safeParse(args)
  if (!parsed.success) throw new Refusal('badArguments', `${verb}: ${z.prettifyError(parsed.error)}`)
  const next = refusing(verb, () => produce(session, draft => { edit.apply(draft as Session, parsed.data); dropLeft(draft as Session) }))
  const changes = difference(session, next)
  for (const { table, id, after } of changes) {
    if (!after) continue
    const row = TABLES[table].safeParse(after)
    if (!row.success) throw new Refusal('badArguments', `${table} “${id}”: ${z.prettifyError(row.error)}`, [id])
  }
  const loose = dangling(next)[0]
  if (loose) throw new Refusal('notFound', `The ${loose.table} “${loose.id}” names a ${loose.field} “${loose.missing}” that is not there`, [loose.id])
  if (changes.some(c => WIRING.has(c.table))) {
    const circle = findCircle(next)
    if (circle) {
      const names = circle.map(id => next.channel[id]?.name ?? id)
      throw new Refusal('circle', `That would make a circle: ${[...names, names[0]].join(' → ')}`, circle)
    }
  }
  return { session: next, changes, label: edit.label(session, parsed.data) }
}

function refusing<T>(verb: string, act: () => T): T {
  try { return act() } catch (error) {
    if (error instanceof z.ZodError) throw new Refusal('badArguments', `${verb}: ${z.prettifyError(error)}`)
    throw error
  }
}
