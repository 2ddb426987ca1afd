// What would change without a channel, and how much of what is heard comes from it: against levels known by formula.
import { describe, expect, it } from 'vitest'
import { MemoryMedia } from '../run/memoryMedia'
import { sine } from '../testing/sound'
import { Sketch } from '../testing/sketch'
import { contributionOf, influenceOf, pointsReached } from './influence'

const FRAMES = 96000
const range = { from: 0, frames: FRAMES }

function network(): { k: Sketch; media: MemoryMedia } {
  const k = new Sketch()
  k.bus('main', { role: 'main' })
  k.bus('hall', { role: 'return' })
  k.bus('drums')
  k.main('hall', 'main')
  k.main('drums', 'main')
  for (const id of ['low', 'high', 'apart']) {
    k.medium(`m-${id}`, 1, FRAMES)
    k.track(id, `m-${id}`)
  }
  k.main('low', 'drums')
  k.main('high', 'drums')
  k.main('apart', 'main')
  k.send('low', 'hall', -6)
  const slot = k.slot('main', 'compressor', { thresholdDb: 0, ratio: 1 })
  k.key('low', slot)
  k.rig('r')
  k.interface('io', 'r', 2, 0)
  k.add('feed', { id: 'out', kind: 'port', from: 'low', ports: ['io-out-1'] })
  const media = new MemoryMedia()
    .set('m-low', [sine(FRAMES, 1000, 0.25)])
    .set('m-high', [sine(FRAMES, 1010, 0.25)])
    .set('m-apart', [new Float32Array(FRAMES)])
  return { k, media }
}

describe('without a channel', () => {
  it('names every bus, key and port that it reaches, the nearest first', () => {
    const { k } = network()
    expect(pointsReached(k.session, 'low').map(p => `${p.kind} ${p.id.replace(/^s\d+$/, 'slot')}`)).toEqual([
      'key slot',
      'bus drums',
      'bus hall',
      'port io-out-1',
      'bus main'
    ])
    expect(pointsReached(k.session, 'apart').map(p => p.id)).toEqual(['main'])
  })

  it('measures what each of them loses', async () => {
    const { k, media } = network()
    const found = new Map((await influenceOf(k.session, media, 'low', range)).map(i => [i.id, i]))
    // Two equal tones, one goes: half the power, 3 dB.
    expect(found.get('drums')!.withLufs - found.get('drums')!.withoutLufs).toBeCloseTo(3.01, 1)
    expect(found.get('hall')!.withoutLufs).toBe(-Infinity)
    expect(found.get('io-out-1')!.withoutLufs).toBe(-Infinity)
    // In the main it is 1 + 0.5 of the other's amplitude: (1.5² + 1) / 1.
    expect(found.get('main')!.withLufs - found.get('main')!.withoutLufs).toBeCloseTo(10 * Math.log10(3.25), 1)
    // The key is heard with its own loudness, or falls back on the channel that it steers.
    expect([...found.values()].filter(i => i.kind === 'key')).toHaveLength(1)
    expect((await influenceOf(k.session, media, 'apart', range))[0]).toMatchObject({ id: 'main' })
  })
})

describe('the contribution of a source', () => {
  it('is what is heard less what is heard without it, through every bus and return', async () => {
    const { k, media } = network()
    const low = await contributionOf(k.session, media, 'low', 'main', range)
    expect(low.shareLu).toBeCloseTo(10 * Math.log10(3.25), 1)
    // Alone: 1.5 times a sine of 0.25 · 0.7071 in two legs; −3.01 dB for a full-scale sine in one, BS.1770's 1 kHz
    // weight included.
    expect(low.aloneLufs).toBeCloseTo(-3.01 + 20 * Math.log10(1.5 * 0.25), 1)
    expect(await contributionOf(k.session, media, 'apart', 'main', range)).toMatchObject({
      shareLu: 0,
      aloneLufs: -Infinity
    })
    k.session.channel.high.muted = true
    expect((await contributionOf(k.session, media, 'low', 'main', range)).shareLu).toBe(Infinity)
  })

  it('of a bus is that of all that flows through it', async () => {
    const { k, media } = network()
    const drums = await contributionOf(k.session, media, 'drums', 'main', range)
    expect(drums.allLufs - drums.withoutLufs).toBeCloseTo(10 * Math.log10(3.25 / 0.25), 1)
  })

  it('can be stopped', async () => {
    const { k, media } = network()
    await expect(contributionOf(k.session, media, 'low', 'main', range, { stopped: () => true })).rejects.toThrow(
      /stopped/
    )
  })
})
