import { describe, expect, it } from 'vitest'
import { Sketch } from '@nullet/core/testing/sketch'
import { ALL, passSeconds, printedRange, QUIET, rollOf } from './extent'

function session() {
  const k = new Sketch('Extent', { sampleRate: 48000, tempo: [[0, 120]], beatsPerBar: 3 })
  k.medium('a', 1, 480_000)
  k.bus('main', { role: 'main' })
  k.main(k.track('one', 'a'), 'main')
  k.slot('one', 'reverb', { decayS: 2 })
  return k.session
}
const of = (fields: object, marked: { from: number; to: number } | null = null) =>
  printedRange(session(), { ...ALL, ...fields }, marked)

describe('what is printed', () => {
  it('is all of it, with what processors say rings on', () => {
    const all = of({})
    expect(all).toMatchObject({ from: 0, frames: null, tail: null, refused: null })
    expect(all.about).toBeGreaterThan(480_000 + 48_000)
  })
  it('is all of it until it is quiet, or for a fixed time', () => {
    expect(of({ tail: 'quiet' })).toMatchObject({ frames: null, tail: QUIET })
    expect(of({ tail: 'fixed', tailS: 2.5 })).toMatchObject({ from: 0, frames: 480_000 + 120_000, tail: null })
  })
  it('is whole bars of the tempo: three beats of half a second each', () => {
    expect(of({ of: 'bars', fromBar: 2, toBar: 3 })).toMatchObject({ from: 72_000, frames: 144_000, refused: null })
    expect(of({ of: 'bars', fromBar: 3, toBar: 2 }).refused).toMatch(/before the first/)
    expect(of({ of: 'bars', fromBar: 90, toBar: 91 }).refused).toMatch(/nothing is played/)
  })
  it('is the marked range, and says so where none is marked', () => {
    expect(of({ of: 'marked', tail: 'fixed', tailS: 1 }, { from: 100.4, to: 5000 })).toMatchObject({
      from: 100,
      frames: 4900 + 48_000
    })
    expect(of({ of: 'marked' }).refused).toMatch(/no range is marked/)
  })
})

it('a pass through units takes as long as it sounds, and rolls before and behind', () => {
  const extent = { ...ALL, preRollS: 2.5, postRollS: 0.5 }
  expect(rollOf(extent, 44_100)).toEqual({ pre: 110_250, post: 22_050 })
  expect(passSeconds(480_000, extent, 48_000)).toBe(13)
})
