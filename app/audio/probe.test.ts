// What the pictures of an open slot are drawn from.
import { describe, expect, it } from 'vitest'
import { bandHz, BANDS, bandsOf } from './probe'

describe.each([44100, 48000, 96000])('spectra at %i Hz', rate => {
  it.each([120, 1000, 7000])(
    'a sine at full scale of %i Hz reads 0 dB in its band and far less two octaves away',
    hz => {
      const s = bandsOf(
        Float64Array.from({ length: 4096 }, (_, n) => Math.sin((2 * Math.PI * hz * n) / rate)),
        rate
      )
      const top = s.indexOf(Math.max(...s))
      expect(Math.max(...s)).toBeGreaterThan(-1.6)
      expect(Math.max(...s)).toBeLessThan(0.1)
      expect(Math.abs(Math.log2(bandHz(top) / hz))).toBeLessThan(0.2)
      for (let i = 0; i < BANDS; i++)
        if (Math.abs(Math.log2(bandHz(i) / hz)) > 2 && bandHz(i) > 80) expect(s[i]).toBeLessThan(-60)
    }
  )
  it('silence is far down everywhere', () =>
    expect(Math.max(...bandsOf(new Float64Array(4096), rate))).toBeLessThan(-110))
})
