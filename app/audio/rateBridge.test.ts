// A sine comes through another rate as the same sine; nothing drifts.
import { describe, expect, it } from 'vitest'
import { RateBridge } from './rateBridge'

describe.each([
  [48000, 44100],
  [44100, 48000],
  [96000, 48000],
  [48000, 96000],
  [44100, 44100]
])('from %i to %i Hz', (from, to) => {
  it('1 kHz stays 1 kHz within −90 dB, in blocks of 128', () => {
    const ring = Float32Array.from({ length: 65536 }, (_, n) => 0.5 * Math.sin((2 * Math.PI * 1000 * n) / from))
    const bridge = new RateBridge(from / to)
    const out = new Float32Array(12800)
    let read = 0
    for (let at = 0; at < out.length; at += 128) {
      expect(bridge.needs(128)).toBeGreaterThan((128 * from) / to)
      const done = bridge.run(ring, read, out.subarray(at, at + 128), 128)
      bridge.advance(128)
      read += done
    }
    let error = 0
    for (let n = 0; n < out.length; n++)
      error += (out[n]! - 0.5 * Math.sin(2 * Math.PI * 1000 * (n / to + 15 / from))) ** 2
    expect(10 * Math.log10(error / out.length)).toBeLessThan(-90)
    expect(Math.abs(read - (out.length * from) / to)).toBeLessThan(2)
  })
})
