// The thread that plans: it knows the session, and tells the engine what to play. Compiling takes tens of milliseconds
// in a large session; sound does not wait for it.
import { sha256 } from '@noble/hashes/sha2'
import { bytesToHex } from '@noble/hashes/utils'
import { compile } from '@nullet/core/compile/compile'
import { tapKey } from '@nullet/core/compile/plan'
import { PlanStream, renderWhole } from '@nullet/core/run/stream'
import { WavEncoder } from '@nullet/core/formats/wav'
import { asSession, withChanges, type RowChange, type Session } from '@nullet/core/session/session'
import type { ToEngine, Told, ToPage, ToPlanner } from './messages'
import { Planning, type Listening } from './planning'
import { mediaOf, Segments } from './segments'

/** Share of real time, as plans are weighed, from which on a second core is asked for: it has other work too. */
const WORTH_TWO = 0.3

/** A plan that nobody waits for is made so much later, ms. */
const STILL_MS = 100

let engine: MessagePort
let twoFrom = Infinity
let planning: Planning | null = null
let session: Session | null = null
/** What came since the engine was told the last time. */
let rows: Told['rows'] | null = null
/** How the session differs from what was planned, a row once; null where that is not known row by row. */
let changes: Map<string, RowChange> | null = null
let waiting: ReturnType<typeof setTimeout> | null = null
let plays = false
const listening: Listening = { trims: new Map(), keyOf: null, probe: null }
const tell = (m: ToPage) => postMessage(m)
const send = (m: ToEngine) => engine.postMessage(m)

const failed = (error: unknown) => tell({ kind: 'error', message: (error as Error).message })
function trying(act: () => void): void {
  try {
    act()
  } catch (error) {
    failed(error)
  }
}

onmessage = ({ data }: MessageEvent<ToPlanner>) => trying(() => take(data))

function take(m: ToPlanner): void {
  switch (m.kind) {
    case 'engine':
      engine = m.port
      if (m.cores > 1) twoFrom = WORTH_TWO
      break
    case 'session':
      session = asSession(m.session)
      planning = new Planning(session, listening, twoFrom)
      rows = { session: m.session }
      changes = null
      soon()
      break
    case 'changes':
      if (!session) break
      session = withChanges(session, m.changes)
      for (const c of m.changes) {
        const name = `${c.table} ${c.id}`
        changes?.set(name, { ...c, before: (changes.get(name) ?? c).before })
      }
      rows = !rows
        ? { changes: m.changes }
        : 'session' in rows
          ? { session }
          : { changes: [...rows.changes, ...m.changes] }
      soon()
      break
    case 'trims':
      listening.trims = new Map(m.trims)
      anew()
      break
    case 'listen':
      listening.keyOf = m.keyOf
      listening.probe = m.probe
      anew()
      break
    case 'render':
      void renderOffline(m).catch(failed)
      break
    default:
      if (m.kind === 'play' || m.kind === 'stop') plays = m.kind === 'play'
      // Whatever is played is the session as it is by then.
      if (m.kind === 'play') plan()
      send(m)
  }
}

/** What changed is no matter of rows. */
function anew(): void {
  rows ??= { changes: [] }
  changes = null
  soon()
}

/**
 * Messages that are there already are taken first: of a burst the last value counts. Where nothing plays, what a hand
 * has done is drawn first.
 */
function soon(): void {
  waiting ??= setTimeout(() => trying(plan), plays ? 0 : STILL_MS)
}

function plan(): void {
  if (waiting) clearTimeout(waiting)
  waiting = null
  if (!rows || !planning || !session) return
  const known = changes && [...changes.values()]
  // Where planning fails, the next time compares everything.
  changes = null
  const update = planning.change(session, known)
  send({ kind: 'planned', rows, update })
  rows = null
  changes = new Map()
}

async function renderOffline({ serial, tap, from, frames }: Extract<ToPlanner, { kind: 'render' }>): Promise<void> {
  if (!session) return
  const media = new Segments()
  media.setMedia(mediaOf(session))
  const stream = new PlanStream(compile(session, { taps: [tap] }), session, media)
  const audio = (await renderWhole(stream, { from, frames })).get(tapKey(tap))!
  tell({ kind: 'rendered', serial, audio, sha256: bytesToHex(sha256(new WavEncoder('32f').encode(audio))) })
}
