import { describe, expect, it } from 'vitest'
import { applyEdit } from './apply'
import { Edges } from '../graph/edges'
import { Network } from '../graph/network'
import { fingerprint } from '../print/fingerprint'
import { stacksIn, takeNumber } from '../propose/stacks'
import { rows, takesOf, type Session } from '../session/session'
import { renderTaps } from '../testing/sound'
import { Sketch } from '../testing/sketch'

const FRAMES = 4096
const level = (value: number) => [new Float32Array(FRAMES).fill(value)]
const step = (s: Session, verb: string, args: object): Session => applyEdit(s, { verb, args }).session
/** Three tracks of one source, as they come from a recorder. */
function recorded(): { session: Session; audio: Record<string, Float32Array[]> } {
  const k = new Sketch('Takes')
  k.bus('main', { role: 'main' })
  const audio: Record<string, Float32Array[]> = {}
  ;[1, 2, 3].forEach(n => {
    audio[`m${n}`] = level(n / 10)
    k.medium(`m${n}`, 1, FRAMES, { sha256: `${n}` })
    k.track(`v${n}`, `m${n}`, { name: `Vox take ${n}`, layout: ['M'], trimDb: n === 3 ? -6 : 0 })
    k.main(`v${n}`, 'main')
  })
  k.session.session.session.heardChannel = 'v2'
  return { session: k.session, audio }
}
const take = (n: number) => ({ id: `take${n}`, name: `Take ${n}`, order: `a${n}` })
const stacked = (s: Session) =>
  step(s, 'stackTakes', {
    onto: 'v1',
    first: take(1),
    others: [
      { track: 'v2', take: take(2) },
      { track: 'v3', take: take(3) }
    ]
  })

describe('takes of one source', () => {
  it('are known by their names', () => {
    expect(
      ['Vox take 2', 'vox_tk02', 'Vox (Take 12)', 'Kora-T3', 'Take 4', 'Taket 4', 'Timp', 'Part 2'].map(takeNumber)
    ).toEqual([
      { name: 'Vox', number: 2 },
      { name: 'vox', number: 2 },
      { name: 'Vox', number: 12 },
      { name: 'Kora', number: 3 },
      null,
      null,
      null,
      null
    ])
    expect(stacksIn(recorded().session)).toEqual([
      { name: 'Vox', tracks: [1, 2, 3].map(number => ({ track: `v${number}`, number })) }
    ])
  })

  it('are offered only where nothing stands against it', () => {
    const { session } = recorded()
    const withSlot = step(session, 'addSlot', { id: 's', channel: 'v2', processor: 'gate', order: 'a' })
    expect(stacksIn(withSlot)).toEqual([])
    expect(() => stacked(withSlot)).toThrow('They cannot be takes of one track: “Vox take 2” has processors of its own')
    expect(
      stacksIn({ ...session, channel: { ...session.channel, v2: { ...session.channel.v2!, layout: ['L', 'R'] } } })
    ).toEqual([{ name: 'Vox', tracks: [1, 3].map(number => ({ track: `v${number}`, number })) }])
  })

  it('become takes of the first, which goes on being heard; what was heard of another is heard there', () => {
    const s = stacked(recorded().session)
    expect(
      rows(s, 'channel')
        .map(c => c.id)
        .sort()
    ).toEqual(['main', 'v1'])
    expect(takesOf(s, 'v1').map(t => t.name)).toEqual(['Take 1', 'Take 2', 'Take 3'])
    expect(s.channel.v1!.take).toBe('take1')
    expect(s.session.session!.heardChannel).toBe('v1')
    expect(new Network(s).clips.get('v1')!.map(c => c.medium)).toEqual(['m1'])
  })

  it('sound one at a time, at the level that their trims gave them', async () => {
    const { session, audio } = recorded()
    const heard = async (of: Session) =>
      (await renderTaps(of, audio, FRAMES, { taps: [{ channel: 'v1', tap: 'post' }] })).get('v1@post')![0]![100]
    let s = stacked(session)
    for (const [n, value] of [
      [1, 0.1],
      [2, 0.2],
      [3, 0.3 * 10 ** (-6 / 20)]
    ] as const) {
      s = step(s, 'hearTake', { channel: 'v1', take: `take${n}` })
      expect(await heard(s)).toBeCloseTo(value, 6)
    }
    s = step(s, 'hearTake', { channel: 'v1', take: null })
    expect(await heard(s)).toBe(0)
  })

  it('that is not heard counts in no fingerprint', () => {
    const s = stacked(recorded().session)
    const print = (of: Session) => fingerprint(of, 'main', 'post', { seed: 1, from: 0, frames: FRAMES }).hash
    expect(print(step(s, 'removeTakes', { ids: ['take3'] }))).toBe(print(s))
    expect(print(step(s, 'hearTake', { channel: 'v1', take: 'take2' }))).not.toBe(print(s))
  })

  it('where the one that is heard goes, the next is heard, and the last leaves nothing', () => {
    let s = step(stacked(recorded().session), 'hearTake', { channel: 'v1', take: 'take2' })
    s = step(s, 'removeTakes', { ids: ['take2'] })
    expect([s.channel.v1!.take, rows(s, 'clip').length]).toEqual(['take3', 2])
    s = step(s, 'removeTakes', { ids: ['take3'] })
    expect(s.channel.v1!.take).toBe('take1')
    s = step(s, 'removeTakes', { ids: ['take1'] })
    expect([s.channel.v1!.take, rows(s, 'clip').length, rows(s, 'take').length]).toEqual([null, 0, 0])
  })

  it('another track’s take is refused', () => {
    const { session } = recorded()
    const s = step(session, 'gatherTakes', { channel: 'v1', take: take(1) })
    expect(() => step(s, 'hearTake', { channel: 'v2', take: 'take1' })).toThrow(
      'The track “Vox take 2” names the take “Take 1”, which is none of “Vox take 2”'
    )
  })

  it('go along with a copy of their track, and with its end', () => {
    const s = step(stacked(recorded().session), 'duplicateChannels', {
      copies: [{ of: 'v1', id: 'copy', name: 'Copy', order: 'z' }],
      along: ['clips', 'main']
    })
    expect(takesOf(s, 'copy').map(t => t.name)).toEqual(['Take 1', 'Take 2', 'Take 3'])
    expect(new Network(s).clips.get('copy')!.map(c => c.medium)).toEqual(['m1'])
    const gone = step(s, 'removeChannels', { ids: ['v1'] })
    expect(rows(gone, 'take').every(t => t.channel === 'copy')).toBe(true)
  })
})

