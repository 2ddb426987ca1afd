import { describe, expect, it } from 'vitest'
import { applyEdit } from '../edits/apply'
import { Network } from '../graph/network'
import { MemoryMedia } from '../run/memoryMedia'
import { rows, type Session } from '../session/session'
import { Sketch } from '../testing/sketch'
import { renderTaps, whiteNoise } from '../testing/sound'
import { fingerprint } from './fingerprint'
import { staleParts } from './stale'
import { tracksOf } from './stems'
import { proveSum } from './sum'

const FRAMES = 20_000
const RANGE = { from: 0, frames: FRAMES },
  EXTRA = { seed: 1, ...RANGE }
const SHARES = ['one', 'two', 'three']

/** Three stems, a hall that two of them share, a submix that is keyed by a track of another stem. */
function network(): Sketch {
  const k = new Sketch('Shares')
  k.bus('main', { role: 'main', levelDb: -1.5 })
  for (const id of SHARES) k.main(k.bus(id, { role: 'stem', name: `Stem ${id}` }), 'main')
  k.main(k.bus('hall', { role: 'return' }), 'main')
  SHARES.forEach((stem, i) => {
    k.medium(`m${i}`, 1, FRAMES)
    k.main(k.track(`t${i}`, `m${i}`, { pan: i - 1 }), stem)
    if (i < 2) k.send(`t${i}`, 'hall', -8)
  })
  k.slot('hall', 'reverb', { decayS: 0.4 })
  k.key('t2', k.slot('one', 'compressor', { thresholdDb: -40 }))
  return k
}
const audio = Object.fromEntries([0, 1, 2].map(i => [`m${i}`, [whiteNoise(FRAMES, i + 1, 0.2)]]))

/** The session with each share printed, and all audio. */
async function printed(session: Session, shares: readonly string[] = SHARES) {
  const made: Record<string, Float32Array[]> = { ...audio }
  let now = session
  for (const share of shares) {
    const only = tracksOf(new Network(session), share)
    const taps = [{ channel: 'main', tap: 'post' as const }]
    made[`p-${share}`] = (await renderTaps(session, audio, FRAMES, { taps, only })).get('main@post')!
    const add = (table: string, row: object) => ({ table, row: { id: `p-${share}`, ...row } })
    const { hash, parts } = fingerprint(session, 'main', 'post', EXTRA, share)
    now = applyEdit(now, {
      verb: 'addRows',
      args: {
        label: 'Print',
        rows: [
          add('medium', { name: share, legs: 2, frames: FRAMES, sampleRate: 48000 }),
          add('channel', { name: `Print ${share}`, kind: 'track', order: `z${share}` }),
          add('clip', { channel: `p-${share}`, medium: `p-${share}` }),
          add('print', {
            channel: `p-${share}`,
            source: 'main',
            share,
            tap: 'post',
            clip: `p-${share}`,
            fingerprint: hash,
            parts,
            frames: FRAMES
          })
        ]
      }
    }).session
  }
  const media = new MemoryMedia()
  for (const [id, legs] of Object.entries(made)) media.set(id, legs)
  return { session: now, media }
}
const ids = (shares: readonly string[]) => shares.map(s => `p-${s}`)

describe('shares of a main', () => {
  it('add up to it within −120 dB, returns and keys and all', async () => {
    const { session, media } = await printed(network().session)
    const proof = await proveSum(session, media, ids(SHARES), RANGE)
    expect(proof.sums).toBe(true)
    expect(proof.rmsDb - proof.signalDb).toBeLessThan(-120)
    expect(proof.culprits).toEqual([])
  })

  it('add up however what is heard of them was cropped since', async () => {
    const { session, media } = await printed(network().session)
    const args = { ids: ['p-two'], from: 5000, to: 9000 }
    const cropped = applyEdit(session, { verb: 'cropClips', args }).session
    expect((await proveSum(cropped, media, ids(SHARES), RANGE)).sums).toBe(true)
  })

  it('do not where something bends the sum of them, or one is missing: it is named', async () => {
    const k = network()
    k.slot('main', 'saturation', { driveDb: 12 })
    const bent = await printed(k.session)
    expect(await proveSum(bent.session, bent.media, ids(SHARES), RANGE)).toMatchObject({
      sums: false,
      culprits: [{ kind: 'nonlinear', reason: 'Saturation on “main” reacts to the sum of several stems' }]
    })
    const { session, media } = await printed(network().session, ['one', 'two'])
    expect(await proveSum(session, media, ids(['one', 'two']), RANGE)).toMatchObject({
      sums: false,
      culprits: [{ kind: 'unrouted', about: 't2' }]
    })
  })

  it('that were printed before something changed do not either, by as much as it changed', async () => {
    const { session, media } = await printed(network().session)
    const louder = applyEdit(session, { verb: 'setChannels', args: { ids: ['three'], fields: { levelDb: 6 } } }).session
    const { sums, rmsDb, signalDb } = await proveSum(louder, media, ids(SHARES), RANGE)
    expect(sums).toBe(false)
    expect(rmsDb - signalDb).toBeGreaterThan(-20)
  })

  it('of different taps are refused', async () => {
    const { session, media } = await printed(network().session)
    const other = applyEdit(session, {
      verb: 'addRows',
      args: {
        label: 'Print',
        rows: [{ table: 'print', row: { id: 'x', channel: 'p-one', source: 'one', tap: 'post' } }]
      }
    }).session
    await expect(proveSum(other, media, ['p-one', 'x'], RANGE)).rejects.toThrow(
      'Only shares of one tap can add up to it'
    )
  })

  it('go stale by what is theirs, and by nothing of the others', async () => {
    const { session } = await printed(network().session)
    const stale = (verb: string, args: object) =>
      SHARES.filter(s => staleParts(applyEdit(session, { verb, args }).session, `p-${s}`).length)
    const set = (id: string, fields: object) => stale('setChannels', { ids: [id], fields })
    expect(set('t1', { trimDb: -3 })).toEqual(['two'])
    expect(set('two', { levelDb: -3 })).toEqual(['two'])
    // The hall is shared, the main is everybody’s, and t2 steers the compressor of stem one.
    expect(set('hall', { levelDb: -3 })).toEqual(['one', 'two'])
    expect(set('main', { levelDb: -3 })).toEqual(SHARES)
    expect(set('t2', { trimDb: -3 })).toEqual(['one', 'three'])
    expect(stale('setMainFeed', { ids: ['t1'], to: 'three', feedIds: ['x'] })).toEqual(['two', 'three'])
  })

  it('outlive what they are shares of', async () => {
    const { session } = await printed(network().session)
    const gone = applyEdit(session, { verb: 'removeChannels', args: { ids: ['two'] } }).session
    expect(gone.print['p-two']).toMatchObject({ source: null, share: null, sourceName: 'Stem two in main' })
    expect(rows(gone, 'print').filter(p => p.share !== null)).toHaveLength(2)
  })
})
