// Pairs: found by their names, joined and split as edits that change nothing that is heard.
import { describe, expect, it } from 'vitest'
import { applyEdit } from '../edits/apply'
import { inverse, rows, withChanges, type Session } from '../session/session'
import { Sketch } from '../testing/sketch'
import { renderTaps, whiteNoise } from '../testing/sound'
import { pairsIn, sideOf } from './pairs'

const FRAMES = 4000
const SOUND = [whiteNoise(FRAMES, 1), whiteNoise(FRAMES - 900, 2), whiteNoise(FRAMES, 3)]

type Media = Record<string, Float32Array[]>
function mono(names: string[]): { session: Session; media: Media } {
  const k = new Sketch(),
    media: Media = {}
  k.bus('main', { role: 'main' })
  k.bus('other', {})
  names.forEach((name, i) => {
    const sound = SOUND[i % 3]!
    media[`m${i}`] = [sound]
    k.medium(`m${i}`, 1, sound.length)
    k.main(k.track(`t${i}`, `m${i}`, { name, pan: /r$/i.test(name) ? 1 : -1 }), 'main')
  })
  return { session: k.session, media }
}
const main = async (session: Session, media: Media): Promise<Float32Array[]> =>
  (await renderTaps(session, media, FRAMES, { taps: [{ channel: 'main', tap: 'post' }] })).get('main@post')!

describe('the side of a name', () => {
  it.each([
    ['Pad.L', 'Pad', true],
    ['OH R', 'OH', false],
    ['Room_1-L', 'Room_1', true],
    ['OHL', 'OH', true],
    ['Gtr1R', 'Gtr1', false],
    ['GtrLeft', 'Gtr', true],
    ['L Choir', 'Choir', true],
    ['Choir (R) close', 'Choir close', false],
    ['dulcimer_l_02', 'dulcimer_02', true],
    ['Piano Rt', 'Piano', false]
  ])('%s', (name, rest, left) => {
    expect(sideOf(name)).toMatchObject({ name: rest, left })
  })
  it.each(['Lead', 'Kick', 'Vox', 'Rain', 'LFO', 'BELL', 'Violin 1', ''])('%s has none', name => {
    expect(sideOf(name)).toBeNull()
  })
})

describe('pairs', () => {
  const found = (names: string[]) => pairsIn(mono(names).session).map(p => [p.left, p.right, p.name])

  it('are two tracks of one name but for the side, whichever comes first', () => {
    expect(found(['OH L', 'Kick', 'OH R', 'Pad.R', 'Pad.L', 'Lead L'])).toEqual([
      ['t0', 't2', 'OH'],
      ['t4', 't3', 'Pad']
    ])
    expect(found(['OH L', 'OH.R'])).toEqual([])
    expect(found(['OH L', 'OH Right'])).toEqual([])
    expect(found(['OH L', 'OH L', 'OH R', 'OH R'])).toEqual([
      ['t0', 't2', 'OH'],
      ['t1', 't3', 'OH']
    ])
  })

  it('are none where the right one has something of its own, or goes elsewhere', () => {
    const processed = mono(['OH L', 'OH R']).session
    processed.slot.s = applyEdit(processed, {
      verb: 'addSlot',
      args: { id: 's', channel: 't1', processor: 'equaliser', order: 'a' }
    }).session.slot.s!
    expect(pairsIn(processed)).toEqual([])
    const { session } = mono(['OH L', 'OH R'])
    const elsewhere = applyEdit(session, { verb: 'setMainFeed', args: { ids: ['t1'], to: 'other', feedIds: ['n'] } })
    expect(pairsIn(elsewhere.session)).toEqual([])
    expect(() =>
      applyEdit(elsewhere.session, { verb: 'joinTracks', args: { pairs: [{ left: 't0', right: 't1', name: 'OH' }] } })
    ).toThrow(/different places/)
  })

  it('say how long both are', () => {
    expect(pairsIn(mono(['OH L', 'OH R']).session)[0]!.frames).toEqual([FRAMES, FRAMES - 900])
  })

  it('joined and split again sound the same to the bit, and each is one step back', async () => {
    const { session, media } = mono(['OH L', 'OH R', 'Kick'])
    const level = applyEdit(session, {
      verb: 'setChannels',
      args: { ids: ['t1'], fields: { flippedLegs: [0] } }
    }).session
    const before = await main(level, media)
    const joined = applyEdit(level, { verb: 'joinTracks', args: { pairs: [{ left: 't0', right: 't1', name: 'OH' }] } })
    expect(joined.label).toBe('Stereo track “OH”')
    expect(joined.session.channel.t0).toMatchObject({ name: 'OH', layout: ['L', 'R'], pan: 0, flippedLegs: [1] })
    expect(joined.session.channel.t1).toBeUndefined()
    expect(await main(joined.session, media)).toEqual(before)
    const split = applyEdit(joined.session, {
      verb: 'splitTracks',
      args: { tracks: [{ id: 't0', others: [{ id: 'x', order: 'a1' }] }] }
    })
    expect(split.session.channel.x).toMatchObject({ name: 'OH R', layout: ['M'], pan: 1, flippedLegs: [0] })
    expect(rows(split.session, 'clip').filter(c => c.channel === 't0')).toHaveLength(1)
    expect(await main(split.session, media)).toEqual(before)
    expect(withChanges(split.session, inverse(split.changes))).toEqual(joined.session)
    expect(withChanges(joined.session, inverse(joined.changes))).toEqual(level)
  })

  it('keep the difference of their faders as the gain of the right clip', async () => {
    const { session, media } = mono(['OH L', 'OH R'])
    const set = (id: string, levelDb: number | null) => (s: Session) =>
      applyEdit(s, { verb: 'setChannels', args: { ids: [id], fields: { levelDb } } }).session
    const uneven = set('t1', -9)(set('t0', -3)(session))
    const joined = applyEdit(uneven, { verb: 'joinTracks', args: { pairs: [{ left: 't0', right: 't1', name: 'OH' }] } })
    expect(rows(joined.session, 'clip').find(c => c.medium === 'm1')!.gainDb).toBe(-6)
    const [was, is] = [await main(uneven, media), await main(joined.session, media)]
    expect(was.every((leg, i) => leg.every((x, n) => Math.abs(x - is[i]![n]!) < 1e-6))).toBe(true)
  })

  it('of a file of many legs: each leg as a mono track, as it was placed', async () => {
    const k = new Sketch()
    k.bus('main', { role: 'main' })
    k.medium('m', 2, FRAMES)
    k.main(k.track('t', 'm', { name: 'Pad' }), 'main')
    k.bus('hall', { role: 'return' })
    k.send('t', 'hall', -6)
    k.main('hall', 'main')
    const media = { m: [SOUND[0]!, SOUND[2]!] }
    const before = await main(k.session, media)
    const args = { tracks: [{ id: 't', others: [{ id: 'r', order: 'a1' }] }] }
    const split = applyEdit(k.session, { verb: 'splitTracks', args })
    expect(await main(split.session, media)).toEqual(before)
    expect(pairsIn(split.session)).toEqual([])
    expect(() => applyEdit(split.session, { verb: 'splitTracks', args })).toThrow(/“Pad L” cannot be split: it is mono/)
    const withSlot = applyEdit(k.session, {
      verb: 'addSlot',
      args: { id: 's', channel: 't', processor: 'width', order: 'a' }
    }).session
    expect(() => applyEdit(withSlot, { verb: 'splitTracks', args })).toThrow(/it has processors/)
  })
})
