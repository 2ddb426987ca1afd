// The open session for everything that is drawn: rows with what a hand is moving right now, undo, status. A thin face
// of the link (session/link.ts), which does the work.
import { defineStore } from 'pinia'
import { computed, shallowRef, watch } from 'vue'
import { envelopeOn, envelopesOf, targetName, type Target } from '@nullet/core/movement/targets'
import { Network } from '@nullet/core/graph/network'
import { connectsNothing } from '@nullet/core/session/wiring'
import { difference, withChanges, type RowChange, type Session } from '@nullet/core/session/session'
import type { Envelope, EnvelopePoint, TableName } from '@nullet/core/session/rows'
import { failureOf, holdPage, httpWire, ownHand, pageIsOpen } from '~/session/browser'
import { drawn } from '~/session/drawn'
import { hearServer } from '~/session/events'
import { Happenings } from '~/session/happenings'
import type { Beside, Step } from '~/session/history'
import { SessionLink, type LinkEvents, type Status } from '~/session/link'
import { WaitingShelf } from '~/session/waiting'
import { useNotices, type Notice } from './notices'

type Fields = Record<string, unknown>

const networks = new WeakMap<Session, Network>()
function networkOf(session: Session): Network {
  const made = networks.get(session) ?? new Network(session)
  networks.set(session, made)
  return made
}

