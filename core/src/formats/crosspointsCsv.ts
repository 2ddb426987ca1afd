// The feeds of a session as a table for spreadsheets, one line a feed, and back: what a file would change is found out
// first, and applied whole or not at all. RFC 4180; cells that a spreadsheet would run as formulas begin with an
// apostrophe.
import Papa from 'papaparse'
import type { EditMessage } from '../session/editMessage'
import { PROCESSORS, slotLabel } from '../processors/table'
import { Refusal } from '../foundation/refusal'
import { FeedRow, TAPS, type Feed } from '../session/rows'
import { byId, rows, settings, type Session } from '../session/session'

export const CSV_COLUMNS = ['from', 'feed', 'to', 'tap', 'level', 'pan', 'muted'] as const
const SILENT = '−∞'
const KINDS = ['main', 'send', 'key', 'port', 'input'] as const

// ── names ──

/** Names of rows as they are written: alone where they are the only one of that name, else with the id behind. */
class Names {
  private readonly of = new Map<string, string>()
  private readonly ids = new Map<string, string[]>()

  constructor(named: { id: string; name: string }[]) {
    for (const { id, name } of named) this.ids.set(name, [...(this.ids.get(name) ?? []), id])
    for (const { id, name } of named) {
      const written = this.ids.get(name)!.length === 1 ? name : `${name} [${id}]`
      this.of.set(id, written)
      this.ids.set(written, [id])
    }
  }

  write(id: string): string {
    return this.of.get(id) ?? id
  }

