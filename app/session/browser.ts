// The link's parts as the browser has them: requests that end, locks by which pages know of one another.
import { api, Failed } from '~/stores/api'
import { Refusal } from '@nullet/core/foundation/refusal'
import type { Log } from '@nullet/core/session/log'
import type { Answer, Failure, Loaded, Wire } from './wire'

/** A request that takes longer is asked again, under the same gesture. */
const PATIENCE_MS = 30_000
/** Of more gestures than this one does not ask in an address. */
const MOST_ASKED = 200

/**
 * Names this browser's hand: the names of its pages begin with it, so that what it did is its own after a reload too.
 */
export function ownHand(shelf: Pick<Storage, 'getItem' | 'setItem'>): string {
  const kept = shelf.getItem('nullet hand')
  if (kept && /^[a-z0-9]{1,12}$/.test(kept)) return kept
  const made = Math.random().toString(36).slice(2, 12)
  shelf.setItem('nullet hand', made)
  return made
}

export function httpWire(session: string, hand: string): Wire {
  const path = `/api/sessions/${encodeURIComponent(session)}`
  const signal = () => AbortSignal.timeout(PATIENCE_MS)
  return {
    load: asked =>
      api<Loaded>(`${path}${asked.length ? `?asked=${encodeURIComponent(asked.slice(0, MOST_ASKED).join())}` : ''}`, {
        signal: signal()
      }),
    post: body => api<Answer>(`${path}/edits`, { body, signal: signal() }),
    since: (base, era) =>
      api<Answer>(`${path}/edits?base=${base}&era=${encodeURIComponent(era)}`, { signal: signal() }),
    readLog: before =>
      api<Log>(`${path}/log?hand=${hand}${before === undefined ? '' : `&before=${before}`}`, { signal: signal() })
  }
}

const KINDS: Record<string, Failure> = {
  ahead: 'ahead',
  noSession: 'gone',
  away: 'away',
  databaseDown: 'away',
  failed: 'failed'
}

/** A reason that was given is a refusal; without one it is not known what became of the request. */
export function failureOf(error: unknown): Failure {
  if (error instanceof Refusal) return 'refused'
  if (error instanceof Failed) return KINDS[error.problem.error] ?? (error.status >= 500 ? 'failed' : 'refused')
  const { name } = error as Error
  return name === 'TimeoutError' || name === 'AbortError' ? 'away' : 'failed'
}

const lockName = (client: string) => `nullet page ${client}`

/** This page is open for as long as it holds its lock. */
export function holdPage(client: string): void {
  void navigator.locks.request(lockName(client), () => new Promise(() => {}))
}

export async function pageIsOpen(client: string): Promise<boolean> {
  const { held = [] } = await navigator.locks.query()
  return held.some(l => l.name === lockName(client))
}
