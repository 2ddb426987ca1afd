// The link to one open session: what is stored, what waits on top of it, what can be taken back. It posts one edit at a
// time, catches up, and loads anew where it and the server do not agree. One object a session and page; no interface in
// it.
import { applyEdit } from '@nullet/core/edits/apply'
import type { EditMessage } from '@nullet/core/session/editMessage'
import { changesHash } from '@nullet/core/session/changesHash'
import { asSession, inverse, withChanges, type RowChange, type Session } from '@nullet/core/session/session'
import { Refusal } from '@nullet/core/foundation/refusal'
import { History, type Beside, type Step } from './history'
import { inOrder, type Waiting, type WaitingShelf } from './waiting'
import type { Answer, Failure, StoredEdit, Wire } from './wire'

export type Status = 'loading' | 'saved' | 'saving' | 'waiting' | 'gone'

export interface LinkEvents {
  /** Rows, queue, history or status are others now. */
  changed(): void
  /** Something did not come about: why, and of which gesture. */
  refused(error: unknown, label: string): void
  /** A gesture fails on the server again and again; it is kept and tried until `leaveOut`. */
  stuck(label: string, leaveOut: () => void, error: unknown): void
  /** The browser has no room for what waits. */
  noRoom(): void
}

export interface LinkParts {
  wire: Wire
  shelf: WaitingShelf
  client: string
  failureOf(error: unknown): Failure
  /** Milliseconds. */
  pause(ms: number): Promise<void>
  /** Once what was done is seen: the server is told then. */
  drawn(): Promise<void>
  clock(): number
  events: LinkEvents
}

const FIRST_PAUSE_MS = 500,
  LONGEST_PAUSE_MS = 2000
/** So often the server itself may fail at one gesture before it is said. */
const TRIES_BEFORE_STUCK = 4

export class SessionLink {
  status: Status = 'loading'
  readonly history = new History()
  private stored: Session | null = null
  /** Everything that waits put on top of what is stored. */
  private shown: Session | null = null
  private revision = 0
  private era = ''
  private queue: Waiting[] = []
  private serial = 0
  private behind = false
  private mustLoad = false
  private opened = false
  private running: Promise<void> | null = null
  private recalling: Promise<void> | null = null
  private closed = false
  private tries = 0
  /** The gesture that was posted last. */
  private posting = ''
  private pauseMs = FIRST_PAUSE_MS
  /** Gestures of this page, whatever became of them. */
  private readonly own = new Set<string>()
  /** What the first one that waits makes of what is stored. */
  private first: { gesture: string; on: Session; changes: readonly RowChange[] } | null = null

  constructor(private readonly parts: LinkParts) {}

  /** What has been done so far; null until it has been loaded. */
  get session(): Session | null {
    return this.shown
  }
  get waiting(): number {
    return this.queue.length
  }
  get base(): { revision: number; era: string } {
    return { revision: this.revision, era: this.era }
  }

  /** @throws what the server answered where the session cannot be loaded at all */
  async open(): Promise<void> {
    const { kept, release } = await this.parts.shelf.left()
    const left = inOrder(kept)
    // What waits arrives as this page's own when it is stored; what takes something back is no step of its own.
    left.filter(e => e.reverts).forEach(e => this.own.add(e.gesture))
    await this.load(
      left.map(e => e.gesture),
      stored => {
        this.queue = inOrder(kept.filter(k => k.era === this.era)).filter(e => !stored.has(e.gesture))
      }
    )
    this.keep()
    release()
    this.opened = true
    this.go()
    this.recalling = this.recall()
  }

