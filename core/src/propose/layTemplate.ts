// Laying a template over a session: tracks are matched by name, then by family; what would change is known before
// anything is.
import { LOOP } from '../processors/table'
import type { EditMessage } from '../session/editMessage'
import { familyTable, guessFamily, wordsOf } from '../session/families'
import { ordersAfter } from '../session/order'
import type { Channel, Feed, TableName } from '../session/rows'
import { byOrder, rows, settings, type Session } from '../session/session'
import type { Pattern, TemplateDocument } from '../session/templateDocument'

export interface Match {
  track: string
  by: 'name' | 'family' | null
  like: string | null
  /** The first of the template's buses that it would feed. */ target: string | null
  /** Names of the buses it would feed. */ to: string[]
  sends: number
}
export interface TemplatePlan {
  matches: Match[]
  /** With their ids in the template. */ buses: {
    id: string
    name: string
    role: string
    what: 'new' | 'there already'
  }[]
  notes: string[]
  edit: EditMessage
}

/**
 * What laying a template over a session would do. Buses of the same name and role are taken as they are; tracks that
 * match nothing stay as they are.
 * @param only tracks to connect; all when left out
 * @param targets buses of the template, by track, where another one was chosen
 */
export function planTemplate(
  template: TemplateDocument,
  session: Session,
  newId: () => string,
  only?: ReadonlySet<string>,
  targets: ReadonlyMap<string, string> = new Map()
): TemplatePlan {
  return new Laying(template, session, newId, targets).plan(only)
}

class Laying {
  private readonly ids = new Map<string, string>()
  private readonly made: { table: TableName; row: object }[] = []
  private readonly notes: string[] = []

  constructor(
    private readonly template: TemplateDocument,
    private readonly session: Session,
    private readonly newId: () => string,
    private readonly targets: ReadonlyMap<string, string>
  ) {}

  private key(table: TableName, id: string) {
    return `${table} ${id}`
  }
  private there(table: TableName, id: string | null) {
    return id === null ? null : (this.ids.get(this.key(table, id)) ?? null)
  }
  private make(table: TableName, row: Record<string, unknown>): void {
    this.made.push({ table, row })
  }
  private fresh(table: TableName, id: string): string {
    const made = this.newId()
    this.ids.set(this.key(table, id), made)
    return made
  }

  plan(only?: ReadonlySet<string>): TemplatePlan {
    const { template, session } = this
    this.rigs()
    const channels = [...template.rows.channel].sort(byOrder)
    const buses = this.buses(channels)
    this.loopsAndSlots()
    this.feeds()
    const matches = this.matches()
    const edits: EditMessage[] = []
    if (this.made.length) edits.push({ verb: 'addRows', args: { label: 'Network of a template', rows: this.made } })
    if (template.families && JSON.stringify(template.families) !== JSON.stringify(settings(session).families)) {
      edits.push({ verb: 'setSession', args: { families: template.families } })
      this.notes.push('Its words for families take the place of this session’s.')
    }
    for (const m of matches)
      if (m.pattern && (!only || only.has(m.track))) edits.push(...this.connect(m.track, m.pattern))
    const heard = settings(session).heardChannel ?? buses.find(b => b.role === 'main')?.id ?? null
    if (heard !== settings(session).heardChannel) edits.push({ verb: 'setSession', args: { heardChannel: heard } })
    if (template.sampleRate !== settings(session).sampleRate)
      this.notes.push(
        `It was made at ${template.sampleRate} Hz and this session runs at ${settings(session).sampleRate} Hz: settings in Hz and ms mean the same; pings do not and were left out.`
      )
    return {
      matches: matches.map(({ pattern: _, ...m }) => m),
      buses: buses.map(({ name, role, what }, i) => ({ id: channels[i]!.id, name, role, what })),
      notes: this.notes,
      edit: {
        verb: 'several',
        args: {
          label: `Template “${template.name}”`.slice(0, 300),
          edits: edits.length ? edits : [{ verb: 'setSession', args: {} }]
        }
      }
    }
  }

