// What a check finds: something in the session that is probably wrong, with the reason and fixes that are ordinary
// edits.
import type { EditMessage } from '../session/editMessage'
import type { Network } from '../graph/network'
import type { Session } from '../session/session'
import type { Observed } from './observe'

export interface Finding {
  check: string
  /** One sentence: what is the matter. */
  sentence: string
  /** Rows concerned, to go to. */
  about: string[]
  consequence: string
  fixes: { label: string; edit: EditMessage }[]
}

export interface Check {
  id: string
  find(session: Session, network: Network, seen: Observed): Omit<Finding, 'check'>[]
}
