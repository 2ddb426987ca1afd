// Planning and what is heard in one thread: for tests and the bench. What goes from one to the other is copied, as it
// is between threads.
import type { MediaReader } from '@nullet/core/run/mediaReader'
import type { RowChange, Session } from '@nullet/core/session/session'
import type { PlanStream } from '@nullet/core/run/stream'
import { Heard } from './heard'
import { UNHURRIED, type Pace } from './pace'
import { Planning, type Update } from './planning'

function sent<U extends Update>(update: U): U {
  if (update.kind === 'values') return structuredClone(update)
  // Memory is shared; it is the one thing that is not copied.
  const { layout, ...plain } = update
  return { ...structuredClone(plain), layout } as U
}

export class Near {
  readonly planning: Planning
  readonly heard: Heard

  constructor(session: Session, media: MediaReader, pace: Pace = UNHURRIED) {
    this.planning = new Planning(session)
    this.heard = new Heard(sent(this.planning.whole()), session, media, pace)
  }

  /** What the planner says, as it arrives at the engine. */
  plan(session: Session, changes: readonly RowChange[] | null = null): Update {
    return sent(this.planning.change(session, changes))
  }

  /** @returns what fades out, if the plan is another */
  change(session: Session, changes: readonly RowChange[] | null = null): PlanStream | null {
    return this.heard.take(this.plan(session, changes), session)
  }
}