  /** Rigs of the same name are the same; others come along whole. */
  private rigs(): void {
    const { rig, interface: devices, port, unit, cable } = this.template.rows
    for (const r of rig) {
      const same = rows(this.session, 'rig').find(x => x.name === r.name)
      if (same) {
        this.ids.set(this.key('rig', r.id), same.id)
        this.samePorts(r.id, same.id)
        continue
      }
      this.make('rig', { ...r, id: this.fresh('rig', r.id) })
      this.notes.push(`The rig “${r.name}” comes along.`)
      for (const d of devices.filter(d => d.rig === r.id))
        this.make('interface', { ...d, id: this.fresh('interface', d.id), rig: this.there('rig', r.id)! })
      for (const p of port.filter(p => this.there('interface', p.interface)))
        this.make('port', { ...p, id: this.fresh('port', p.id), interface: this.there('interface', p.interface)! })
      for (const u of unit.filter(u => u.rig === r.id))
        this.make('unit', { ...u, plays: null, id: this.fresh('unit', u.id), rig: this.there('rig', r.id)! })
      for (const c of cable.filter(c => c.rig === r.id)) {
        this.make('cable', {
          ...c,
          id: this.newId(),
          rig: this.there('rig', r.id)!,
          fromPort: this.there('port', c.fromPort),
          toPort: this.there('port', c.toPort),
          fromUnit: this.there('unit', c.fromUnit),
          toUnit: this.there('unit', c.toUnit)
        })
      }
    }
  }

  private samePorts(from: string, to: string): void {
    const inRig = (id: string, rig: string) => this.session.interface[this.session.port[id].interface]?.rig === rig
    for (const p of this.template.rows.port) {
      if (this.template.rows.interface.find(d => d.id === p.interface)?.rig !== from) continue
      const same = rows(this.session, 'port').find(
        x => x.name === p.name && x.direction === p.direction && inRig(x.id, to)
      )
      if (same) this.ids.set(this.key('port', p.id), same.id)
    }
  }

  private buses(list: readonly Channel[]) {
    const orders = ordersAfter(rows(this.session, 'channel'), list.length)
    return list.map((c, i) => {
      const same = rows(this.session, 'channel').find(
        x => x.kind === 'bus' && x.role === c.role && x.name.toLowerCase() === c.name.toLowerCase()
      )
      if (same) this.ids.set(this.key('channel', c.id), same.id)
      else this.make('channel', { ...c, id: this.fresh('channel', c.id), order: orders[i] })
      return {
        id: this.there('channel', c.id)!,
        name: c.name,
        role: c.role,
        what: same ? ('there already' as const) : ('new' as const)
      }
    })
  }

  private isNew(bus: string): boolean {
    const id = this.there('channel', bus)
    return id !== null && !(id in this.session.channel)
  }

  private loopsAndSlots(): void {
    for (const l of this.template.rows.loop) {
      const rig = this.there('rig', l.rig)
      const same = rows(this.session, 'loop').find(x => x.name === l.name && x.rig === rig)
      if (same) {
        this.ids.set(this.key('loop', l.id), same.id)
        continue
      }
      const ports = (list: string[]) => list.map(p => this.there('port', p)).filter(p => p !== null)
      if (!rig || ports(l.outPorts).length < l.outPorts.length || ports(l.inPorts).length < l.inPorts.length) {
        this.notes.push(`The loop “${l.name}” is left out: the rig here lacks ports that it uses.`)
        continue
      }
      const keepsPing = this.template.sampleRate === settings(this.session).sampleRate
      this.make('loop', {
        ...l,
        id: this.fresh('loop', l.id),
        rig,
        outPorts: ports(l.outPorts),
        inPorts: ports(l.inPorts),
        ...(keepsPing ? {} : { ping: null, applied: false })
      })
    }
    const used = new Set(
      rows(this.session, 'slot')
        .map(s => s.loop)
        .filter(l => l !== null)
    )
    for (const s of this.template.rows.slot) {
      if (!this.isNew(s.channel)) {
        this.sameSlot(s)
        continue
      }
      const loop = this.there('loop', s.loop)
      if (s.processor === LOOP && (!loop || used.has(loop))) {
        if (loop)
          this.notes.push(
            `A loop of “${this.template.rows.channel.find(c => c.id === s.channel)?.name}” is in use here already and was left out of its slot.`
          )
        continue
      }
      if (loop) used.add(loop)
      this.make('slot', { ...s, id: this.fresh('slot', s.id), channel: this.there('channel', s.channel)!, loop })
    }
  }

  /** A bus that is there keeps its own slots; keys find the first of the same processor. */
  private sameSlot(s: { id: string; channel: string; processor: string }): void {
    const here = rows(this.session, 'slot')
      .filter(x => x.channel === this.there('channel', s.channel) && x.processor === s.processor)
      .sort(byOrder)[0]
    if (here) this.ids.set(this.key('slot', s.id), here.id)
  }

