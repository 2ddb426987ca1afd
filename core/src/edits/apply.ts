// Applies an edit: arguments checked, draft changed, rules checked, row changes out. The same function runs in the
// browser and on the server.
import { produce } from 'immer'
import { z } from 'zod'
import { explain } from '../foundation/explain'
import { breachBy } from '../invariants'
import { dropLeft } from '../movement/carry'
import { Refusal } from '../foundation/refusal'
import { difference, isChange, withChanges, type RowChange, type Session } from '../session/session'
import type { EditMessage } from '../session/editMessage'
import { keepable } from '../foundation/text'
import { editCalled } from './table'

export interface Applied {
  session: Session
  changes: RowChange[]
  label: string
}

const LONGEST_LABEL = 320

/** @throws Refusal with the reason and the rows concerned; the session given is never changed. */
export function applyEdit(session: Session, message: EditMessage): Applied {
  const steps = applySteps(session, message)
  for (;;) {
    const { done, value } = steps.next()
    if (done) return value
  }
}

/** The same in steps: between two of them whoever shares a thread with others may let them go first. */
export function* applySteps(session: Session, message: EditMessage): Generator<void, Applied> {
  try {
    return yield* applied(session, message)
  } catch (error) {
    if (error instanceof z.ZodError) throw new Refusal('badArguments', `${keepable(message.verb)}: ${explain(error)}`)
    if (error instanceof RangeError)
      throw new Refusal(
        'tooLarge',
        `${keepable(message.verb)}: its arguments are too large or too deep to be carried out`
      )
    throw error
  }
}

function* applied(session: Session, { verb, args }: EditMessage): Generator<void, Applied> {
  const edit = editCalled(verb)
  const parsed = edit.args.parse(args)
  yield
  const next = produce(session, draft => {
    edit.apply(draft as Session, parsed)
    dropLeft(draft as Session)
  })
  const made = difference(session, next),
    changes = made.filter(isChange)
  // A row that has the same values stays the object that it is: whoever looks at it need not look again.
  const after = changes.length === made.length ? next : withChanges(session, changes)
  yield
  const breach = yield* breachBy(after, changes)
  if (breach) throw new Refusal(breach.kind, breach.message, breach.about)
  return { session: after, changes, label: keepable(edit.label(session, parsed).slice(0, LONGEST_LABEL)) }
}
