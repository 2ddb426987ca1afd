// A network proposed from families: submixes, stems, a main, returns with their sends, colours. Each proposal is an
// ordinary edit with a reason, and may need others; what is accepted becomes one edit.
import type { EditMessage } from '../session/editMessage'
import { LAYOUTS, widest } from '../session/layouts'
import { Network } from '../graph/network'
import { familyColour, familyTable, familyWhole, guessFamily } from '../session/families'
import type { Channel, FamilyRule, Params } from '../session/rows'
import { ordersAfter } from '../session/order'
import { byOrder, rows, type Session } from '../session/session'

export const GROUPS = ['families', 'main', 'submixes', 'stems', 'returns', 'sends', 'colours'] as const
export interface Proposal {
  id: string
  group: (typeof GROUPS)[number]
  label: string
  reason: string
  about: string[]
  /** Proposals without which this one cannot be. */
  needs: string[]
  edit: EditMessage
}

/** Returns that are worth having, for which families, and how much is sent. */
const RETURNS: readonly {
  name: string
  processor: string
  params: Params
  families: readonly string[]
  sendDb: number
}[] = [
  {
    name: 'Hall',
    processor: 'reverb',
    params: { decayS: 2.4, preDelayMs: 25, size: 90 },
    families: ['Lead voice', 'Backing voices', 'Choir', 'Guitars', 'Plucked', 'Strings', 'Keys', 'Brass', 'Winds'],
    sendDb: -14
  },
  {
    name: 'Room',
    processor: 'reverb',
    params: { decayS: 0.7, preDelayMs: 6, size: 40 },
    families: ['Drums', 'Percussion'],
    sendDb: -12
  }
]

/** What is heard by whoever works, not by whoever listens: no submix, no stem. */
const NOT_MIXED: ReadonlySet<string> = new Set(['Click', 'Reference', 'Prints'])

export function proposeNetwork(session: Session, newId: () => string): Proposal[] {
  return new Proposing(session, newId).all()
}

class Proposing {
  private readonly network: Network
  private readonly table: readonly FamilyRule[]
  private readonly channels: Channel[]
  private readonly list: Proposal[] = []
  private readonly orders: string[]
  /** What a channel's family would be once the families are accepted. */
  private readonly familyOf = new Map<string, string>()
  private readonly submixOf = new Map<string, string>()
  private main: string | null
  private mainNeeds: string[] = []

  constructor(
    session: Session,
    private readonly newId: () => string
  ) {
    this.network = new Network(session)
    this.table = familyTable(session)
    this.channels = rows(session, 'channel')
      .filter(c => !c.parked)
      .sort(byOrder)
    this.orders = ordersAfter(rows(session, 'channel'), 60)
    this.main = this.channels.find(c => c.role === 'main')?.id ?? null
  }

  all(): Proposal[] {
    this.families()
    this.makeMain()
    for (const family of this.familiesHere()) {
      this.submix(family)
      this.stem(family)
    }
    this.returns()
    this.colours()
    return this.list.sort((a, b) => GROUPS.indexOf(a.group) - GROUPS.indexOf(b.group))
  }

  private propose(p: Omit<Proposal, 'id'>): string {
    const id = `${p.group} ${this.list.length + 1}`
    this.list.push({ id, ...p })
    return id
  }

  private nextOrder(): string {
    return this.orders.shift()!
  }
  private tracks(): Channel[] {
    return this.channels.filter(c => c.role === 'track')
  }
  private ofFamily(family: string): Channel[] {
    return this.tracks().filter(c => this.familyOf.get(c.id) === family)
  }
  private familiesHere(): string[] {
    const there = new Set(this.familyOf.values())
    const known = this.table.map(f => f.family)
    return [...known, ...[...there].filter(f => f && !known.includes(f))].filter(f => there.has(f))
  }

  /** The bus that already gathers this family: by its family and role, or by its name. */
  private busFor(family: string, role: Channel['role']): Channel | undefined {
    return this.channels.find(
      c => c.role === role && (c.family === family || c.name.toLowerCase().includes(family.toLowerCase()))
    )
  }

