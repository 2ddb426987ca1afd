// Costs by a clock that is the test's own: what is looked at is the bookkeeping, not the speed.
import { describe, expect, it } from 'vitest'
import { demoLike } from '../testing/demoLike'
import { rows } from '../session/session'
import { compile } from '../compile/compile'
import { costPredictor, costRows, measureCost } from './cost'
import { MemoryMedia } from '../run/memoryMedia'

const options = { taps: [{ channel: 'main', tap: 'post' as const }] }
async function measured() {
  const { session } = demoLike()
  const media = new MemoryMedia()
  for (const id of ['low', 'edge', 'voice', 'other']) media.set(`m-${id}`, [new Float32Array(4000)])
  let time = 0
  // Every reading is a microsecond later than the last: each step then costs one.
  const cost = await measureCost(session, media, options, { from: 0, frames: 128 * 50 }, 48000, () => time++ * 1e-6)
  return { session, cost }
}

describe('cost', () => {
  it('is shared out among channels and slots, and adds up to the whole', async () => {
    const { session, cost } = await measured()
    const list = costRows(cost)
    expect(list.reduce((sum, r) => sum + r.share, 0)).toBeCloseTo(1, 9)
    for (const slot of rows(session, 'slot'))
      expect(
        list.some(r => r.slot === slot.id && r.channel === slot.channel),
        slot.processor
      ).toBe(true)
    expect(list.some(r => r.channel === 'low' && r.slot === null)).toBe(true)
    expect(cost.audioSeconds).toBeCloseTo((50 * 128) / 48000, 9)
  })

  it('of the same session is predicted as it was measured; of one with less in it, as less', async () => {
    const { session, cost } = await measured()
    expect(costPredictor(cost, options)(session)).toBeCloseTo(cost.seconds, 9)
    const parked = {
      ...session,
      channel: { ...session.channel, singers: { ...session.channel.singers, parked: true } }
    }
    const after = costPredictor(cost, options)(parked)
    expect(after).toBeLessThan(cost.seconds)
    expect(compile(parked, options).ops.length).toBeLessThan(cost.ops.length)
  })
})
