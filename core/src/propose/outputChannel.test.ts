// A pair of ports as a channel: it carries what the ports did, sample for sample as loud, and gives it back.
import { describe, expect, it } from 'vitest'
import { applyEdit } from '../edits/apply'
import { mapLayout } from '../graph/mapLayout'
import { Network } from '../graph/network'
import { firstBreach } from '../invariants'
import { rows, type Session } from '../session/session'
import { Sketch } from '../testing/sketch'
import { difference, renderTaps, rmsDb, whiteNoise } from '../testing/sound'
import { makeOutputChannel, outputPlaces, pairName, removeOutputChannel } from './outputChannel'

const FRAMES = 4800
const STEMS = ['plucked', 'choir', 'wind']
/** Three stereo stems, two of which share a pair, and a mono one by itself; a DI that leaves dry. */
function start(): Sketch {
  const k = new Sketch()
  k.rig('r')
  k.session.session.session.rig = 'r'
  k.interface('io', 'r', 7, 4, { noiseDbfs: null, dcCornerHz: null })
  for (let i = 1; i <= 4; i++) k.cable('r', `io-out-${i}`, `io-in-${i}`)
  STEMS.forEach((id, i) => {
    k.medium(`m-${id}`, 2, FRAMES)
    k.bus(id, { role: 'stem', pan: 0.3, levelDb: -2 - i })
    k.main(k.track(`t-${id}`, `m-${id}`), id)
  })
  const out = (id: string, from: string, ports: string[], fields = {}) =>
    k.add('feed', { id, kind: 'port', from, ports, ...fields })
  out('p', 'plucked', ['io-out-1', 'io-out-2'], { levelDb: -3 })
  out('c', 'choir', ['io-out-1', 'io-out-2'], { pan: -0.5, tap: 'pre' })
  out('w', 'wind', ['io-out-3'])
  out('di', 't-wind', ['io-out-5'], { tap: 'input' })
  k.bus('main', { role: 'main', layout: ['L', 'R'] })
  k.add('feed', { id: 'back', kind: 'input', to: 'main', ports: ['io-in-1', 'io-in-2'] })
  k.add('feed', { id: 'back3', kind: 'input', to: 'main', ports: ['io-in-3'], levelDb: -6 })
  return k
}
const media = Object.fromEntries(
  STEMS.map((id, i) => [`m-${id}`, [whiteNoise(FRAMES, 7 + i, 0.1), whiteNoise(FRAMES, 17 + i, 0.1)]])
)
const main = async (session: Session) =>
  (await renderTaps(session, media, FRAMES, { taps: [{ channel: 'main', tap: 'post' }] })).get('main@post')!
let serial = 0
const newId = () => `new-${++serial}`
const made = (session: Session, ports: string[]) => {
  const edit = makeOutputChannel(session, ports, { channel: `output-${ports[0]}`, feed: newId }, 'zz')
  return edit && applyEdit(session, edit).session
}

describe('outputs as channels', () => {
  it('are named by what their ports have in common', () => {
    expect(pairName(['Loft out 3', 'Loft out 4'])).toBe('Loft out 3–4')
    expect(pairName(['Digital L', 'Digital R'])).toBe('Digital L–R')
    expect(pairName(['Left speaker', 'Sub'])).toBe('Left speaker, Sub')
    expect(pairName(['Line 7'])).toBe('Line 7')
  })
  it('are the pairs of a rig, with what goes there, and why one cannot become a channel', () => {
    const k = start()
    expect(
      outputPlaces(k.session, 'r').map(p => [p.name, p.feeds.map(f => f.from).join(), p.channel?.id, p.refused])
    ).toEqual([
      ['Out 1–2', 'choir,plucked', undefined, null],
      ['Out 3–4', '', undefined, null],
      ['Out 5–6', '', undefined, '“t-wind” leaves there dry'],
      ['Out 7', '', undefined, null]
    ])
    k.add('loop', { id: 'l', rig: 'r', name: 'Spring', outPorts: ['io-out-7'], inPorts: ['io-in-4'] })
    k.slot('plucked', 'loop', {}, { loop: 'l' })
    expect(outputPlaces(k.session, 'r')[3]!.refused).toBe('loop “Spring” holds it')
    expect(made(k.session, ['io-out-7'])).toBeNull()
    expect(made(k.session, ['io-out-2', 'io-out-3'])).toBeNull()
  })
  it('carry what their ports did, as loud, and nothing else leads there', async () => {
    const { session } = start()
    const after = made(session, ['io-out-1', 'io-out-2'])!
    expect(firstBreach(after)).toBeNull()
    const before = await main(session),
      now = await main(after)
    expect(rmsDb(before[0]!)).toBeGreaterThan(-40)
    for (const leg of [0, 1]) expect(rmsDb(difference(before[leg]!, now[leg]!))).toBeLessThan(-140)
    const [place] = outputPlaces(after, 'r')
    expect(place).toMatchObject({ channel: { id: 'output-io-out-1', role: 'output', name: 'Out 1–2' }, feeds: [] })
    expect(made(after, ['io-out-1', 'io-out-2'])).toBeNull()
    expect(
      rows(after, 'feed')
        .filter(f => f.kind === 'port' && f.ports.includes('io-out-1'))
        .map(f => f.from)
    ).toEqual(['output-io-out-1'])
  })
  it('have slots and a level of their own: what comes back follows', async () => {
    const after = made(start().session, ['io-out-1', 'io-out-2'])!
    const lowered = applyEdit(after, {
      verb: 'setChannels',
      args: { ids: ['output-io-out-1'], fields: { levelDb: -20, muted: false } }
    }).session
    const [a] = await main(after),
      [b] = await main(lowered)
    const share = await main({
      ...after,
      feed: { ...after.feed, back3: { ...after.feed.back3!, muted: true } }
    } as Session)
    const lower = await main({
      ...lowered,
      feed: { ...lowered.feed, back3: { ...lowered.feed.back3!, muted: true } }
    } as Session)
    expect(
      rmsDb(
        difference(
          lower[0]!,
          share[0]!.map(v => v / 10)
        )
      )
    ).toBeLessThan(-140)
    expect(rmsDb(difference(a!, b!))).toBeGreaterThan(-40)
  })
  it('give back what they took: plain ports sound as before', async () => {
    const { session } = start()
    const after = made(session, ['io-out-1', 'io-out-2'])!
    const back = applyEdit(after, removeOutputChannel(after, 'output-io-out-1', newId)).session
    expect(firstBreach(back)).toBeNull()
    const [a] = await main(session),
      [b] = await main(back)
    expect(rmsDb(difference(a!, b!))).toBeLessThan(-140)
    expect(
      outputPlaces(back, 'r')[0]!
        .feeds.map(f => f.from)
        .sort()
    ).toEqual(['choir', 'plucked'])
  })
  it('stand beside the main in the Map', () => {
    const after = made(start().session, ['io-out-1', 'io-out-2'])!
    const { columns } = mapLayout(new Network(after), { folded: new Set(), row: 32, gap: 3, lane: 8 })
    expect(columns.map(c => c.title)).toEqual(['Tracks', 'Stems', 'Main, outputs'])
  })
})