describe('a print in a take that is not heard', () => {
  const printed = (heard: string) => {
    const { session } = recorded()
    const s = stacked(session)
    const bus = step(s, 'createBus', { id: 'b', name: 'B', role: 'submix', order: 'b', to: 'main', feedId: 'fb' })
    return step(
      step(bus, 'addRows', {
        label: 'print',
        rows: [
          {
            table: 'print',
            row: {
              id: 'p',
              channel: 'v1',
              source: 'b',
              tap: 'post',
              clip: rows(s, 'clip').find(c => c.take === 'take2')!.id,
              takesOver: true
            }
          }
        ]
      }),
      'hearTake',
      { channel: 'v1', take: heard }
    )
  }
  it('stands in nobody’s place; in the one that is heard it does', () => {
    const closed = (s: Session) => new Edges(s).outOf.get('post|b')!.map(e => `${e.by.table} ${e.closed}`)
    expect(closed(printed('take1')).sort()).toEqual(['feed null', 'print otherTake'])
    expect(closed(printed('take2')).sort()).toEqual(['feed printStands', 'print notListening'])
  })
  it('still makes a circle of what would feed its source', () => {
    expect(() => step(printed('take1'), 'addMainFeed', { ids: ['v1'], to: 'b', feedIds: ['x'] })).toThrow('circle')
  })
  it('goes with its take, and the track goes on', () => {
    const s = step(printed('take2'), 'removeTakes', { ids: ['take2'] })
    expect(rows(s, 'print')).toEqual([])
    expect(s.channel.v1!.take).toBe('take3')
  })

  it('stays as it is heard where its source is removed: what fed that bus is not heard beside it', async () => {
    const k = new Sketch('Kept')
    k.bus('main', { role: 'main' })
    k.bus('b', { name: 'Voices' })
    for (const id of ['m', 'pm']) k.medium(id, 1, FRAMES)
    k.track('a', 'm', { layout: ['M'] })
    k.main('a', 'b')
    k.main('b', 'main')
    k.track('kept', 'pm', { layout: ['M'] })
    k.main('kept', 'main')
    k.add('print', {
      id: 'p',
      channel: 'kept',
      source: 'b',
      tap: 'post',
      clip: 'kept-clip',
      takesOver: true,
      verified: 'identical'
    })
    const audio = { m: level(0.25), pm: level(0.25) }
    const main = async (s: Session) =>
      (await renderTaps(s, audio, FRAMES, { taps: [{ channel: 'main', tap: 'post' }] })).get('main@post')!
    const removed = step(k.session, 'removeChannels', { ids: ['b'] })
    expect(removed.print.p).toMatchObject({
      source: null,
      sourceName: 'Voices',
      takesOver: false,
      verified: 'identical'
    })
    expect(rows(removed, 'feed').filter(f => f.from === 'a')).toEqual([])
    expect(await main(removed)).toEqual(await main(k.session))
    // Where the print is parked, the bus itself was heard: what fed it goes on.
    const parked = step(step(k.session, 'setChannels', { ids: ['kept'], fields: { parked: true } }), 'removeChannels', {
      ids: ['b']
    })
    expect(
      rows(parked, 'feed')
        .filter(f => f.from === 'a')
        .map(f => f.to)
    ).toEqual(['main'])
  })
})
