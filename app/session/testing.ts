// A server in memory and a network that misbehaves, for histories of the link.
import { applyEdit } from '@nullet/core/edits/apply'
import { Refusal } from '@nullet/core/foundation/refusal'
import { changesHash } from '@nullet/core/session/changesHash'
import type { Dice } from '@nullet/core/testing/generated'
import type { Session } from '@nullet/core/session/session'
import type { Shelf } from './waiting'
import type { Log } from '@nullet/core/session/log'
import type { Answer, Failure, Post, StoredEdit, Wire } from './wire'

export class Lost extends Error {}
export class Broken extends Error {}

export const failureOf = (error: unknown): Failure =>
  error instanceof Lost
    ? 'away'
    : error instanceof Broken
      ? 'failed'
      : error instanceof Refusal
        ? (({ ahead: 'ahead', noSession: 'gone' } as Record<string, Failure>)[error.kind] ?? 'refused')
        : 'failed'

/** The server's side of the protocol over one session in memory. */
export class MemoryServer implements Wire {
  readonly log: StoredEdit[] = []
  /** Which gesture took back which. */
  private readonly reverts = new Map<string, string>()
  requests = 0
  constructor(
    public session: Session,
    public era = 'era-1'
  ) {}
  get revision(): number {
    return this.log.length
  }

  load(asked: readonly string[]) {
    this.requests++
    return Promise.resolve({
      session: structuredClone(this.session),
      revision: this.revision,
      era: this.era,
      stored: asked.filter(g => this.log.some(e => e.gesture === g))
    })
  }

  async post({ base, era, gesture, client, edit, reverts }: Post): Promise<Answer> {
    this.requests++
    if (era !== this.era || base > this.revision) throw new Refusal('ahead', 'load anew')
    const done = this.log.some(e => e.gesture === gesture)
    if (done || base !== this.revision) return { edits: structuredClone(this.log.slice(base)), era, done }
    this.store(gesture, client, edit)
    if (reverts) this.reverts.set(gesture, reverts)
    return { edits: structuredClone(this.log.slice(base)), era, done: true }
  }

  store(gesture: string, client: string, edit: Post['edit']): void {
    const { session, changes, label } = applyEdit(this.session, edit)
    this.session = session
    this.log.push({
      revision: this.revision + 1,
      changes: structuredClone(changes),
      label,
      hash: changesHash(changes),
      gesture,
      client
    })
  }

  async since(base: number, era: string): Promise<Answer> {
    this.requests++
    if (era !== this.era || base > this.revision) return { edits: [], era: this.era, reload: true }
    return { edits: structuredClone(this.log.slice(base)), era }
  }

  async readLog(): Promise<Log> {
    const entries = this.log.map(e => ({
      ...structuredClone(e),
      madeAt: '',
      reverts: this.reverts.get(e.gesture) ?? null
    }))
    return { era: this.era, entries: entries.reverse() }
  }
}

/**
 * Between a page and the server: requests and answers are lost, come twice, come late, or the server breaks down first.
 */
export function badNetwork(
  server: Wire,
  dice: Dice,
  faultiness: number,
  late: (act: () => Promise<void>) => void
): Wire {
  async function through<T>(ask: () => Promise<T>): Promise<T> {
    await Promise.resolve()
    if (!dice.chance(faultiness)) return ask()
    switch (dice.below(5)) {
      case 0:
        throw new Lost('the request was lost')
      case 1:
        throw new Broken('the server failed')
      case 2:
        await ask().catch(() => {})
        throw new Lost('the answer was lost')
      case 3:
        await ask().catch(() => {})
        return ask()
      default:
        late(() =>
          ask().then(
            () => {},
            () => {}
          )
        )
        throw new Lost('the request comes late')
    }
  }
  return {
    load: asked => through(() => server.load(asked)),
    post: body => through(() => server.post(body)),
    since: (base, era) => through(() => server.since(base, era)),
    readLog: before => through(() => server.readLog(before))
  }
}

/** The browser's storage, shared by its pages. */
export class MemoryShelf implements Shelf {
  private readonly kept = new Map<string, string>()
  constructor(private readonly room = Infinity) {}
  get length(): number {
    return this.kept.size
  }
  key(index: number): string | null {
    return [...this.kept.keys()][index] ?? null
  }
  getItem(key: string): string | null {
    return this.kept.get(key) ?? null
  }
  setItem(key: string, value: string): void {
    if (value.length > this.room) throw new Error('no room')
    this.kept.set(key, value)
  }
  removeItem(key: string): void {
    this.kept.delete(key)
  }
}