  /** What this browser's hand did before this page was there can be taken back too. Without the log: it cannot. */
  private async recall(): Promise<void> {
    const log = await this.parts.wire.readLog().catch(() => null)
    if (!log || log.era !== this.era || this.closed) return
    const entries = log.entries.toReversed(),
      // What came before a step whose changes are not known here cannot be told from it.
      from = entries.findLastIndex(e => this.isOwn(e.client) && !e.changes) + 1
    const before = entries.slice(from).filter(e => this.isOwn(e.client) && !this.own.has(e.gesture))
    before.forEach(e => this.own.add(e.gesture))
    this.history.recall(before.map(e => ({ ...e, changes: e.changes! })))
    this.parts.events.changed()
  }
  private isOwn(client: string): boolean {
    return client.split('-')[0] === this.parts.client.split('-')[0]
  }

  /** Nothing is told any more. What waits is still sent; what cannot be is left for whoever opens the session next. */
  close(): void {
    this.closed = true
  }

  /** Others have changed something, or may have. */
  lookAgain(): void {
    this.behind = true
    this.go()
  }

  /** Resolves when nothing is under way: everything is stored, or the server is away and the page closed. */
  async settled(): Promise<void> {
    await this.recalling
    while (this.running) await this.running
  }

  /** Applies at once and sends. @returns whether it was carried out; @throws Refusal where it cannot be */
  apply(given: EditMessage, options: { undoable?: boolean } = {}): boolean {
    if (!this.shown) return false
    // As the server will read it: −0 is 0 there.
    const edit = JSON.parse(JSON.stringify(given)) as EditMessage
    const { session, changes, label } = applyEdit(this.shown, edit)
    if (!changes.length) return true
    const gesture = this.nextGesture()
    if (options.undoable !== false) this.history.done({ gesture, label, changes })
    this.enqueue({ gesture, edit, label, at: this.parts.clock() }, session, changes)
    return true
  }

  /** @throws Refusal where somebody else's work stands in the way; the step is given up then */
  takeBack(way: 'undo' | 'redo'): boolean {
    const next = this.history.next(way)
    if (!next || !this.shown) return false
    const { step, changes } = next
    if (step.beside) {
      this.history.moved(way, step)
      void this.carryOut(step, way)
      this.parts.events.changed()
      return true
    }
    const edit = { verb: 'revert', args: { label: `${way === 'undo' ? 'Undo' : 'Redo'}: ${step.label}`, changes } }
    try {
      const { session, changes: made } = applyEdit(this.shown, edit)
      const gesture = this.nextGesture()
      this.history.moved(way, { gesture, label: step.label, changes: made })
      if (made.length)
        this.enqueue(
          { gesture, edit, label: edit.args.label, at: this.parts.clock(), reverts: step.gesture },
          session,
          made
        )
      else this.parts.events.changed()
      return true
    } catch (error) {
      this.history.forget(step.gesture)
      this.parts.events.changed()
      throw error
    }
  }

  /** What was done beside the session's rows stands in the same list. */
  doneBeside(label: string, beside: Omit<Beside, 'at'>): void {
    this.history.done({
      gesture: this.nextGesture(),
      label,
      changes: [],
      beside: { ...beside, at: new Date(this.parts.clock()).toISOString() }
    })
    this.parts.events.changed()
  }
  /** A step that could not be carried out is given up. */
  private async carryOut({ gesture, label, beside }: Step, way: 'undo' | 'redo'): Promise<void> {
    try {
      await beside![way]()
    } catch (error) {
      this.history.forget(gesture)
      this.parts.events.refused(error, label)
      this.parts.events.changed()
    }
  }

  /** The key of the next gesture of this page. */
  private nextGesture(): string {
    const gesture = `${this.parts.client}/${++this.serial}`
    this.own.add(gesture)
    return gesture
  }

  /** A gesture that the server carries out for this page: what it changes can be taken back here. */
  nextServerGesture(): string {
    return `${this.parts.client}/s${++this.serial}`
  }

  // ── inside ──

  private enqueue(one: Waiting, session: Session, changes: readonly RowChange[]): void {
    if (!this.queue.length) this.foresee(one, this.shown!, changes)
    this.queue.push(one)
    this.shown = session
    this.keep()
    this.go()
    this.parts.events.changed()
  }

