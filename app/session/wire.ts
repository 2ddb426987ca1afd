// The server as the link to a session sees it: three questions, and how an answer that fails is to be taken.
import type { EditMessage } from '@nullet/core/session/editMessage'
import type { Log } from '@nullet/core/session/log'
import type { RowChange, Session } from '@nullet/core/session/session'

export interface Loaded {
  session: Session
  revision: number
  era: string
  /** Of the gestures that were asked about, those that are stored. */ stored: string[]
}

/** An edit as the log has it. */
export interface StoredEdit {
  revision: number
  changes: RowChange[]
  label: string
  hash: string
  gesture: string
  client: string
}

/** What came after a base; `done`: the gesture that was posted is stored. */
export interface Answer {
  edits: StoredEdit[]
  era: string
  done?: boolean
  reload?: true
}

export interface Post {
  base: number
  era: string
  gesture: string
  client: string
  edit: EditMessage
  /** The gesture that this one takes back or makes again. */ reverts?: string
}

export interface Wire {
  /** @param asked gestures that wait: of some the answer may have been lost */
  load(asked: readonly string[]): Promise<Loaded>
  post(body: Post): Promise<Answer>
  since(base: number, era: string): Promise<Answer>
  /** @param before the revision from which on nothing is asked */
  readLog(before?: number): Promise<Log>
}

/**
 * How a failure is to be taken. `away`: nobody was reached, or it is not known what became of it: ask again with the
 * same gesture. `failed`: the server itself failed: ask again, and say so when it goes on. `ahead`: load the session
 * anew.
 * `gone`: the session is not there. `refused`: a rule or a range: the gesture is given up, its reason shown.
 */
export type Failure = 'away' | 'failed' | 'ahead' | 'gone' | 'refused'
