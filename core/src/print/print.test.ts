import { describe, expect, it } from 'vitest'
import { difference, peak, renderTaps, rmsDb, whiteNoise } from '../testing/sound'
import { MemoryMedia } from '../run/memoryMedia'
import { applyEdit } from '../edits/apply'
import type { Session } from '../session/session'
import { Sketch } from '../testing/sketch'
import { fingerprint } from './fingerprint'
import { changedParts, staleParts } from './stale'
import { tracksOf, whatBreaksTheSum } from './stems'
import { Network } from '../graph/network'
import { verify } from './verify'

const FRAMES = 20000
const media = {
  a: [whiteNoise(FRAMES, 1, 0.2)],
  b: [whiteNoise(FRAMES, 2, 0.2)],
  c: [whiteNoise(FRAMES, 3, 0.2), whiteNoise(FRAMES, 4, 0.2)]
}

function network(): Sketch {
  const k = new Sketch()
  k.medium('a', 1, FRAMES)
  k.medium('b', 1, FRAMES)
  k.medium('c', 2, FRAMES)
  k.bus('main', { role: 'main' })
  k.bus('one', { role: 'stem' })
  k.bus('two', { role: 'stem' })
  k.bus('hall', { role: 'return', levelDb: -6 })
  for (const id of ['one', 'two', 'hall']) k.main(id, 'main')
  k.main(k.track('ta', 'a', { pan: -0.5 }), 'one')
  k.main(k.track('tb', 'b'), 'one')
  k.main(k.track('tc', 'c', { levelDb: -4 }), 'two')
  k.slot('hall', 'reverb', { decayS: 0.5 })
  k.slot('one', 'compressor', { thresholdDb: -30 })
  k.send('ta', 'hall', -8)
  k.send('tc', 'hall', -6, 'pre')
  k.send('one', 'hall', -12)
  return k
}

const post = [{ channel: 'main', tap: 'post' as const }]
const mainOf = async (session: Session, only?: Set<string>) =>
  (await renderTaps(session, media, FRAMES, { taps: post, only })).get('main@post')!

describe('contribution stems', () => {
  async function residual(k: Sketch) {
    const net = new Network(k.session)
    const mix = await mainOf(k.session)
    const stems = [await mainOf(k.session, tracksOf(net, 'one')), await mainOf(k.session, tracksOf(net, 'two'))]
    return Math.max(
      ...mix.map((leg, i) =>
        rmsDb(
          difference(
            leg,
            stems[0][i].map((x, n) => x + stems[1][i][n])
          )
        )
      )
    )
  }

  it('of a network that is linear after them sum to the mix within −120 dBFS, shared return and all', async () => {
    const k = network()
    expect(await residual(k)).toBeLessThan(-120)
    expect(whatBreaksTheSum(k.session, 'main', ['one', 'two'])).toEqual([])
  })

  it('do not with a compressor on the main, and it is named', async () => {
    const k = network()
    k.slot('main', 'compressor', { thresholdDb: -40, ratio: 8 })
    expect(await residual(k)).toBeGreaterThan(-60)
    expect(whatBreaksTheSum(k.session, 'main', ['one', 'two'])).toMatchObject([
      { kind: 'nonlinear', reason: 'Compressor on “main” reacts to the sum of several stems' }
    ])
  })

  it('what several stems share is named by its kind; what is off, parked, linear or leads elsewhere is not', () => {
    const k = network()
    const broken = () => whatBreaksTheSum(k.session, 'main', ['one', 'two']).map(c => `${c.kind} ${c.about}`)
    k.slot('main', 'compressor', {}, { id: 'still', state: 'off' })
    k.slot('main', 'compressor', {}, { id: 'round', state: 'bypassed' })
    k.slot('main', 'equaliser', { kind1: 'bell', db1: 3 })
    k.bus('aside')
    k.send('one', 'aside', 0)
    k.send('two', 'aside', 0)
    k.slot('aside', 'saturation')
    k.bus('away', { parked: true })
    for (const from of ['one', 'two']) k.send(from, 'away', 0)
    k.main('away', 'main')
    k.slot('away', 'saturation')
    expect(broken()).toEqual([])
    k.rig('r')
    k.interface('io', 'r', 1, 1)
    k.add('loop', { id: 'l', rig: 'r', name: 'L', outPorts: ['io-out-1'], inPorts: ['io-in-1'] })
    k.add('slot', { id: 'through', channel: 'main', processor: 'loop', loop: 'l' })
    k.key('ta', k.slot('main', 'compressor', {}, { id: 'ducked' }))
    k.slot('hall', 'saturation', {}, { id: 'warm' })
    expect(broken().sort()).toEqual(['keyed ducked', 'loop through', 'nonlinear warm'])
  })

  it('belong to tracks by main feeds alone: a send into a stem does not make a track its own', () => {
    const k = network()
    k.send('tc', 'one', -6)
    const net = new Network(k.session)
    expect([...tracksOf(net, 'one')].sort()).toEqual(['ta', 'tb'])
    expect([...tracksOf(net, 'ta')]).toEqual(['ta'])
    expect([...tracksOf(net, 'nobody')]).toEqual([])
  })

  it('tracks outside every stem, or in two, are named', () => {
    const k = network()
    k.main(k.track('loose', 'a'), 'main')
    k.main('tb', 'two')
    expect(whatBreaksTheSum(k.session, 'main', ['one', 'two']).map(c => `${c.kind} ${c.about}`)).toEqual(
      expect.arrayContaining(['doubled tb', 'unrouted loose'])
    )
  })
})

