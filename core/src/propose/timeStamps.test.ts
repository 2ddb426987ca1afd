import { describe, expect, it } from 'vitest'
import { applyEdit } from '../edits/apply'
import { Sketch } from '../testing/sketch'
import { byTimeStamps } from './timeStamps'

function session(stamps: (number | null)[]) {
  const k = new Sketch()
  stamps.forEach((timeReference, i) => {
    k.medium(`m${i}`, 1, 1000, { timeReference })
    k.track(`t${i}`, `m${i}`)
  })
  return k.session
}
const all = new Set(['t0', 't1', 't2'])

describe('clips at their time stamps', () => {
  it('lie as far apart as they were recorded, the earliest at the start', () => {
    const s = session([172_800_500, 172_800_000, null])
    const placed = byTimeStamps(s, all)!
    expect(placed).toEqual([{ id: 't0-clip', startFrame: 500 }])
    const { session: after, label } = applyEdit(s, { verb: 'placeClips', args: { clips: placed } })
    expect(label).toBe('Place “t0”')
    expect(after.clip['t0-clip']!.startFrame).toBe(500)
    expect(byTimeStamps(after, all)).toEqual([])
  })
  it('count from where a clip begins within its file', () => {
    const s = session([1000, 0])
    s.clip['t1-clip'] = { ...s.clip['t1-clip']!, offsetFrames: 400 }
    expect(byTimeStamps(s, all)).toEqual([{ id: 't0-clip', startFrame: 600 }])
  })
  it('are none where fewer than two files say when they were recorded', () => {
    expect(byTimeStamps(session([100, null]), all)).toBeNull()
    expect(byTimeStamps(session([100, 200]), new Set(['t0']))).toBeNull()
  })
})