  /** @throws Refusal for a name that is unknown or stands for several */
  read(text: string, what: string): string {
    const found = this.ids.get(text) ?? this.ids.get(text.replace(/^'(?=[=+\-@\t\r])/, ''))
    if (!found) throw new Refusal('notFound', `there is no ${what} “${text}”`)
    if (found.length > 1)
      throw new Refusal(
        'ambiguous',
        `“${text}” is ${found.length} ${what}s: write ${found.map(id => `“${this.write(id)}”`).join(' or ')}`
      )
    return found[0]
  }
}

function namesOf(session: Session) {
  const rig = settings(session).rig
  const inRig = (id: string) => session.interface[session.port[id].interface]?.rig === rig
  return {
    channels: new Names(rows(session, 'channel')),
    keys: new Names(
      rows(session, 'slot')
        .filter(s => PROCESSORS[s.processor]?.keyed)
        .map(s => ({ id: s.id, name: `${slotLabel(s.processor)} on ${session.channel[s.channel].name}` }))
    ),
    // Ports of the rig in use come first: another rig's port of the same name needs its id.
    ports: new Names(
      rows(session, 'port').map(p => ({
        id: p.id,
        name: inRig(p.id) ? p.name : `${p.name} (${session.rig[session.interface[p.interface].rig].name})`
      }))
    )
  }
}
type AllNames = ReturnType<typeof namesOf>

const PORTS_APART = ' + '
const writePorts = (names: AllNames, ports: string[]) => ports.map(p => names.ports.write(p)).join(PORTS_APART)

// ── out ──

export function writeCrosspointsCsv(session: Session): string {
  const names = namesOf(session)
  const lines = rows(session, 'feed')
    .sort(byId)
    .map(f => [
      f.from ? names.channels.write(f.from) : writePorts(names, f.ports),
      f.kind,
      f.kind === 'key'
        ? names.keys.write(f.slot)
        : f.kind === 'port'
          ? writePorts(names, f.ports)
          : names.channels.write(f.to),
      f.tap,
      f.levelDb ?? SILENT,
      f.pan ?? '',
      f.muted ? 'yes' : ''
    ])
  // The mark at the beginning tells spreadsheets that it is UTF-8.
  return `\ufeff${Papa.unparse({ fields: [...CSV_COLUMNS], data: lines }, { escapeFormulae: true, newline: '\r\n' })}\r\n`
}

// ── in ──

export interface CsvChange {
  what: 'add' | 'change' | 'remove'
  text: string
}
export interface CsvPlan {
  changes: CsvChange[]
  /** Lines that cannot be understood; while there are any, nothing can be applied. */
  problems: { line: number; text: string }[]
  unchanged: number
  edits: EditMessage[]
}

type Wanted = Pick<Feed, 'kind' | 'from' | 'to' | 'slot' | 'ports'> &
  Partial<Pick<Feed, 'tap' | 'levelDb' | 'pan' | 'muted'>>

/**
 * What a file would change. Feeds are matched by kind and both ends; settings whose column is missing or whose cell is
 * empty stay (a level, a tap) or are the default.
 * @param options.remove feeds that the file lacks are taken away
 * @throws Refusal when it is no such table
 */
export function planCrosspointsCsv(
  session: Session,
  text: string,
  options: { remove: boolean; newId: () => string }
): CsvPlan {
  const parsed = Papa.parse<Record<string, string>>(text, {
    header: true,
    skipEmptyLines: 'greedy',
    transformHeader: h => h.trim().toLowerCase()
  })
  checkColumns(parsed.meta.fields ?? [])
  const names = namesOf(session)
  const plan: CsvPlan = { changes: [], problems: [], unchanged: 0, edits: [] }
  const left = new Map<string, Feed[]>()
  for (const f of rows(session, 'feed').sort(byId)) left.set(endsOf(f), [...(left.get(endsOf(f)) ?? []), f])
  const added: object[] = []
  parsed.data.forEach((cells, i) => {
    try {
      const wanted = readLine(cells, names)
      const there = left.get(endsOf(wanted))?.shift()
      if (there) change(plan, session, names, there, wanted)
      else {
        const row = FeedRow.parse({ id: options.newId(), ...wanted })
        added.push({ table: 'feed', row })
        plan.changes.push({ what: 'add', text: described(names, row) })
      }
    } catch (error) {
      plan.problems.push({ line: i + 2, text: (error as Error).message })
    }
  })
  for (const e of parsed.errors) plan.problems.push({ line: (e.row ?? 0) + 2, text: e.message })
  if (added.length) plan.edits.push({ verb: 'addRows', args: { label: 'Feeds from a table', rows: added } })
  const gone = options.remove ? [...left.values()].flat() : []
  if (gone.length) plan.edits.push({ verb: 'removeFeeds', args: { ids: gone.map(f => f.id) } })
  for (const f of gone) plan.changes.push({ what: 'remove', text: described(names, f) })
  return plan
}

function checkColumns(fields: string[]): void {
  const missing = ['from', 'feed', 'to'].filter(c => !fields.includes(c))
  const odd = fields.filter(f => !(CSV_COLUMNS as readonly string[]).includes(f))
  if (!missing.length && !odd.length) return
  throw new Refusal(
    'badArguments',
    `This is not a table of crosspoints: ${[
      missing.length
        ? `the column${missing.length > 1 ? 's' : ''} ${missing.map(c => `“${c}”`).join(', ')} ${missing.length > 1 ? 'are' : 'is'} missing`
        : '',
      odd.length ? `${odd.map(c => `“${c}”`).join(', ')} ${odd.length > 1 ? 'are' : 'is'} not known` : ''
    ]
      .filter(Boolean)
      .join('; ')}. Its columns are ${CSV_COLUMNS.join(', ')}; the first three are needed.`
  )
}

const endsOf = (f: Wanted) => `${f.kind} ${f.from} ${f.to} ${f.slot} ${f.ports.join()}`

function readLine(cells: Record<string, string>, names: AllNames): Wanted {
  const cell = (name: string) => (cells[name] ?? '').trim()
  const kind = cell('feed').toLowerCase() as (typeof KINDS)[number]
  if (!KINDS.includes(kind))
    throw new Refusal('badArguments', `“${cell('feed')}” is not a kind of feed: it is one of ${KINDS.join(', ')}`)
  const ports = (text: string) => text.split(PORTS_APART).map(p => names.ports.read(p.trim(), 'port'))
  const wanted: Wanted = {
    kind,
    from: kind === 'input' ? null : names.channels.read(cell('from'), 'channel'),
    to: kind === 'key' || kind === 'port' ? null : names.channels.read(cell('to'), 'channel'),
    slot: kind === 'key' ? names.keys.read(cell('to'), 'key input') : null,
    ports: kind === 'port' ? ports(cell('to')) : kind === 'input' ? ports(cell('from')) : []
  }
  const tap = cell('tap').toLowerCase()
  if (tap) {
    if (!(TAPS as readonly string[]).includes(tap))
      throw new Refusal('badArguments', `“${tap}” is not a tap: it is one of ${TAPS.join(', ')}`)
    wanted.tap = tap as Feed['tap']
  }
  if (cell('level')) wanted.levelDb = readLevel(cell('level'))
  if (cell('pan')) {
    const pan = Number(cell('pan').replace(',', '.').replace('−', '-'))
    if (!(pan >= -1 && pan <= 1))
      throw new Refusal('badArguments', `“${cell('pan')}” is not a pan: it goes from −1 to 1`)
    wanted.pan = pan
  }
  if ('muted' in cells) wanted.muted = /^(yes|true|1|x)$/i.test(cell('muted'))
  return wanted
}

function readLevel(text: string): number | null {
  const plain = text
    .replace(/^'/, '')
    .replace('−', '-')
    .replace(',', '.')
    .replace(/\s*dB$/i, '')
  if (/^-?(∞|inf(inity)?)$/i.test(plain)) return null
  const db = Number(plain)
  if (!(db >= -150 && db <= 48))
    throw new Refusal('badArguments', `“${text}” is not a level: it goes from −150 to 48 dB, or ${SILENT}`)
  return db
}

function change(plan: CsvPlan, session: Session, names: AllNames, there: Feed, wanted: Wanted): void {
  const fields = Object.fromEntries(
    (['tap', 'levelDb', 'pan', 'muted'] as const)
      .filter(k => wanted[k] !== undefined && wanted[k] !== there[k])
      .map(k => [k, wanted[k]])
  )
  const keys = Object.keys(fields)
  if (!keys.length) {
    plan.unchanged++
    return
  }
  plan.edits.push({ verb: 'setFeeds', args: { ids: [there.id], fields } })
  plan.changes.push({
    what: 'change',
    text: `${described(names, there)}: ${keys.map(k => `${WORDS[k]} ${shown(there[k as keyof Feed])} → ${shown(fields[k])}`).join(', ')}`
  })
}

const WORDS: Record<string, string> = { tap: 'tap', levelDb: 'level', pan: 'pan', muted: 'muted' }
const shown = (v: unknown) =>
  v === null
    ? SILENT
    : typeof v === 'number'
      ? String(Math.round(v * 100) / 100).replace('-', '−')
      : typeof v === 'boolean'
        ? v
          ? 'yes'
          : 'no'
        : String(v)

const described = (names: AllNames, f: Wanted) =>
  `${f.kind}: ${f.from ? names.channels.write(f.from) : writePorts(names, f.ports)} → ${f.slot ? names.keys.write(f.slot) : f.to ? names.channels.write(f.to) : writePorts(names, f.ports)}`
