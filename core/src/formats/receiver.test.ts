// The session for a receiver: sounds as it did where prints are heard, without the room; what it lacks is named.
import { describe, expect, it } from 'vitest'
import { applyEdit } from '../edits/apply'
import { firstBreach } from '../invariants'
import { MemoryMedia } from '../run/memoryMedia'
import { Sketch } from '../testing/sketch'
import { renderTaps, whiteNoise } from '../testing/sound'
import { rows, type Session } from '../session/session'
import { receiverSession } from './receiver'

const FRAMES = 16000
const media: Record<string, Float32Array[]> = {
  a: [whiteNoise(FRAMES, 1, 0.2)],
  b: [whiteNoise(FRAMES, 2, 0.2)],
  printed: [whiteNoise(FRAMES, 3, 0.1), whiteNoise(FRAMES, 4, 0.1)]
}

/** A bus through an amplifier, printed; a lute with a processor that nobody has; a voice that keys the bus. */
function session(): Sketch {
  const k = new Sketch()
  for (const [id, legs] of Object.entries(media)) k.medium(id, legs.length, FRAMES)
  k.bus('main', { role: 'main', name: 'Main' })
  k.bus('strings', { name: 'Strings' })
  k.bus('hall', { role: 'return', name: 'Hall' })
  for (const id of ['strings', 'hall']) k.main(id, 'main')
  k.main(k.track('kora', 'a', { name: 'Kora' }), 'strings')
  k.main(k.track('lute', 'b', { name: 'Lute' }), 'strings')
  k.send('lute', 'hall', -12)
  k.slot('hall', 'reverb', { decayS: 0.3 })
  k.slot('lute', 'granular cloud', { grain: 4 })
  k.rig('loft')
  k.interface('desk', 'loft', 2, 2)
  k.unit('amp', 'loft', 'tube-amplifier')
  k.cable('loft', 'desk-out-1', 'amp:0')
  k.cable('loft', 'amp:0', 'desk-in-1')
  k.add('loop', { id: 'l', rig: 'loft', name: 'Amp', outPorts: ['desk-out-1'], inPorts: ['desk-in-1'] })
  k.slot('strings', 'loop', {}, { loop: 'l' })
  k.session.session.session = { ...k.session.session.session!, rig: 'loft', heardChannel: 'main' }
  return k
}
function printed(): Sketch {
  const k = session()
  k.main(k.track('kept', 'printed', { name: 'Strings print', layout: ['L', 'R'] }), 'main')
  const clip = rows(k.session, 'clip').find(c => c.channel === 'kept')!.id
  k.add('print', { id: 'p', channel: 'kept', source: 'strings', tap: 'post', clip, takesOver: true, frames: FRAMES })
  return k
}
const mainOf = async (s: Session) => {
  const memory = new MemoryMedia()
  for (const [id, legs] of Object.entries(media)) memory.set(id, legs)
  return (await renderTaps(s, media, FRAMES, { taps: [{ channel: 'main', tap: 'post' }] })).get('main@post')!
}

describe('a session for a receiver', () => {
  it('sounds as the session does, with the room left out', async () => {
    const { session: s } = printed()
    for (const form of ['beside', 'instead'] as const) {
      const made = receiverSession(s, form)
      expect(firstBreach(made.session)).toBeNull()
      expect(made.heard).toEqual(['kept'])
      expect(await mainOf(made.session)).toEqual(await mainOf(s))
    }
    const { session: given } = receiverSession(s, 'instead')
    expect([given.rig, given.port, given.unit, given.loop].map(t => Object.keys(t).length)).toEqual([0, 0, 0, 0])
    expect(Object.keys(given.channel).sort()).toEqual(['hall', 'kept', 'lute', 'main'])
    expect(given.print.p).toMatchObject({ source: null, sourceName: 'Strings' })
  })

  it('keeps what is heard elsewhere too: a send, a key', () => {
    const k = printed()
    k.key('kora', k.slot('main', 'compressor'))
    const made = receiverSession(k.session, 'beside')
    const parked = rows(made.session, 'channel').filter(c => c.parked)
    expect(parked.map(c => c.id).sort()).toEqual(['strings'])
  })

  it('parks beside, with all that came with it still there', () => {
    const made = receiverSession(printed().session, 'beside')
    expect(made.session.channel.strings).toMatchObject({ parked: true })
    expect(made.session.channel.kora).toMatchObject({ parked: true })
    expect(made.session.channel.lute).toMatchObject({ parked: false })
    expect(Object.keys(made.session.unit)).toEqual(['amp'])
  })

  it('names what only the room, or a processor that is not here, could play', () => {
    const { lacks } = receiverSession(session().session, 'instead')
    expect(lacks.map(l => l.text).sort()).toEqual([
      '“Lute” holds “granular cloud”, which is not here',
      '“Strings” goes through “Amp”'
    ])
    expect(receiverSession(printed().session, 'instead').lacks.map(l => l.channel)).toEqual(['lute'])
  })

  it('leaves the session that is given as it is', () => {
    const { session: s } = printed()
    const before = structuredClone(s)
    receiverSession(s, 'instead')
    expect(s).toEqual(before)
    const undone = applyEdit(s, { verb: 'setChannels', args: { ids: ['kora'], fields: { levelDb: -3 } } })
    expect(undone.session.channel.kora!.levelDb).toBe(-3)
  })

  it('names every loop, stranger and input that is heard there, and none that is not', () => {
    const k = session()
    k.add('feed', { id: 'i1', kind: 'input', to: 'hall', ports: ['desk-in-1', 'desk-in-2'] })
    k.add('feed', { id: 'i2', kind: 'input', to: 'main', ports: ['desk-in-2'], muted: true })
    k.add('feed', { id: 'i3', kind: 'input', to: 'kora', ports: ['desk-in-2'] })
    k.slot('hall', 'shimmer', {}, { state: 'bypassed' })
    k.slot('main', 'equaliser')
    k.session.channel.kora!.parked = true
    expect(receiverSession(k.session, 'beside').lacks).toEqual([
      { channel: 'lute', text: '“Lute” holds “granular cloud”, which is not here' },
      { channel: 'strings', text: '“Strings” goes through “Amp”' },
      { channel: 'hall', text: '“Hall” listens to In 1 and In 2' }
    ])
    const instead = receiverSession(k.session, 'instead').session
    expect(rows(instead, 'feed').filter(f => f.kind === 'port' || f.kind === 'input')).toEqual([])
    expect(rows(instead, 'slot').filter(s => s.processor === 'loop')).toEqual([])
    expect(instead.channel.kora).toBeUndefined()
    expect(instead.channel.lute).toBeDefined()
  })

  it('hears prints that take over, and no others', () => {
    const heard = (fields: object) => {
      const k = printed()
      Object.assign(k.session.channel.kept!, { listen: 'feed', parked: true })
      Object.assign(k.session.print.p!, fields)
      const made = receiverSession(k.session, 'beside')
      return { heard: made.heard, kept: made.session.channel.kept, same: made.session === k.session }
    }
    expect(heard({})).toMatchObject({ heard: ['kept'], kept: { listen: 'print', parked: false }, same: false })
    expect(heard({ takesOver: false })).toMatchObject({ heard: [], kept: { listen: 'feed', parked: true }, same: true })
    expect(heard({ source: null })).toMatchObject({ heard: [], same: true })
  })
})
