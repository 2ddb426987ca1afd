import { describe, expect, it } from 'vitest'
import { firstBreach } from '../invariants'
import { fingerprint } from '../print/fingerprint'
import { rows, printOn, takesOf, type Session } from '../session/session'
import { Dice } from '../testing/generated'
import { renderTaps, whiteNoise } from '../testing/sound'
import { Sketch } from '../testing/sketch'
import { applyEdit } from './apply'

const FRAMES = 6000
const one = whiteNoise(FRAMES, 1),
  two = whiteNoise(FRAMES, 2)
function recording(): Sketch {
  const k = new Sketch('Two takes')
  k.bus('main', { role: 'main' })
  k.medium('m1', 1, FRAMES, { sha256: '1' })
  k.medium('m2', 1, FRAMES, { sha256: '2' })
  k.track('v', 'm1', { layout: ['M'] })
  k.main('v', 'main')
  for (const n of [1, 2]) k.add('take', { id: `t${n}`, channel: 'v', name: `Take ${n}`, order: `a${n}` })
  k.session.clip['v-clip']!.take = 't1'
  k.add('clip', { id: 'c2', channel: 'v', medium: 'm2', take: 't2', fadeInFrames: 10 })
  k.session.channel.v!.take = 't1'
  return k
}
const recorded = (): Session => recording().session
const splice = (s: Session, range: object, fields: object = {}) =>
  applyEdit(s, {
    verb: 'spliceTakes',
    args: {
      ...{ channel: 'v', take: { id: 'new', name: 'Of both', order: 'a3' } },
      ...{ base: 't1', from: 't2', range, fadeFrames: 100, ...fields }
    }
  }).session
const heard = async (s: Session, media: object = { m1: [one], m2: [two] }) =>
  (
    await renderTaps(s, media as Record<string, Float32Array[]>, FRAMES, { taps: [{ channel: 'v', tap: 'input' }] })
  ).get('v@input')![0]!

describe('a take made of two', () => {
  it('plays the one outside of the range, the other inside, and both by equal shares where they meet', async () => {
    const s = splice(recorded(), { from: 2000, to: 4000 })
    const out = await heard(s)
    expect(out.subarray(0, 2000)).toEqual(one.subarray(0, 2000))
    expect(out.subarray(2100, 3900)).toEqual(two.subarray(2100, 3900))
    expect(out.subarray(4000)).toEqual(one.subarray(4000))
    for (let n = 0; n < 100; n++) {
      const share = n / 100
      expect(out[2000 + n]).toBeCloseTo(one[2000 + n]! * (1 - share) + two[2000 + n]! * share, 6)
      expect(out[3900 + n]).toBeCloseTo(two[3900 + n]! * (1 - share) + one[3900 + n]! * share, 6)
    }
    expect(takesOf(s, 'v').map(t => t.name)).toEqual(['Take 1', 'Take 2', 'Of both'])
    expect(s.clip['v-clip']).toEqual(recorded().clip['v-clip'])
  })

  it('of equal takes sounds as they do, whatever the range: 60 generated ranges', async () => {
    for (let seed = 1; seed <= 60; seed++) {
      const dice = new Dice(seed),
        from = dice.below(FRAMES)
      const s = recorded()
      s.clip.c2!.fadeInFrames = 0
      const spliced = splice(s, { from, to: from + 1 + dice.below(2000) }, { fadeFrames: dice.below(600) })
      expect(firstBreach(spliced)).toBeNull()
      const out = await heard(spliced, { m1: [one], m2: [one] })
      expect(Math.max(...out.map((x, n) => Math.abs(x - one[n]!))), `seed ${seed}`).toBeLessThan(1e-6)
    }
  })

  it('goes on standing in for what its takes were printed from', () => {
    const k = recording()
    k.bus('drums')
    k.main('drums', 'main')
    const print = { channel: 'v', source: 'drums', tap: 'post', takesOver: true, frames: FRAMES }
    k.add('print', { id: 'p1', clip: 'v-clip', ...print })
    k.add('print', { id: 'p2', clip: 'c2', ...print })
    const before = fingerprint(k.session, 'main', 'post', { seed: 1, from: 0, frames: FRAMES }).hash
    for (const range of [
      { from: 2000, to: 4000 },
      { from: 0, to: FRAMES }
    ]) {
      const spliced = splice(k.session, range)
      const standing = printOn(spliced, 'v')!
      expect(standing).toMatchObject({ source: 'drums', takesOver: true, notes: ['with a range of “Take 2”'] })
      expect(spliced.clip[standing.clip!]!.take).toBe('new')
      expect(rows(spliced, 'print')).toHaveLength(3)
      expect(fingerprint(spliced, 'main', 'post', { seed: 1, from: 0, frames: FRAMES }).hash).not.toBe(before)
    }
  })

  it.each([
    ['the same take twice', { from: 't1' }, { from: 0, to: 100 }, /these are the same/],
    ['nothing of it there', {}, { from: FRAMES, to: FRAMES + 100 }, /“Take 2” plays nothing in that range/],
    ['no range', {}, { from: 100, to: 100 }, /ends after it begins/]
  ])('refuses %s', (_, fields, range, reason) => {
    expect(() => splice(recorded(), range, fields)).toThrow(reason)
  })
})