describe('fingerprints', () => {
  const of = (s: Session, source = 'one') => fingerprint(s, source, 'post', { seed: 1, from: 0, frames: 100 })
  const base = () => network().session
  const edited = (verb: string, args: unknown) => applyEdit(base(), { verb, args }).session

  it.each([
    ['a level upstream', 'setChannels', { ids: ['ta'], fields: { levelDb: -1 } }, true],
    ['its own slot', 'setSlot', { id: Object.keys(base().slot)[1], fields: { params: { ratio: 9 } } }, true],
    ['a mute upstream', 'setChannels', { ids: ['tb'], fields: { muted: true } }, true],
    ['a name', 'setChannels', { ids: ['ta'], fields: { name: 'Else' } }, false],
    ['a colour', 'setChannels', { ids: ['one'], fields: { colour: 5 } }, false],
    ['solo', 'setChannels', { ids: ['tc'], fields: { soloed: true } }, false],
    ['a level downstream', 'setChannels', { ids: ['main'], fields: { levelDb: -9 } }, false],
    ['another branch', 'setChannels', { ids: ['tc'], fields: { levelDb: -9 } }, false],
    ['what is heard', 'setSession', { heardChannel: 'two' }, false]
  ])('%s', (_, verb, args, changes) => {
    expect(of(edited(verb, args)).hash !== of(base()).hash).toBe(changes)
  })

  it('say which row changed', () => {
    const now = edited('setChannels', { ids: ['ta'], fields: { levelDb: -1 } })
    expect(changedParts(of(base()).parts, of(now).parts)).toEqual(['fader ta'])
  })

  it('reach through a return into what feeds it, and through a key into its trigger', () => {
    const k = network()
    k.key(k.track('trigger', 'a'), Object.keys(k.session.slot)[1])
    const before = of(k.session)
    expect(
      of(applyEdit(k.session, { verb: 'setChannels', args: { ids: ['trigger'], fields: { trimDb: 3 } } }).session).hash
    ).not.toBe(before.hash)
    expect(
      of(applyEdit(k.session, { verb: 'setChannels', args: { ids: ['trigger'], fields: { levelDb: -30 } } }).session)
        .hash
    ).toBe(before.hash)
    expect(of(base(), 'hall').parts).toHaveProperty(['clip tc-clip'])
  })
})

