// Sessions as this process knows them, so that an edit need not read all rows first. An entry is what a committed
// transaction left, and right only while the stored revision and era are still its own.
import type { Session } from '@nullet/core/session/session'

export interface Known {
  session: Session
  revision: number
  era: string
}

/** Sessions kept in memory: the ones that were used last. */
const MOST = 12

export class KnownSessions {
  private readonly kept = new Map<string, Known>()

  /** The session as it is at this revision, if it is known so. */
  at(id: string, revision: number, era: string): Session | undefined {
    const known = this.kept.get(id)
    return known?.revision === revision && known.era === era ? known.session : undefined
  }

  /** To be called when the transaction that made it has been committed, never before. */
  keep(id: string, known: Known): void {
    this.kept.delete(id)
    this.kept.set(id, known)
    for (const [oldest] of this.kept) {
      if (this.kept.size <= MOST) break
      this.kept.delete(oldest)
    }
  }

  get size(): number {
    return this.kept.size
  }
}
