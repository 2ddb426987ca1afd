// Applies an edit: arguments checked, draft changed, rules checked, row changes out. The same function runs in the
// browser and on the server.
import { produce } from 'immer'
import { z } from 'zod'
import { explain } from '../explain'
import { breachBy } from '../invariants'
import { dropLeft } from '../movement/carry'
import { Refusal } from '../refusal'
import { difference, type RowChange, type Session } from '../session/session'
import { keepable, unkeepablePath } from '../session/text'
import { editCalled } from './table'

export const EditMessage = z.object({ verb: z.string().max(60), args: z.unknown() })
export type EditMessage = z.infer<typeof EditMessage>

export interface Applied { session: Session, changes: RowChange[], label: string }

const LONGEST_LABEL = 320

/** @throws Refusal with the reason and the rows concerned; the session given is never changed. */
export function applyEdit(session: Session, message: EditMessage): Applied {
  try { return applied(session, message) } catch (error) {
    if (error instanceof z.ZodError) throw new Refusal('badArguments', `${keepable(message.verb)}: ${explain(error)}`)
    if (error instanceof RangeError) throw new Refusal('tooLarge', `${keepable(message.verb)}: its arguments are too large or too deep to be carried out`)
    throw error
  }
}

function applied(session: Session, { verb, args }: EditMessage): Applied {
  const edit = editCalled(verb)
  const odd = unkeepablePath(args)
  if (odd) throw new Refusal('badArguments', `${verb}: ${odd} holds a character that cannot be kept`)
  const parsed = edit.args.parse(args)
  const next = produce(session, draft => { edit.apply(draft as Session, parsed); dropLeft(draft as Session) })
  const changes = difference(session, next)
  const breach = breachBy(next, changes)
  if (breach) throw new Refusal(breach.kind, breach.message, breach.about)
  return { session: next, changes, label: edit.label(session, parsed).slice(0, LONGEST_LABEL) }
}
