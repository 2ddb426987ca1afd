// A template as it is taken from a session and read from text. `propose/layTemplate.ts` lays it over another one.
import { explain } from '../foundation/explain'
import { Refusal } from '../foundation/refusal'
import type { TableName } from '../session/rows'
import { byId, byOrder, rows, settings, type Session } from '../session/session'
import { TEMPLATE_VERSION, TemplateDocument, type Pattern } from '../session/templateDocument'

export function takeTemplate(session: Session, name: string): TemplateDocument {
  const buses = new Set(
    rows(session, 'channel')
      .filter(c => c.kind === 'bus')
      .map(c => c.id)
  )
  const slots = rows(session, 'slot').filter(s => buses.has(s.channel))
  const kept = new Set(slots.map(s => s.id))
  const feeds = rows(session, 'feed').filter(
    f =>
      (f.from === null || buses.has(f.from)) &&
      (f.to === null || buses.has(f.to)) &&
      (f.slot === null || kept.has(f.slot))
  )
  const all = (table: TableName) => rows(session, table).sort(byId)
  const tracks = rows(session, 'channel')
    .filter(c => c.kind === 'track')
    .sort(byOrder)
    .map((c): Pattern => {
      const leaving = rows(session, 'feed')
        .filter(f => f.from === c.id)
        .sort(byId)
      return {
        name: c.name,
        family: c.family,
        colour: c.colour,
        mains: leaving.filter(f => f.kind === 'main').map(f => f.to),
        sends: leaving
          .filter(f => f.kind === 'send')
          .map(f => ({ to: f.to, tap: f.tap, levelDb: f.levelDb, pan: f.pan })),
        keys: leaving
          .filter(f => f.kind === 'key')
          .filter(f => kept.has(f.slot))
          .map(f => ({ slot: f.slot, tap: f.tap, levelDb: f.levelDb }))
      }
    })
  return TemplateDocument.parse({
    nulletTemplate: TEMPLATE_VERSION,
    name,
    sampleRate: settings(session).sampleRate,
    families: settings(session).families,
    tracks,
    rows: {
      rig: all('rig'),
      interface: all('interface'),
      port: all('port'),
      // What players play, and what is compared with what, stays where the audio is.
      unit: rows(session, 'unit')
        .sort(byId)
        .map(u => ({ ...u, plays: null })),
      cable: all('cable'),
      loop: all('loop'),
      channel: rows(session, 'channel')
        .filter(c => buses.has(c.id))
        .sort(byId)
        .map(c => ({ ...c, soloed: false, reference: null })),
      slot: slots.sort(byId),
      feed: feeds.sort(byId)
    }
  })
}

/** @throws Refusal that says what is wrong with the file */
export function readTemplate(text: string): TemplateDocument {
  let json: unknown
  try {
    json = JSON.parse(text)
  } catch {
    throw new Refusal('badArguments', 'This is not a template: it is not JSON')
  }
  const parsed = TemplateDocument.safeParse(json)
  if (!parsed.success) throw new Refusal('badArguments', `This template cannot be read: ${explain(parsed.error)}`)
  const { channel, slot, feed } = parsed.data.rows
  const ids = { channel: new Set(channel.map(c => c.id)), slot: new Set(slot.map(s => s.id)) }
  const loose = feed.find(
    f => (f.from && !ids.channel.has(f.from)) || (f.to && !ids.channel.has(f.to)) || (f.slot && !ids.slot.has(f.slot))
  )
  if (loose)
    throw new Refusal(
      'badArguments',
      `This template cannot be read: its feed “${loose.id}” names something that is not in it`
    )
  return parsed.data
}
