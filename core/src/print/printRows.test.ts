// What a finished print brings along from its source, by the tap it was taken from.
import { describe, expect, it } from 'vitest'
import { applyEdit } from '../edits/apply'
import { makeRow, rows, slotsOf, type Session } from '../session/session'
import { Sketch } from '../testing/sketch'
import { printRows, PrintArgs, type MadePrint } from './printRows'

function source(): Session {
  const k = new Sketch()
  k.bus('main', { role: 'main' })
  k.bus('hall', { role: 'return' })
  k.main('hall', 'main')
  k.track('kora', undefined, { levelDb: -3, pan: -0.4, family: 'Plucked', colour: 2 })
  k.track('trigger')
  k.main('kora', 'main')
  k.send('kora', 'hall', -12)
  k.send('kora', 'hall', -20, 'pre')
  k.key('trigger', k.slot('kora', 'compressor'))
  k.slot('kora', 'equaliser', {}, { afterFader: true })
  k.rig('r')
  k.interface('io', 'r', 2, 2)
  k.add('loop', { id: 'amp', rig: 'r', name: 'Amp', outPorts: ['io-out-1'], inPorts: ['io-in-1'] })
  k.add('slot', { id: 'amp-slot', channel: 'kora', processor: 'loop', loop: 'amp' })
  return k.session
}
const made: MadePrint = {
  layout: ['M'],
  sha256: 'x',
  frames: 100,
  sampleRate: 48000,
  peakDb: -6,
  loudnessLufs: -20,
  fingerprint: 'f',
  parts: {},
  seed: 1,
  startFrame: 0,
  latencySamples: 31,
  residualDb: null,
  verified: 'identical',
  notes: [],
  faults: [],
  printedAt: ''
}

const printed = (tap: string, takesOver = true) => print(source(), tap, takesOver)
function print(session: Session, tap: string, takesOver = true): Session {
  const [item] = PrintArgs.parse({
    seed: 1,
    items: [
      { source: 'kora', tap, print: 'p', track: 't', clip: 'c', medium: 'm', name: 'Kora amp', order: 'zz', takesOver }
    ]
  }).items
  return applyEdit(session, { verb: 'addRows', args: { label: 'print', rows: printRows(session, item, made) } }).session
}
const feeds = (s: Session) =>
  rows(s, 'feed')
    .filter(f => f.from === 't')
    .map(f => `${f.kind} ${f.tap} ${f.levelDb} ${f.pan}`)
    .sort()

describe('a print', () => {
  it('from the post-fader tap stands at unity, placed as its source was', () => {
    const s = printed('post')
    expect(s.channel.t).toMatchObject({ levelDb: 0, pan: 0, family: 'Plucked', colour: 2, kind: 'track' })
    expect(feeds(s)).toEqual(['main post 0 -0.4', 'send post -12 -0.4'])
    expect(slotsOf(s, 't')).toEqual([])
  })

  it('from the pre-fader tap gets fader, placement, earlier sends and what comes after the fader', () => {
    const s = printed('pre')
    expect(s.channel.t).toMatchObject({ levelDb: -3, pan: -0.4 })
    expect(feeds(s)).toEqual(['main post 0 null', 'send post -12 null', 'send pre -20 null'])
    expect(slotsOf(s, 't').map(x => x.processor)).toEqual(['equaliser'])
  })

  it('from the input tap gets every slot and its keys, but not the loop: that is in one place at a time', () => {
    const s = printed('input')
    expect(
      slotsOf(s, 't')
        .map(x => x.processor)
        .sort()
    ).toEqual(['compressor', 'equaliser'])
    const copied = slotsOf(s, 't').find(x => x.processor === 'compressor')!
    expect(
      rows(s, 'feed')
        .filter(f => f.kind === 'key')
        .map(f => f.slot)
    ).toContain(copied.id)
  })

  it('that stands by itself is heard by nobody yet', () => {
    expect(feeds(printed('post', false))).toEqual([])
  })

  describe('of a source that envelopes move', () => {
    function moved(tap: string): string[] {
      const session = source()
      const k = { add: (id: string, fields: object) => (session.envelope[id] = makeRow('envelope', { id, ...fields })) }
      const own = rows(session, 'feed').filter(f => f.from === 'kora')
      const send = own.find(f => f.tap === 'post' && f.kind === 'send')!,
        early = own.find(f => f.tap === 'pre')!
      session.feed[early.id] = { ...early, pan: 0.7 }
      k.add('turn', { channel: 'kora', field: 'pan', points: [[0, 0.5]] })
      k.add('ride', { channel: 'kora', field: 'levelDb', points: [[0, -4]] })
      k.add('own', { feed: send.id, field: 'pan', points: [[0, -1]] })
      k.add('swell', { feed: send.id, field: 'levelDb', points: [[0, -9]] })
      const squeeze = slotsOf(session, 'kora').find(x => x.processor === 'compressor')!
      k.add('squeeze', { slot: squeeze.id, field: 'thresholdDb', points: [[0, -20]] })
      const before = new Set(Object.keys(session.envelope))
      const s = print(session, tap)
      const feedWords = (id: string | null) => id && `${s.feed[id]!.kind} ${s.feed[id]!.tap}`
      return rows(s, 'envelope')
        .filter(e => !before.has(e.id))
        .map(e => `${e.channel ?? feedWords(e.feed) ?? s.slot[e.slot!]!.processor} ${e.field} ${e.points[0]![1]}`)
        .sort()
    }

    it('takes the channel’s along before the fader', () => {
      expect(moved('pre')).toEqual(['send post levelDb -9', 'send post pan -1', 't levelDb -4', 't pan 0.5'])
    })
    it('takes those of its slots along from the input', () => {
      expect(moved('input')).toContain('compressor thresholdDb -20')
    })
    it('has the ride in its sound after the fader; the pan goes on in the feeds that had it from the channel', () => {
      expect(moved('post')).toEqual(['main post pan 0.5', 'send post levelDb -9', 'send post pan -1'])
    })
  })

  it('is undone as one', () => {
    const before = source()
    const after = printed('pre')
    expect(rows(after, 'channel').length).toBe(rows(before, 'channel').length + 1)
    expect(after.print.p).toMatchObject({
      channel: 't',
      source: 'kora',
      tap: 'pre',
      verified: 'identical',
      latencySamples: 31
    })
  })
})