  private goesTo(id: string): string[] {
    return (this.network.feedsFrom.get(id) ?? []).filter(f => f.kind === 'main').map(f => f.to)
  }

  private families(): void {
    const guessed = new Map<string, string[]>()
    for (const track of this.tracks()) {
      const family = track.family || guessFamily(track.name, this.table).family
      if (!NOT_MIXED.has(family)) this.familyOf.set(track.id, familyWhole(family, this.table))
      if (!track.family && family) guessed.set(family, [...(guessed.get(family) ?? []), track.id])
    }
    for (const [family, ids] of guessed) {
      this.propose({
        group: 'families',
        label: `${namesOf(this.network, ids)}: ${family}`,
        reason: 'from their names',
        about: ids,
        needs: [],
        edit: { verb: 'setChannels', args: { ids, fields: { family, familyGuessed: true } } }
      })
    }
  }

  private makeMain(): void {
    if (this.main || !this.tracks().length) return
    const id = this.newId()
    this.main = id
    this.mainNeeds = [
      this.propose({
        group: 'main',
        label: 'Main',
        reason: 'there is no main to mix into',
        about: [],
        needs: [],
        edit: {
          verb: 'several',
          args: {
            label: 'New main',
            edits: [
              {
                verb: 'createBus',
                args: { id, name: 'Main', role: 'main', order: this.nextOrder(), layout: LAYOUTS.stereo, colour: 8 }
              },
              { verb: 'setSession', args: { heardChannel: id } }
            ]
          }
        }
      })
    ]
  }

  private submix(family: string): void {
    const there = this.busFor(family, 'submix')
    // What already goes through some bus of its own is left where it is.
    const loose = this.ofFamily(family).filter(c =>
      this.goesTo(c.id).every(
        to => to === this.main || this.network.channel(to)?.role === 'stem' || this.network.channel(to)?.role === 'main'
      )
    )
    if (there) this.submixOf.set(family, there.id)
    const wanted = there ? loose : loose.length > 1 ? loose : []
    if (!wanted.length) return
    const ids = wanted.map(c => c.id)
    if (there) {
      this.propose({
        group: 'submixes',
        label: `${namesOf(this.network, ids)} to “${there.name}”`,
        reason: `“${there.name}” gathers the ${family} family`,
        about: [...ids, there.id],
        needs: [],
        edit: { verb: 'setMainFeed', args: { ids, to: there.id, feedIds: ids.map(this.newId) } }
      })
      return
    }
    const id = this.newId()
    const layout = widest([LAYOUTS.stereo, ...wanted.map(c => c.layout)])
    this.submixOf.set(family, id)
    this.propose({
      group: 'submixes',
      label: `Submix “${family}” of ${ids.length}`,
      reason: namesOf(this.network, ids),
      about: ids,
      needs: this.mainNeeds,
      edit: {
        verb: 'createSubmix',
        args: {
          id,
          name: family,
          order: this.nextOrder(),
          members: ids,
          layout,
          colour: familyColour(family, this.table),
          family,
          to: this.main,
          feedIds: [...ids, id].map(this.newId)
        }
      }
    })
  }

  private stem(family: string): void {
    if (this.busFor(family, 'stem')) return
    const submix = this.submixOf.get(family)
    const made = this.list.find(p => p.group === 'submixes' && (p.edit.args as { id?: string }).id === submix)
    const feeders = submix ? [submix] : this.ofFamily(family).map(c => c.id)
    const already = submix && this.network.channel(submix) ? this.goesTo(submix).filter(to => to !== this.main) : []
    if (!feeders.length || already.length || !this.main) return
    const id = this.newId()
    this.propose({
      group: 'stems',
      label: `Stem “${family}”`,
      reason: submix
        ? `between the submix ${this.network.channel(submix) ? `“${this.network.channel(submix)?.name}”` : `“${family}”`} and the main`
        : namesOf(this.network, feeders),
      about: feeders.filter(f => this.network.channel(f)),
      needs: [...this.mainNeeds, ...(made ? [made.id] : [])],
      edit: {
        verb: 'several',
        args: {
          label: `Stem “${family}”`,
          edits: [
            {
              verb: 'createBus',
              args: {
                id,
                name: `Stem ${family}`,
                role: 'stem',
                order: this.nextOrder(),
                layout: LAYOUTS.stereo,
                colour: familyColour(family, this.table),
                family,
                to: this.main,
                feedId: this.newId()
              }
            },
            { verb: 'setMainFeed', args: { ids: feeders, to: id, feedIds: feeders.map(this.newId) } }
          ]
        }
      }
    })
  }