export const useSession = defineStore('session', () => {
  const notices = useNotices()
  const hand = ownHand(localStorage)
  /** Names this page: its gestures begin with it. */
  const client = `${hand}-${Math.random().toString(36).slice(2, 10)}`
  const id = shallowRef('')
  const session = shallowRef<Session | null>(null)
  const status = shallowRef<Status>('loading')
  const waitingCount = shallowRef(0)
  const undos = shallowRef<readonly Step[]>([])
  const redos = shallowRef<readonly Step[]>([])
  let link: SessionLink | null = null
  let hearing = false
  const happenings = new Happenings()
  const jobListeners = new Set<(id: string) => void>()
  const changeListeners = new Set<(changes: RowChange[]) => void>()

  /** As it was when something was connected, closed or opened last. */
  const connected = shallowRef<Session | null>(null)
  const network = computed(() => session.value && networkOf(session.value))
  /** What is connected: the same for as long as hands move levels only, which may be older in it. */
  const wiring = computed(() => connected.value && networkOf(connected.value))

  /** Envelopes that are on, by the name of what they move. */
  const envelopes = computed(() => (session.value ? envelopesOf(session.value) : new Map<string, Envelope>()))

  function show(next: Session | null): void {
    const before = session.value
    if (next === before) return
    const changes = before && next && difference(before, next)
    session.value = next
    if (!changes || !connectsNothing(changes)) connected.value = next
    if (changes?.length) changeListeners.forEach(l => l(changes))
  }

  /** Takes over what the link has, as long as it is the one that is open. */
  function follow(of: () => SessionLink): LinkEvents {
    return {
      changed() {
        const now = of()
        if (now !== link) return
        show(now.session)
        status.value = now.status
        waitingCount.value = now.waiting
        undos.value = now.history.undos
        redos.value = now.history.redos
      },
      refused: (error, label) => notices.wrong(error, undefined, label),
      stuck: (label, leaveOut, error) =>
        notices.wrong(error, { label: `Leave “${label}” out`, run: leaveOut }, `“${label}” is kept and tried again`),
      noRoom: () =>
        notices.wrong(
          new Error('The browser has no room for the edits that wait. Leave this page open until they are stored.')
        )
    }
  }

  async function open(which: string): Promise<void> {
    close()
    hear()
    const made: SessionLink = new SessionLink({
      wire: httpWire(which, hand),
      shelf: new WaitingShelf(localStorage, which, client, pageIsOpen),
      client,
      failureOf,
      pause: ms => new Promise(done => setTimeout(done, ms)),
      drawn,
      clock: Date.now,
      events: follow(() => made)
    })
    link = made
    id.value = which
    await made.open()
  }

  function hear(): void {
    if (hearing) return
    hearing = true
    holdPage(client)
    void happenings.look()
    hearServer(told => {
      if (told.kind === 'open') {
        link?.lookAgain()
        jobListeners.forEach(l => l(''))
        // It stays until it was seen: whoever looked away is to know that the server was gone.
        void happenings.look().then(all => all.forEach(said => notices.wrong(new Error(said))))
      } else if (told.session !== id.value) return
      else if (told.kind === 'job') jobListeners.forEach(l => l(told.job))
      else if (link && told.revision > link.base.revision) link.lookAgain()
    })
  }

  function close(): void {
    link?.close()
    link = null
    show(null)
    undos.value = redos.value = []
    waitingCount.value = 0
    status.value = 'loading'
  }

  /** What has been done so far, without what a hand is moving right now. */
  const settled = (): Session => link!.session!

  function tried(act: () => boolean): boolean {
    try {
      return act()
    } catch (error) {
      notices.wrong(error)
      return false
    } finally {
      show(link?.session ?? null)
    }
  }

  /** Applies at once and sends. Returns false when it was refused; then nothing has changed. */
  const apply = (verb: string, args: unknown, options: { undoable?: boolean } = {}): boolean =>
    tried(() => link?.apply({ verb, args }, options) ?? false)
  /** Something beside the rows was done, for example with a template: it stands in the list of steps too. */
  const doneBeside = (label: string, beside: Omit<Beside, 'at'>): void => link?.doneBeside(label, beside)
  const undo = () => tried(() => link?.takeBack('undo') ?? false)
  const redo = () => tried(() => link?.takeBack('redo') ?? false)

  /** For a notice that tells of the newest step: takes back that one, and no other that came after it. */
  function thisUndo(): Notice['action'] {
    const { gesture, label } = undos.value.at(-1) ?? {}
    return {
      label: 'Undo',
      run() {
        if (undos.value.at(-1)?.gesture === gesture) undo()
        else if (undos.value.some(s => s.gesture === gesture))
          notices.tell(`“${label}” is not the last step any more. What was done (v h) takes back several.`)
      }
    }
  }

  /** Takes back all of one's own down to this gesture, the newest first; stops at the first that cannot be. */
  function undoTo(gesture: string): void {
    while (undos.value.some(s => s.gesture === gesture)) if (!undo()) return
  }
  function redoTo(gesture: string): void {
    while (redos.value.some(s => s.gesture === gesture)) if (!redo()) return
  }

  /** Shows rows as a hand moves them; nothing is stored until `apply`. */
  function preview(table: TableName, rowIds: string[], fields: (row: Fields) => Fields): void {
    previewAll(rowIds.map(id => ({ table, id, fields: fields((settled()[table] as Record<string, Fields>)[id]!) })))
  }

  /** Shows envelopes as hands hold them, in the place of those that are there. */
  function previewEnvelopes(held: readonly { target: Target; points: readonly EnvelopePoint[] }[]): void {
    previewAll(
      held.map(({ target, points }) => {
        const rowId = envelopeOn(settled(), target)?.id ?? `hand/${targetName(target)}`
        return {
          table: 'envelope',
          id: rowId,
          fields: {
            id: rowId,
            channel: null,
            feed: null,
            slot: null,
            [target.owner]: target.row,
            field: target.field,
            on: true,
            points
          }
        }
      })
    )
  }

  /** The same for rows of several tables; a row that is not there yet is shown with these fields. */
  function previewAll(rows: { table: TableName; id: string; fields: Fields }[]): void {
    show(
      withChanges(
        settled(),
        rows.map(({ table, id: rowId, fields }) => {
          const row = (settled()[table] as Record<string, Fields>)[rowId] ?? null
          return { table, id: rowId, before: row, after: { ...row, ...fields } }
        })
      )
    )
  }

  /** Once the server has everything that was done so far; at once where it is away, and asking it will say so. */
  function stored(): Promise<void> {
    const isThere = () => !waitingCount.value || status.value === 'waiting' || status.value === 'gone'
    if (isThere()) return Promise.resolve()
    return new Promise(done => {
      const leave = watch(isThere, there => {
        if (!there) return
        leave()
        done()
      })
    })
  }

  /** What the server did on this page's behalf is fetched. */
  async function catchUp(): Promise<void> {
    link?.lookAgain()
    await link?.settled()
  }

  return {
    id,
    client,
    session,
    status,
    waitingCount,
    undos,
    redos,
    network,
    wiring,
    envelopes,
    open,
    close,
    apply,
    preview,
    previewEnvelopes,
    settled,
    stored,
    doneBeside,
    undo,
    redo,
    thisUndo,
    undoTo,
    redoTo,
    readLog: (before?: number) => httpWire(id.value, hand).readLog(before),
    hand,
    catchUp,
    nextServerGesture: () => link!.nextServerGesture(),
    onJob: (l: (id: string) => void) => {
      jobListeners.add(l)
      return () => jobListeners.delete(l)
    },
    onChanges: (l: (changes: RowChange[]) => void) => {
      changeListeners.add(l)
      return () => changeListeners.delete(l)
    }
  }
})
