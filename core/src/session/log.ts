// What was done in a session, as people read it.
import type { RowChange } from './session'

export interface LogEntry {
  revision: number
  label: string
  gesture: string
  client: string
  madeAt: string
  /** The gesture that this one took back or made again. */ reverts: string | null
  /** Of one's own, as long as there is room for them: so that it can be taken back. */ changes?: RowChange[]
}

export interface Log {
  era: string
  /** The newest first. */ entries: LogEntry[]
}