  private returns(): void {
    for (const r of RETURNS) {
      const families = r.families.filter(f => this.ofFamily(f).length)
      const there = this.channels.find(
        c =>
          c.role === 'return' &&
          (this.network.slots.get(c.id) ?? []).some(s => s.processor === r.processor) &&
          c.name.toLowerCase().includes(r.name.toLowerCase())
      )
      if (!families.length || there || !this.main) continue
      const id = this.newId()
      const needs = [
        this.propose({
          group: 'returns',
          label: `Return “${r.name}”`,
          reason: `one reverb for ${families.join(', ')}`,
          about: [],
          needs: this.mainNeeds,
          edit: {
            verb: 'createBus',
            args: {
              id,
              name: r.name,
              role: 'return',
              order: this.nextOrder(),
              layout: LAYOUTS.stereo,
              colour: 7,
              to: this.main,
              feedId: this.newId(),
              slot: { id: this.newId(), processor: r.processor, params: r.params }
            }
          }
        })
      ]
      for (const family of families) {
        const submix = this.submixOf.get(family)
        const made = this.list.find(p => p.group === 'submixes' && (p.edit.args as { id?: string }).id === submix)
        const from = submix ? [submix] : this.ofFamily(family).map(c => c.id)
        this.propose({
          group: 'sends',
          label: `${submix ? `Submix ${family}` : namesOf(this.network, from)} to “${r.name}”`,
          reason: `after the fader, at ${r.sendDb} dB to begin with`.replace('-', '−'),
          about: from.filter(f => this.network.channel(f)),
          needs: [...needs, ...(made ? [made.id] : [])],
          edit: {
            verb: 'addSend',
            args: { ids: from, to: id, tap: 'post', levelDb: r.sendDb, feedIds: from.map(this.newId) }
          }
        })
      }
    }
  }

  private colours(): void {
    for (const family of this.familiesHere()) {
      const colour = familyColour(family, this.table)
      const odd = this.channels.filter(
        c => (c.role === 'track' ? this.familyOf.get(c.id) : c.family) === family && c.colour !== colour
      )
      if (!odd.length || colour === 8) continue
      const ids = odd.map(c => c.id)
      this.propose({
        group: 'colours',
        label: `${namesOf(this.network, ids)} in the colour of ${family}`,
        reason: 'one colour a family',
        about: ids,
        needs: [],
        edit: { verb: 'setChannels', args: { ids, fields: { colour } } }
      })
    }
  }
}

function namesOf(network: Network, ids: string[]): string {
  const names = ids.map(id => network.channel(id)?.name ?? id)
  return names.length <= 3 ? names.join(', ') : `${names.slice(0, 2).join(', ')} and ${names.length - 2} more`
}

/** The accepted ones with everything they need, in order, as one edit; null when nothing is accepted. */
export function acceptProposals(all: readonly Proposal[], accepted: ReadonlySet<string>): EditMessage | null {
  const wanted = new Set(accepted)
  for (let grown = true; grown;) {
    grown = false
    for (const p of all)
      if (wanted.has(p.id))
        for (const n of p.needs)
          if (!wanted.has(n)) {
            wanted.add(n)
            grown = true
          }
  }
  const edits = all.filter(p => wanted.has(p.id)).map(p => p.edit)
  return edits.length
    ? {
        verb: 'several',
        args: {
          label: `Network proposed from families (${edits.length} ${edits.length === 1 ? 'change' : 'changes'})`,
          edits
        }
      }
    : null
}
