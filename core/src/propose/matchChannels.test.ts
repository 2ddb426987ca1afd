// The channels of a summing unit: measured one by one, trimmed, measured again.
import { describe, expect, it } from 'vitest'
import { applyEdit } from '../edits/apply'
import { ping, pingRow } from '../measure/ping'
import { unevenness } from '../rig/models/summing'
import { rowKey } from '../plan/operations'
import type { Session } from '../session/session'
import { Sketch } from '../testing/sketch'
import { areEven, channelMatches, matchEdit } from './matchChannels'

const UNEVEN_DB = 1.2
function box(outs = 8): Sketch {
  const k = new Sketch()
  k.rig('r')
  k.interface('io', 'r', 8, 4)
  k.unit('box', 'r', 'summing-8', { unevenDb: UNEVEN_DB })
  for (let i = 0; i < 8; i++) k.cable('r', `io-out-${i + 1}`, `box:${i}`)
  for (let i = 0; i < 4; i++) k.cable('r', `box:${i}`, `io-in-${i + 1}`)
  const outPorts = Array.from({ length: outs }, (_, i) => `io-out-${i + 1}`)
  k.add('loop', { id: 'sum', rig: 'r', name: 'Sum', outPorts, inPorts: ['io-in-1', 'io-in-2'] })
  return k
}
async function pinged(session: Session): Promise<Session> {
  const loop = session.loop.sum!
  const result = await ping(session, loop, { seed: 4 })
  if (!result.measured) throw new Error(result.reason)
  const args = { id: 'sum', fields: { ping: pingRow(session, loop, result, 'now') } }
  return applyEdit(session, { verb: 'setLoop', args }).session
}

describe('matching the channels of a summing unit', () => {
  it('finds how far each is off, trims the outputs, and a new ping finds them even', async () => {
    const session = await pinged(box().session)
    const found = channelMatches(session, session.loop.sum!)
    const built = Array.from({ length: 8 }, (_, i) => UNEVEN_DB * unevenness(rowKey('unit', 'box'), i))
    const mean = built.reduce((a, b) => a + b) / 8
    expect(Math.max(...built) - Math.min(...built)).toBeGreaterThan(0.5)
    found.forEach((f, i) => expect(f.offDb).toBeCloseTo(built[i]! - mean, 1))
    const matched = applyEdit(session, matchEdit(session.loop.sum!, found)!).session
    const again = await pinged(matched)
    const after = channelMatches(again, again.loop.sum!)
    expect(after.every(m => Math.abs(m.offDb) < 0.02)).toBe(true)
    expect(matchEdit(again.loop.sum!, after)).toBeNull()
    expect(areEven(after)).toBe(true)
  })
  it('offers nothing for a pair, nor where a way was not measured', async () => {
    const pair = await pinged(box(2).session)
    expect(channelMatches(pair, pair.loop.sum!)).toEqual([])
    const k = box()
    expect(channelMatches(k.session, k.session.loop.sum!)).toEqual([])
    const session = await pinged(k.session)
    const { ping: known } = session.loop.sum!
    const sides = known!.sides!.map((s, i) => (i === 3 ? { ...s, gainDb: null } : s))
    expect(channelMatches(session, { ...session.loop.sum!, ping: { ...known!, sides } })).toEqual([])
  })
})