  private feeds(): void {
    const has = (f: { kind: string; from: string | null; to: string | null; slot: string | null }) =>
      rows(this.session, 'feed').some(x => x.kind === f.kind && x.from === f.from && x.to === f.to && x.slot === f.slot)
    for (const f of this.template.rows.feed) {
      const ends = {
        from: this.there('channel', f.from),
        to: this.there('channel', f.to),
        slot: this.there('slot', f.slot),
        ports: f.ports.map(p => this.there('port', p)).filter(p => p !== null)
      }
      if ((f.from && !ends.from) || (f.to && !ends.to) || (f.slot && !ends.slot) || ends.ports.length < f.ports.length)
        continue
      if (has({ kind: f.kind, ...ends })) continue
      // A bus that is there keeps where it goes.
      if (
        f.kind === 'main' &&
        ends.from !== null &&
        ends.from in this.session.channel &&
        rows(this.session, 'feed').some(x => x.kind === 'main' && x.from === ends.from)
      )
        continue
      this.make('feed', { ...f, ...ends, id: this.newId() })
    }
  }

  private matches(): (Match & { pattern: Pattern | null })[] {
    const nameOf = new Map(this.template.rows.channel.map(c => [c.id, c.name]))
    const table = this.template.families ?? familyTable(this.session)
    return rows(this.session, 'channel')
      .filter(c => c.kind === 'track')
      .sort(byOrder)
      .map(track => {
        const same = this.template.tracks.filter(p => p.name.toLowerCase() === track.name.toLowerCase())
        const alike = same.length
          ? same
          : this.template.tracks.filter(p => wordsOf(p.name) !== '' && wordsOf(p.name) === wordsOf(track.name))
        const family = track.family || guessFamily(track.name, table).family
        const likeness = alike[0] ?? (family ? this.ofFamily(family) : null)
        const chosen = this.targets.get(track.id)
        const pattern = chosen === undefined ? likeness : { ...(likeness ?? this.plain(track)), mains: [chosen] }
        return {
          track: track.id,
          by: alike.length ? 'name' : likeness ? 'family' : null,
          like: likeness ? (alike[0]?.name ?? family) : null,
          pattern,
          target: pattern?.mains[0] ?? null,
          to: (pattern?.mains ?? []).map(id => nameOf.get(id) ?? id),
          sends: pattern?.sends.length ?? 0
        }
      })
  }

  /** For a track that is like none of the template's. */
  private readonly plain = ({ name, family, colour }: Channel): Pattern => ({
    name,
    family,
    colour,
    mains: [],
    sends: [],
    keys: []
  })

  /** What most tracks of a family did: their commonest destinations, and the sends that at least half of them had. */
  private ofFamily(family: string): Pattern | null {
    const kin = this.template.tracks.filter(p => p.family === family && p.mains.length)
    if (!kin.length) return null
    const count = <T>(list: T[]) =>
      [...list.reduce((m, x) => m.set(x, (m.get(x) ?? 0) + 1), new Map<T, number>())].sort((a, b) => b[1] - a[1])
    const mains = JSON.parse(count(kin.map(p => JSON.stringify(p.mains)))[0][0]) as string[]
    const shared = count(kin.flatMap(p => [...new Set(p.sends.map(s => s.to))]))
      .filter(([, n]) => n * 2 >= kin.length)
      .map(([to]) => to)
    return {
      name: family,
      family,
      colour: kin[0].colour,
      mains,
      keys: [],
      sends: shared.map(to => kin.flatMap(p => p.sends).find(s => s.to === to)!)
    }
  }

  private connect(track: string, p: Pattern): EditMessage[] {
    const channel: Channel = this.session.channel[track]
    const leaving: Feed[] = rows(this.session, 'feed').filter(f => f.from === track)
    const mains = p.mains.map(id => this.there('channel', id)).filter(id => id !== null)
    const edits: EditMessage[] = []
    const goes = leaving.filter(f => f.kind === 'main').map(f => f.to)
    if (mains.length && mains.join() !== goes.join()) {
      edits.push({ verb: 'setMainFeed', args: { ids: [track], to: mains[0], feedIds: [this.newId()] } })
      for (const to of mains.slice(1))
        edits.push({ verb: 'addMainFeed', args: { ids: [track], to, feedIds: [this.newId()] } })
    }
    for (const s of p.sends) {
      const to = this.there('channel', s.to)
      if (!to || leaving.some(f => f.kind === 'send' && f.to === to)) continue
      edits.push({
        verb: 'addSend',
        args: { ids: [track], to, tap: s.tap, levelDb: s.levelDb, feedIds: [this.newId()] }
      })
    }
    for (const k of p.keys) {
      const slot = this.there('slot', k.slot)
      if (slot && !leaving.some(f => f.slot === slot))
        edits.push({ verb: 'addKey', args: { ids: [track], slot, tap: k.tap, feedIds: [this.newId()] } })
    }
    const fields = {
      ...(channel.family ? {} : { family: p.family, familyGuessed: true }),
      ...(channel.colour === p.colour ? {} : { colour: p.colour })
    }
    if (Object.keys(fields).length) edits.push({ verb: 'setChannels', args: { ids: [track], fields } })
    return edits
  }
}
