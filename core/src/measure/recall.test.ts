// Recall: a unit is turned a little, pinged again, and what is said must be what was turned.
import { describe, expect, it } from 'vitest'
import type { Params, Ping } from '../session/rows'
import { applyEdit } from '../edits/apply'
import type { Session } from '../session/session'
import { Sketch } from '../testing/sketch'
import { ping, pingRow, type PingOptions } from './ping'
import { whatMoved } from './recall'

/** A stereo loop through a passive equaliser a side, and a mono one through an amplifier. */
function room(left: Params = {}, right: Params = {}, amp: Params = {}, fields: Record<string, unknown> = {}): Session {
  const k = new Sketch('Room')
  k.rig('r')
  k.interface('io', 'r', 3, 3, fields)
  const sides = [left, right]
  sides.forEach((settings, i) => {
    k.unit(`eq${i}`, 'r', 'passive-equaliser', settings)
    k.cable('r', `io-out-${i + 1}`, `eq${i}:0`)
    k.cable('r', `eq${i}:0`, `io-in-${i + 1}`)
  })
  k.unit('amp', 'r', 'tube-amplifier', { driveDb: 0, ...amp })
  k.cable('r', 'io-out-3', 'amp:0')
  k.cable('r', 'amp:0', 'io-in-3')
  const ports = (way: string) => [`io-${way}-1`, `io-${way}-2`]
  k.add('loop', { id: 'pair', rig: 'r', name: 'Pair', outPorts: ports('out'), inPorts: ports('in') })
  k.add('loop', { id: 'amp', rig: 'r', name: 'Amp', outPorts: ['io-out-3'], inPorts: ['io-in-3'] })
  return k.session
}
async function pinged(session: Session, loop: string, options?: PingOptions): Promise<Ping> {
  const result = await ping(session, session.loop[loop]!, options)
  if (!result.measured) throw new Error(result.reason)
  return pingRow(session, session.loop[loop]!, result, '2026-11-28')
}
const moved = async (loop: string, before: Session, after: Session, options?: PingOptions) =>
  whatMoved(await pinged(before, loop), await pinged(after, loop, { seed: 5, ...options }))

describe('what moved between two pings', () => {
  it('is nothing where nothing did, but for the noise of another pass', async () => {
    expect(await moved('pair', room(), room())).toEqual([])
    expect(await moved('amp', room(), room())).toEqual([])
  })

  it('names the side and the part of the band', async () => {
    const [said, ...more] = await moved('pair', room(), room({ highHz: '12 kHz', airDb: -1.5 }))
    expect(more).toEqual([])
    const [, db, khz] = /^left side: (\d\.\d) dB low above (\d+(?:\.\d)?) kHz$/.exec(said ?? '') ?? []
    expect(Number(db)).toBeGreaterThan(0.6)
    expect(Number(db)).toBeLessThanOrEqual(1.5)
    expect(Number(khz)).toBeGreaterThan(6)
    expect(Number(khz)).toBeLessThan(16)
    expect(await moved('pair', room(), room({}, { lowHz: '100 Hz', lowDb: 3 }))).toEqual([
      expect.stringMatching(/^right side: [23]\.\d dB high below \d{3} Hz$/)
    ])
  })

  it('tells a level from a colour', async () => {
    expect(await moved('amp', room(), room({}, {}, { microphoneDb: -0.7 }))).toEqual(['0.7 dB low over the whole band'])
    const said = await moved('amp', room(), room({}, {}, { middleDb: 4 }))
    expect(said).toEqual([expect.stringMatching(/^[23]\.\d dB high between \d+ Hz and \d+(\.\d)? ?k?Hz$/)])
  })

  it('hears time, noise and harmonics', async () => {
    expect(await moved('amp', room(), room({}, {}, { distanceM: 0.15 + 0.343 }))).toContain('48.0 samples later')
    expect(await moved('pair', room(), room({}, {}, {}, { noiseDbfs: -95 }))).toEqual([
      expect.stringMatching(/^noise \d+ dB higher$/)
    ])
    expect((await moved('amp', room(), room({}, {}, { driveDb: 12 }))).join('; ')).toMatch(/distortion \d+ dB higher/)
  })

  it('says of ways that are crossed, dead or turned what they are', async () => {
    const crossed = room()
    const into = Object.values(crossed.cable).filter(c => c.toPort && ['io-in-1', 'io-in-2'].includes(c.toPort))
    const [a, b] = into.map(c => c.toPort)
    into[0] = Object.assign(into[0]!, { toPort: b })
    into[1] = Object.assign(into[1]!, { toPort: a })
    const result = await ping(crossed, crossed.loop.pair!)
    expect(result).toMatchObject({
      measured: true,
      notes: ['Out 1 comes back at In 2: crossed', 'Out 2 comes back at In 1: crossed']
    })
    const half = room()
    delete half.cable[Object.values(half.cable).find(c => c.toPort === 'io-in-2')!.id]
    const one = await ping(half, half.loop.pair!)
    expect(one).toMatchObject({ measured: true, notes: ['nothing comes back from Out 2 at In 2'] })
  })

  it('a ping that clips says so, a lower one does not', async () => {
    const hot = room({}, {}, { microphoneDb: 24 })
    const [loud, low] = [await ping(hot, hot.loop.amp!), await ping(hot, hot.loop.amp!, { levelDb: -40 })]
    expect(loud).toMatchObject({ measured: true, clipped: true })
    expect(low).toMatchObject({ measured: true, clipped: false })
  })

  it('of the mean of more sweeps has the noise of one', async () => {
    const noisy = room({}, {}, {}, { noiseDbfs: -70 })
    const [one, four] = [await pinged(noisy, 'pair'), await pinged(noisy, 'pair', { averages: 4 })]
    expect(Math.abs(one.noiseDbfs! - -70)).toBeLessThan(0.5)
    expect(Math.abs(four.noiseDbfs! - -70)).toBeLessThan(0.5)
  })
})

describe('earlier pings', () => {
  it('stay with their loop, the newest first, and no more than 24', async () => {
    let session = room()
    const first = await pinged(session, 'amp')
    for (let i = 0; i < 30; i++)
      session = applyEdit(session, {
        verb: 'setLoop',
        args: { id: 'amp', fields: { ping: { ...first, gainDb: i }, applied: false } }
      }).session
    expect(session.loop.amp!.ping!.gainDb).toBe(29)
    expect(session.loop.amp!.former.map(p => p.gainDb)).toEqual(Array.from({ length: 24 }, (_, i) => 28 - i))
  })
})
