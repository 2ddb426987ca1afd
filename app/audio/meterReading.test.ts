import { describe, expect, it } from 'vitest'
import { MeterReading } from './meterReading'
import { BLOCK, METER_SLOTS, meterMemory, meterSlot, metersOver } from './ring'

const KEYS = ['lufs', 'truePeak', 'channel/a', 'rms/channel/a', 'gain/s']

describe('the meters of a stretch', () => {
  const meters = metersOver(meterMemory(KEYS.length))
  const reading = new MeterReading(KEYS, meters)
  const write = (block: number, values: number[]) => meters.values.set(values, meterSlot(block * BLOCK, meters.width))
  const read = (from: number, to: number) => {
    const into = new Map([['channel/gone', 1]])
    reading.read(from, to, into)
    return [...into]
  }

  it('are the newest loudness, the highest peak, the mean power, the deepest gain', () => {
    // Around the end of the memory too.
    for (const first of [7, METER_SLOTS - 1]) {
      write(first, [-20, -3, 0.5, 0.3, 1])
      write(first + 1, [-18, -2, 0.25, 0.4, 0.5])
      write(first + 2, [-19, -4, 0.125, 0, 0.75])
      const rms = Math.sqrt((0.3 ** 2 + 0.4 ** 2) / 3)
      const expected = [-19, -4, 0.5, rms, 0.5]
      read(first, first + 3).forEach(([key, value], i) => {
        expect(key).toBe(KEYS[i])
        expect(value).toBeCloseTo(expected[i]!, 6)
      })
    }
  })

  it('of a sine whose cycle is longer than a block are its own RMS, whatever the phase', () => {
    const frequency = 55,
      blocks = 48000 / BLOCK
    for (let b = 0; b < blocks; b++) {
      let power = 0
      for (let i = 0; i < BLOCK; i++) power += Math.sin((2 * Math.PI * frequency * (b * BLOCK + i)) / 48000) ** 2
      write(b, [0, 0, 1, Math.sqrt(power / BLOCK), 1])
    }
    const [, , , [, rms]] = read(0, blocks) as [unknown, unknown, unknown, [string, number]]
    expect(20 * Math.log10(rms)).toBeCloseTo(-3.0103, 3)
  })
})
