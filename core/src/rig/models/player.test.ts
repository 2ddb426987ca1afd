// A player at a jack: what it plays arrives at the ports it is cabled to, in time with the session.
import { describe, expect, it } from 'vitest'
import { applyEdit } from '../../edits/apply'
import { layRig } from '../../formats/rigLibrary'
import { takeRig } from '../../formats/rig'
import { clipFrames } from '../../graph/sessionLength'
import { emptySession, mediaInUse } from '../../session/session'
import { Sketch } from '../../testing/sketch'
import { difference, renderTaps, rmsDb, whiteNoise } from '../../testing/sound'

const FRAMES = 9600
const LATE = 128
/** A player at the DI of a room: straight to one port, and through a unit to another. */
function atTheDi(legs = 1) {
  const k = new Sketch('Tracking')
  k.rig('r')
  k.interface('io', 'r', 2, 3, { noiseDbfs: null, dcCornerHz: null })
  k.session.session.session.rig = 'r'
  k.medium('song', legs, FRAMES)
  k.unit('who', 'r', 'player', { levelDbu: 6 }, { name: 'Kora player', plays: 'song' })
  k.unit('box', 'r', 'wire')
  k.cable('r', 'who:0', 'io-in-1')
  k.cable('r', 'who:0', 'box:0')
  k.cable('r', 'box:0', 'io-in-2', { inverts: true })
  k.cable('r', 'who:1', 'io-in-3')
  for (const n of [1, 2, 3]) {
    k.bus(`b${n}`, { layout: ['M'] })
    k.add('feed', { id: `in${n}`, kind: 'input', to: `b${n}`, ports: [`io-in-${n}`] })
  }
  return k
}
const songs = (legs: number) => ({ song: Array.from({ length: legs }, (_, i) => whiteNoise(FRAMES, 5 + i, 0.25)) })
const taps = [1, 2, 3].map(n => ({ channel: `b${n}`, tap: 'post' as const }))
const heard = async (k: Sketch, legs = 1, request?: number) => {
  const got = await renderTaps(k.session, songs(legs), FRAMES, { taps }, request)
  return taps.map(t => got.get(`${t.channel}@post`)![0]!)
}
/** 18 dBu is full scale at these ports. */
const GAIN = 10 ** ((6 - 18) / 20)

describe('a player', () => {
  it('plays its medium from the beginning, at its level in dBu; dry and processed arrive together', async () => {
    const [dry, wet, other] = await heard(atTheDi())
    const [song] = songs(1).song
    for (const [got, gain] of [
      [dry!, GAIN],
      [wet!, -GAIN],
      [other!, GAIN]
    ] as const)
      expect(
        rmsDb(
          difference(
            got,
            song!.map(v => v * gain)
          )
        )
      ).toBeLessThan(-140)
  })
  it('has a side of a stereo medium at each jack, and begins when it is told to', async () => {
    const k = atTheDi(2)
    k.session.unit.who.settings = { levelDbu: 18, startS: 0.05 }
    const [left, , right] = await heard(k, 2, 4096)
    const late = 2400
    songs(2).song.forEach((leg, i) => {
      const got = i ? right! : left!
      expect(rmsDb(got.subarray(0, late))).toBe(-Infinity)
      expect(rmsDb(difference(got.subarray(late), leg.subarray(0, FRAMES - late)))).toBeLessThan(-140)
    })
    expect(clipFrames(k.session)).toBe(late + FRAMES)
  })
  it('is in time with what the session sends into the same unit late', async () => {
    const k = atTheDi()
    k.session.unit.who.settings = { levelDbu: 18 }
    delete k.session.cable[Object.values(k.session.cable).find(c => c.fromUnit === 'who' && c.toUnit === 'box')!.id]
    k.unit('sum', 'r', 'summing-8', {}, { name: 'Sum' })
    k.session.cable[Object.values(k.session.cable).find(c => c.toPort === 'io-in-1')!.id].toPort = 'io-in-3'
    delete k.session.cable[Object.values(k.session.cable).find(c => c.fromJack === 1)!.id]
    // The limiter looks ahead: what leaves by the port is late, and what the player plays waits for it.
    k.track('t', 'song', { layout: ['M'] })
    k.slot('t', 'limiter', { ceilingDb: 0 })
    k.add('feed', { id: 'out', kind: 'port', from: 't', ports: ['io-out-1'] })
    k.cable('r', 'io-out-1', 'sum:0')
    k.cable('r', 'who:0', 'sum:2')
    k.cable('r', 'sum:0', 'io-in-1')
    const [summed] = await heard(k)
    const [song] = songs(1).song
    // The port out adds its converter's time, which a player does not have.
    const wanted = song!.map((v, n) => v + (song![n - LATE] ?? 0))
    expect(rmsDb(difference(summed!, wanted))).toBeLessThan(-70)
  })
  it('keeps its medium in use, gives it to no other session, and takes no cable in', async () => {
    const k = atTheDi()
    expect([...mediaInUse(k.session)]).toContain('song')
    expect(() => applyEdit(k.session, { verb: 'removeMedia', args: { ids: ['song'] } })).toThrow(
      '“Kora player” plays audio that was to be removed'
    )
    const document = takeRig(k.session, 'r', 'Room')
    expect(document.rows.unit.map(u => u.plays)).toEqual([null, null])
    const empty = emptySession('Other')
    const { session } = applyEdit(empty, layRig(document, 'entry', empty, 'mine', 'a'))
    expect(
      Object.values(session.unit)
        .map(u => u.model)
        .sort()
    ).toEqual(['player', 'wire'])
    const args = { id: 'x', rig: 'r', from: { port: 'io-out-1' }, to: { unit: 'who', jack: 0 } }
    expect(() => applyEdit(k.session, { verb: 'addCable', args })).toThrow('jack 1 of “Kora player”, which has 0')
    const silent = applyEdit(k.session, { verb: 'setUnit', args: { id: 'who', fields: { plays: null } } }).session
    const got = await renderTaps(silent, songs(1), FRAMES, { taps })
    expect(rmsDb(got.get('b1@post')![0]!)).toBe(-Infinity)
  })
})
