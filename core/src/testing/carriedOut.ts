// For tests: an edit as it is carried out, where it can be. Some that are generated cannot, as in life.
import { applyEdit, type Applied } from '../edits/apply'
import { Refusal } from '../foundation/refusal'
import type { Session } from '../session/session'
import type { GeneratedEdit } from './generatedEdits'

/** Null where it is refused. */
export function carriedOut(session: Session, edit: GeneratedEdit): Applied | null {
  try {
    return applyEdit(session, edit)
  } catch (error) {
    if (error instanceof Refusal) return null
    throw error
  }
}