  private keep(): void {
    if (!this.parts.shelf.keep(this.era, this.queue) && !this.closed) this.parts.events.noRoom()
  }

  private setStatus(status: Status): void {
    if (this.status === status) return
    this.status = status
    if (!this.closed) this.parts.events.changed()
  }

  /** One loop at a time speaks with the server. */
  private go(): void {
    // While it is being opened nobody else speaks: what was told meanwhile is looked at afterwards.
    if (!this.opened) return
    this.running ??= this.run().finally(() => {
      this.running = null
      if (this.hasWork() && this.status !== 'gone' && !(this.closed && this.status === 'waiting')) this.go()
    })
  }

  private hasWork(): boolean {
    return this.queue.length > 0 || (!this.closed && (this.behind || this.mustLoad))
  }

  private async run(): Promise<void> {
    if (this.queue.length && !this.mustLoad) {
      this.setStatus('saving')
      await this.parts.drawn()
    }
    while (this.hasWork()) {
      try {
        if (this.mustLoad) await this.load()
        else if (this.queue.length) await this.postFirst()
        else await this.catchUp()
        this.pauseMs = FIRST_PAUSE_MS
      } catch (error) {
        if (!(await this.failed(error))) return
      }
    }
    this.setStatus('saved')
  }

  /** @param settle makes the queue what it is to be on top of what was loaded */
  private async load(
    asked = this.queue.map(w => w.gesture),
    settle = (stored: Set<string>) => {
      this.queue = this.queue.filter(w => !stored.has(w.gesture))
    }
  ): Promise<void> {
    this.behind = false
    const loaded = await this.parts.wire.load(asked)
    this.mustLoad = false
    const another = this.era !== '' && this.era !== loaded.era
    this.stored = asSession(loaded.session)
    this.revision = loaded.revision
    this.era = loaded.era
    settle(new Set(loaded.stored))
    if (another) this.disown()
    this.replay()
  }

  /** Another session under this name: what waits was meant for the one before it. */
  private disown(): void {
    const meant = this.queue
    this.queue = []
    this.history.clear()
    this.keep()
    for (const w of meant)
      this.giveUp(w, new Refusal('noSession', `“${w.label}” was meant for a session that is no more`))
  }

  private async postFirst(): Promise<void> {
    const first = this.queue[0]!
    this.posting = first.gesture
    this.setStatus('saving')
    const answer = await this.parts.wire.post({
      base: this.revision,
      era: this.era,
      gesture: first.gesture,
      client: this.parts.client,
      edit: first.edit,
      reverts: first.reverts
    })
    this.tries = 0
    const agrees = this.take(answer, first)
    if (answer.done) this.queue = this.queue.filter(w => w.gesture !== first.gesture)
    if (!agrees || answer.reload) this.mustLoad = true
    else if (!answer.done && !answer.edits.length)
      throw new Error('the server neither stored the edit nor said what was missed')
    this.replay()
    this.keep()
  }

  private async catchUp(): Promise<void> {
    this.behind = false
    const answer = await this.parts.wire.since(this.revision, this.era).catch(error => {
      this.behind = true
      throw error
    })
    if (!this.take(answer) || answer.reload) this.mustLoad = true
    else if (answer.edits.length) this.replay()
  }

  /** Puts what the server has on what was stored. @returns false where the two do not agree */
  private take(answer: Answer, posted?: Waiting): boolean {
    if (answer.era !== this.era) return false
    for (const edit of answer.edits) {
      if (edit.revision <= this.revision) continue
      if (edit.revision !== this.revision + 1) return false
      const own = edit.gesture === posted?.gesture ? this.foreseen(posted) : null
      const same = !own || changesHash(own) === edit.hash
      // Rows that are the same stay the same objects: nothing that looks at them needs to look again.
      this.stored = withChanges(this.stored!, same && own ? own : edit.changes)
      this.revision = edit.revision
      this.note(edit)
      if (!same) return false
    }
    return true
  }

