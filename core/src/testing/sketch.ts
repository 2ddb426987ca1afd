// Writes sessions in few lines: for the demonstration, the bench and tests.
import { generateKeyBetween } from 'fractional-indexing'
import { layoutOf } from '../session/layouts'
import type { Params, Ping, Tap } from '../session/rows'
import { emptySession, makeRow, type Session } from '../session/session'

type Fields = Record<string, unknown>

/** A loop that was measured and found to be late, and nothing else. */
export const pingOf = (delaySamples: number): Ping => ({
  delaySamples,
  inverted: false,
  gainDb: 0,
  noiseDbfs: null,
  confidence: 1,
  sampleRate: 48000,
  wiring: '',
  measuredAt: ''
})

export class Sketch {
  readonly session: Session
  private order: string | null = null
  private serial = 0

  constructor(name = 'Sketch', fields: Fields = {}) {
    this.session = emptySession(name, fields)
  }

  private nextOrder(): string {
    return (this.order = generateKeyBetween(this.order, null))
  }
  private nextId(prefix: string): string {
    return `${prefix}${String(++this.serial).padStart(4, '0')}`
  }

  add(table: keyof Session, fields: Fields): string {
    const row = makeRow(table, { order: this.nextOrder(), ...fields }) as { id: string }
    ;(this.session[table] as Record<string, unknown>)[row.id] = row
    return row.id
  }

  medium(id: string, legs: number, frames: number, fields: Fields = {}): string {
    return this.add('medium', {
      id,
      name: id,
      file: `${id}.wav`,
      legs,
      frames,
      sampleRate: this.session.session.session.sampleRate,
      ...fields
    })
  }

  /** A track that plays a whole medium from frame 0 (or none). */
  track(id: string, medium?: string, fields: Fields = {}): string {
    const legs = medium ? this.session.medium[medium].legs : 1
    this.add('channel', { id, name: id, kind: 'track', layout: layoutOf(legs), ...fields })
    if (medium) this.add('clip', { id: `${id}-clip`, channel: id, medium, name: this.session.medium[medium].name })
    return id
  }

  bus(id: string, fields: Fields = {}): string {
    return this.add('channel', { id, name: id, kind: 'bus', ...fields })
  }

  main(from: string, to: string, fields: Fields = {}): string {
    return this.add('feed', { id: this.nextId('f'), kind: 'main', from, to, ...fields })
  }
  send(from: string, to: string, levelDb: number | null, tap: Tap = 'post', fields: Fields = {}): string {
    return this.add('feed', { id: this.nextId('f'), kind: 'send', from, to, levelDb, tap, ...fields })
  }
  key(from: string, slot: string, tap: Tap = 'pre', fields: Fields = {}): string {
    return this.add('feed', { id: this.nextId('f'), kind: 'key', from, slot, tap, ...fields })
  }
  slot(channel: string, processor: string, params: Params = {}, fields: Fields = {}): string {
    return this.add('slot', { id: this.nextId('s'), channel, processor, params, ...fields })
  }

  /** An envelope of what `on` names. */
  move(
    on: { channel: string } | { feed: string } | { slot: string },
    field: string,
    points: [number, number | null][],
    fields: Fields = {}
  ): string {
    return this.add('envelope', { id: this.nextId('e'), ...on, field, points, ...fields })
  }

  rig(id: string, fields: Fields = {}): string {
    return this.add('rig', { id, name: id, ...fields })
  }
  /** An interface with so many analog ports out and in: ids `${id}-out-1` … */
  interface(id: string, rig: string, outs: number, ins: number, fields: Fields = {}): string {
    this.add('interface', { id, rig, name: id, ...fields })
    for (let i = 1; i <= outs; i++)
      this.add('port', { id: `${id}-out-${i}`, interface: id, name: `Out ${i}`, direction: 'out' })
    for (let i = 1; i <= ins; i++)
      this.add('port', { id: `${id}-in-${i}`, interface: id, name: `In ${i}`, direction: 'in' })
    return id
  }
  unit(id: string, rig: string, model: string, settings: Params = {}, fields: Fields = {}): string {
    return this.add('unit', { id, rig, name: id, model, settings, ...fields })
  }
  /** Ends are a port's id or `unit:jack`. */
  cable(rig: string, from: string, to: string, fields: Fields = {}): string {
    const end = (text: string, side: 'from' | 'to') => {
      const [unit, jack] = text.split(':')
      return jack === undefined ? { [`${side}Port`]: text } : { [`${side}Unit`]: unit, [`${side}Jack`]: Number(jack) }
    }
    return this.add('cable', { id: this.nextId('w'), rig, ...end(from, 'from'), ...end(to, 'to'), ...fields })
  }
}
