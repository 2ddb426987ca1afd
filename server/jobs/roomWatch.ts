// The room while a pass runs: asked once in a while whether the session has changed, and what of it a print has lost.
import { Losses, lostSince, setSince } from '@nullet/core/print/lost'
import type { PassJob } from '@nullet/core/print/passPlan'
import type { Fault } from '@nullet/core/session/rows'
import type { Session } from '@nullet/core/session/session'
import type { Sql } from '../store/connect'
import { loadSession, revisionOf } from '../store/sessions'

/** The session as it is, where it has changed since it was asked for last. */
export type Changes = () => Promise<Session | null>

export function changesOf(sql: Sql, id: string, revision: number): Changes {
  let seen = revision
  return async () => {
    if ((await revisionOf(sql, id)) === seen) return null
    const loaded = await loadSession(sql, id)
    seen = loaded.revision
    return loaded.session
  }
}

/** Frames of what is printed between two looks. */
const EVERY = 65536

export class RoomWatch {
  private readonly losses = new Losses()
  private next = -Infinity
  private readonly moved = new Set<string>()

  /** @param jobs of the prints of a pass, in their order; null where one needs nothing of the room */
  constructor(
    private readonly then: Session,
    private readonly jobs: readonly (PassJob | null)[],
    private readonly changes: Changes
  ) {}

  /** @param at frame of source time that is printed next */
  async look(at: number): Promise<void> {
    if (at < this.next || this.jobs.every(j => j === null)) return
    this.next = at + EVERY
    const now = await this.changes()
    if (!now) return
    for (const job of this.jobs) if (job) setSince(this.then, now, job).forEach(unit => this.moved.add(unit))
    this.losses.tell(
      at,
      this.jobs.map(job => job && lostSince(this.then, now, job))
    )
  }

  lost(print: number, end: number): Fault[] {
    return this.losses.of(print, end)
  }

  /** @param from first of `frames` frames · @returns is the print in this place of the list lost there? */
  isLost(print: number, from: number, frames: number): boolean {
    return this.losses.of(print, from + frames).some(f => f.from < from + frames && f.from + f.frames > from)
  }

  /** What a print says of units that were turned while it ran. */
  notes(): string[] {
    return [...this.moved].map(unit => `“${unit}” was set otherwise while it ran: printed as it stood before`)
  }
}