  /** What this page makes of an edit. Where the server made something else, their rows are not the same. */
  private foreseen(one: Waiting): readonly RowChange[] {
    if (this.first?.gesture === one.gesture && this.first.on === this.stored) return this.first.changes
    try {
      return applyEdit(this.stored!, one.edit).changes
    } catch {
      return []
    }
  }

  private note(edit: StoredEdit): void {
    if (this.own.has(edit.gesture)) {
      this.changed(edit.gesture, edit.changes)
      return
    }
    if (edit.client !== this.parts.client) return
    this.own.add(edit.gesture)
    this.history.arrived({ gesture: edit.gesture, label: edit.label, changes: edit.changes } satisfies Step)
  }

  /** Everything that waits on top of what is stored; what no longer fits is given up and said. */
  private replay(): void {
    let next = this.stored!
    const done = new Set<string>()
    for (const { gesture } of [...this.queue]) {
      // One that was given up meanwhile took others with it; what an earlier one changed may have made this one
      // another.
      const w = this.queue.find(q => q.gesture === gesture)
      if (!w) continue
      try {
        const { session, changes } = applyEdit(next, w.edit)
        this.foresee(w, next, changes)
        this.changed(w.gesture, changes)
        next = session
        done.add(gesture)
      } catch (error) {
        this.giveUp(w, error)
        // One that waits in front of what it takes back went with it, and is in what was made so far.
        const waits = new Set(this.queue.map(q => q.gesture))
        if ([...done].some(g => !waits.has(g))) return this.replay()
      }
    }
    this.shown = next
    if (!this.closed) this.parts.events.changed()
  }

  /** What a gesture really changes is known now, or again: steps of undo and what waits to take it back go by that. */
  private changed(gesture: string, changes: readonly RowChange[]): void {
    this.history.settled(gesture, changes)
    if (!this.queue.some(w => w.reverts === gesture)) return
    this.queue = this.queue.map(w =>
      w.reverts === gesture
        ? { ...w, edit: { verb: 'revert', args: { ...(w.edit.args as object), changes: inverse(changes) } } }
        : w
    )
  }

  private foresee(one: Waiting, on: Session, changes: readonly RowChange[]): void {
    if (on === this.stored) this.first = { gesture: one.gesture, on, changes }
  }

  /** With what waits to take it back, which has nothing to take back any more. */
  private giveUp(one: Waiting, error: unknown): void {
    const gone = new Set([one.gesture])
    for (const w of this.queue) if (w.reverts && gone.has(w.reverts)) gone.add(w.gesture)
    this.queue = this.queue.filter(w => !gone.has(w.gesture))
    gone.forEach(g => this.history.forget(g))
    if (!this.closed) this.parts.events.refused(error, one.label)
  }

  /** @returns whether to go on */
  private async failed(error: unknown): Promise<boolean> {
    switch (this.parts.failureOf(error)) {
      case 'ahead':
        this.mustLoad = true
        return true
      case 'gone':
        this.setStatus('gone')
        if (!this.closed) this.parts.events.refused(error, '')
        return false
      case 'refused': {
        // A question and not an edit was refused, or one that was left out meanwhile: there is nothing to give up.
        const posted = this.queue.find(w => w.gesture === this.posting)
        if (!posted || this.mustLoad) break
        this.giveUp(posted, error)
        this.replay()
        this.keep()
        return true
      }
      case 'failed': {
        const first = this.queue.find(w => w.gesture === this.posting)
        if (first && ++this.tries === TRIES_BEFORE_STUCK && !this.closed) {
          this.parts.events.stuck(
            first.label,
            () => {
              this.giveUp(first, error)
              this.replay()
              this.keep()
            },
            error
          )
        }
        break
      }
      case 'away':
    }
    this.setStatus('waiting')
    if (this.closed) return false
    await this.parts.pause(this.pauseMs)
    this.pauseMs = Math.min(LONGEST_PAUSE_MS, this.pauseMs * 1.6)
    return true
  }
}