describe('a print', () => {
  /** Prints a bus onto a new track that takes over. */
  async function printed(tap: 'post' | 'pre' = 'post') {
    const k = network()
    const audio = (await renderTaps(k.session, media, FRAMES, { taps: [{ channel: 'one', tap }] })).get(`one@${tap}`)!
    const { parts, hash } = fingerprint(k.session, 'one', tap, { seed: 1, from: 0, frames: FRAMES })
    k.medium('p', 2, FRAMES)
    k.track('print', 'p', { layout: ['L', 'R'] })
    k.add('print', {
      id: 'print-row',
      channel: 'print',
      source: 'one',
      tap,
      takesOver: true,
      fingerprint: hash,
      parts,
      seed: 1,
      frames: FRAMES
    })
    k.main('print', 'main')
    k.send('print', 'hall', -12)
    return { k, audio }
  }

  it('takes over: the mix is the same, and nothing is heard twice', async () => {
    const { k, audio } = await printed()
    const before = await mainOf(network().session)
    const after = (await renderTaps(k.session, { ...media, p: audio }, FRAMES, { taps: post })).get('main@post')!
    after.forEach((leg, i) => expect(rmsDb(difference(leg, before[i]))).toBeLessThan(-125))
  })

  it('listening to the feed instead gives the same mix too', async () => {
    const { k, audio } = await printed()
    k.session.channel.print = { ...k.session.channel.print, listen: 'feed' }
    const before = await mainOf(network().session)
    const after = (await renderTaps(k.session, { ...media, p: audio }, FRAMES, { taps: post })).get('main@post')!
    after.forEach((leg, i) => expect(rmsDb(difference(leg, before[i]))).toBeLessThan(-125))
  })

  it('verifies as identical, and a planted change is found', async () => {
    const { k, audio } = await printed()
    const reader = new MemoryMedia()
    for (const [id, legs] of Object.entries(media)) reader.set(id, legs)
    const taps = [{ channel: 'one', tap: 'post' as const }]
    const read = (factor: number) => (_: unknown, at: number, n: number) =>
      audio.map(leg => leg.slice(at, at + n).map(x => x * factor))
    const exact = await verify(k.session, reader, taps, { from: 0, frames: FRAMES }, 1, read(1))
    expect(exact.get('one@post')!.rmsDb).toBe(-Infinity)
    const louder = (await verify(k.session, reader, taps, { from: 0, frames: FRAMES }, 1, read(10 ** (0.1 / 20)))).get(
      'one@post'
    )!
    expect(louder.rmsDb - louder.signalDb).toBeCloseTo(20 * Math.log10(10 ** (0.1 / 20) - 1), 1)
  })

  it('goes stale when something upstream changes and not otherwise', async () => {
    const { k } = await printed()
    expect(staleParts(k.session, 'print-row')).toEqual([])
    const renamed = applyEdit(k.session, {
      verb: 'setChannels',
      args: { ids: ['ta'], fields: { name: 'Else' } }
    }).session
    expect(staleParts(renamed, 'print-row')).toEqual([])
    const changed = applyEdit(k.session, { verb: 'setChannels', args: { ids: ['ta'], fields: { trimDb: 1 } } }).session
    expect(staleParts(changed, 'print-row')).toEqual(['channel ta'])
  })

  it('is not stale because its source is parked, alone or with what fed it; it is where that is parked under it', async () => {
    const { k } = await printed()
    const park = (...ids: string[]) =>
      applyEdit(k.session, { verb: 'setChannels', args: { ids, fields: { parked: true } } }).session
    expect(staleParts(park('one'), 'print-row')).toEqual([])
    expect(staleParts(park('one', 'ta', 'tb'), 'print-row')).toEqual([])
    expect(staleParts(park('ta'), 'print-row')).not.toEqual([])
    const louder = applyEdit(park('one', 'ta'), { verb: 'setChannels', args: { ids: ['tb'], fields: { trimDb: 1 } } })
    expect(staleParts(louder.session, 'print-row')).toContain('channel tb')
  })

  it('parking its source silences nothing', async () => {
    const { k, audio } = await printed()
    for (const id of ['ta', 'tb', 'one']) k.session.channel[id] = { ...k.session.channel[id], parked: true }
    const out = (await renderTaps(k.session, { ...media, p: audio }, FRAMES, { taps: post })).get('main@post')!
    expect(peak(out[0])).toBeGreaterThan(0.05)
  })
})
