// The open session: rows as the server has them, edits that wait on top, undo. Every change goes through `apply`.
import { defineStore } from 'pinia'
import { computed, shallowRef } from 'vue'
import { applyEdit, type EditMessage } from '@nullet/core/edits/apply'
import { envelopeOn } from '@nullet/core/edits/setEnvelope'
import { envelopesOf, targetName, type Target } from '@nullet/core/movement/targets'
import { Network } from '@nullet/core/network/network'
import { changesHash } from '@nullet/core/session/hash'
import { difference, inverse, withChanges, type RowChange, type Session } from '@nullet/core/session/session'
import type { Envelope, Point, TableName } from '@nullet/core/session/rows'
import { api, Failed } from './api'
import { useNotices } from './notices'

interface Stored { revision: number, changes: RowChange[], label: string, hash: string, tab: string }
/** `tag` names the gesture: when an answer was lost, it is found again among what was missed. */
interface Waiting { edit: EditMessage, label: string, tag: string }
interface Step { label: string, changes: RowChange[] }
type Fields = Record<string, unknown>

const RETRY_MS = 1500

export const useSession = defineStore('session', () => {
  const notices = useNotices()
  const tab = Math.random().toString(36).slice(2, 10)
  const id = shallowRef('')
  /** With everything that waits, and with what a hand is moving right now. */
  const session = shallowRef<Session | null>(null)
  const status = shallowRef<'saved' | 'saving' | 'waiting'>('saved')
  const waitingCount = shallowRef(0)
  const undos = shallowRef<Step[]>([])
  const redos = shallowRef<Step[]>([])
  let stored: Session | null = null
  let here: Session | null = null
  let revision = 0
  let waiting: Waiting[] = []
  let sending = false
  let serial = 0
  let events: EventSource | null = null
  const jobListeners = new Set<(id: string) => void>()
  const changeListeners = new Set<(changes: RowChange[]) => void>()

  const network = computed(() => session.value && new Network(session.value))

  /** Envelopes that are on, by the name of what they move. */
  const envelopes = computed(() => session.value ? envelopesOf(session.value) : new Map<string, Envelope>())

  function show(next: Session): void {
    const before = session.value
    session.value = next
    if (!before) return
    const changes = difference(before, next)
    if (changes.length) changeListeners.forEach(l => l(changes))
  }

  const keptKey = () => `nullet waiting ${id.value}`
  function keep(): void {
    waitingCount.value = waiting.length
    if (waiting.length) localStorage.setItem(keptKey(), JSON.stringify(waiting))
    else localStorage.removeItem(keptKey())
  }

  async function open(which: string): Promise<void> {
    close()
    id.value = which
    const loaded = await api<{ session: Session, revision: number }>(`/api/sessions/${encodeURIComponent(which)}`)
    stored = here = loaded.session
    revision = loaded.revision
    undos.value = redos.value = []
    waiting = JSON.parse(localStorage.getItem(keptKey()) ?? '[]') as Waiting[]
    replay()
    keep()
    events = new EventSource(`/api/sessions/${encodeURIComponent(which)}/events`)
    events.addEventListener('edit', e => {
      const { revision: theirs } = JSON.parse((e as MessageEvent<string>).data) as { revision: number }
      if (theirs > revision && !sending) void catchUp()
    })
    events.addEventListener('job', e => { const { job } = JSON.parse((e as MessageEvent<string>).data) as { job: string }; jobListeners.forEach(l => l(job)) })
    events.addEventListener('open', () => { void catchUp(); jobListeners.forEach(l => l('')) })
    if (waiting.length) void send()
  }

  function close(): void {
    events?.close()
    events = null
    session.value = stored = here = null
    waiting = []
  }

  /** Everything that waits on top of what is stored; what no longer fits is dropped and said. */
  function replay(): void {
    let next = stored!
    waiting = waiting.filter(w => {
      try { next = applyEdit(next, w.edit).session; return true } catch (error) { notices.wrong(error); return false }
    })
    here = next
    show(next)
  }

  /** Applies at once and sends. Returns false when it was refused; then nothing has changed. */
  function apply(verb: string, args: unknown, options: { undoable?: boolean } = {}): boolean {
    try {
      const { session: next, changes, label } = applyEdit(here!, { verb, args })
      if (!changes.length) { show(here!); return true }
      if (options.undoable !== false) { undos.value = [...undos.value.slice(-199), { label, changes }]; redos.value = [] }
      here = next
      show(next)
      waiting.push({ edit: { verb, args }, label, tag: `${tab}/${++serial}` })
      keep()
      void send()
      return true
    } catch (error) {
      show(here!)
      notices.wrong(error)
      return false
    }
  }

  /** Shows rows as a hand moves them; nothing is stored until `apply`. */
  function preview(table: TableName, rowIds: string[], fields: (row: Fields) => Fields): void {
    previewAll(rowIds.map(id => ({ table, id, fields: fields((here![table] as Record<string, Fields>)[id]!) })))
  }

  /** Shows envelopes as hands hold them, in the place of those that are there. */
  function previewEnvelopes(held: readonly { target: Target, points: readonly Point[] }[]): void {
    previewAll(held.map(({ target, points }) => {
      const rowId = envelopeOn(here!, target)?.id ?? `hand/${targetName(target)}`
      return { table: 'envelope', id: rowId, fields: { id: rowId, channel: null, feed: null, slot: null, [target.owner]: target.row, field: target.field, on: true, points } }
    }))
  }

  /** What has been done so far, without what a hand is moving right now. */
  const settled = () => here!

  /** The same for rows of several tables; a row that is not there yet is shown with these fields. */
  function previewAll(rows: { table: TableName, id: string, fields: Fields }[]): void {
    show(withChanges(here!, rows.map(({ table, id: rowId, fields }) => {
      const row = (here![table] as Record<string, Fields>)[rowId] ?? null
      return { table, id: rowId, before: row, after: { ...row, ...fields } }
    })))
  }

  async function send(): Promise<void> {
    if (sending) return
    sending = true
    status.value = 'saving'
    while (waiting.length) {
      const first = waiting[0]
      try {
        const answer = await api<Stored | { missed: Stored[] }>(`/api/sessions/${encodeURIComponent(id.value)}/edits`, { body: { base: revision, tab: first.tag, edit: first.edit } })
        if ('missed' in answer) {
          take(answer.missed)
          if (answer.missed.some(m => m.tab === first.tag)) waiting.shift()
          replay()
          keep()
          continue
        }
        const expected = changesHash(applyEdit(stored!, first.edit).changes)
        waiting.shift()
        take([answer])
        if (expected !== answer.hash) replay()
        keep()
        status.value = 'saving'
      } catch (error) {
        if (error instanceof Failed && error.away) {
          status.value = 'waiting'
          await new Promise(done => setTimeout(done, RETRY_MS))
        } else {
          waiting.shift()
          undos.value = undos.value.slice(0, -1)
          replay()
          keep()
          notices.wrong(error)
        }
      }
    }
    status.value = 'saved'
    sending = false
    void catchUp()
  }

  function take(edits: Stored[]): void {
    for (const e of edits) {
      if (e.revision !== revision + 1) continue
      stored = withChanges(stored!, e.changes)
      revision = e.revision
    }
  }

  async function catchUp(): Promise<void> {
    if (sending || !stored) return
    const which = id.value
    const missed = await api<Stored[]>(`/api/sessions/${encodeURIComponent(which)}/edits?since=${revision}`).catch(() => [])
    if (which !== id.value || sending || !missed.length) return
    take(missed)
    replay()
  }

  function step(from: typeof undos, to: typeof redos, word: string): void {
    const last = from.value.at(-1)
    if (!last) return
    const changes = inverse(last.changes)
    if (!apply('revert', { label: `${word}: ${last.label}`, changes }, { undoable: false })) { from.value = from.value.slice(0, -1); return }
    from.value = from.value.slice(0, -1)
    to.value = [...to.value, { label: last.label, changes }]
  }
  const undo = () => step(undos, redos, 'Undo')
  const redo = () => step(redos, undos, 'Redo')

  return {
    id, tab, session, status, waitingCount, undos, redos, network, envelopes,
    open, close, apply, preview, previewEnvelopes, settled, undo, redo, catchUp,
    onJob: (l: (id: string) => void) => { jobListeners.add(l); return () => jobListeners.delete(l) },
    onChanges: (l: (changes: RowChange[]) => void) => { changeListeners.add(l); return () => changeListeners.delete(l) }
  }
})
