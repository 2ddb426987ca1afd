// How long a session is: clips and notes, not prints; and what rings on behind them.
import { describe, expect, it } from 'vitest'
import { VOICES } from '../notes/voices'
import { Sketch } from '../testing/sketch'
import { clipFrames, sessionFrames } from './sessionLength'
import { longestTailS } from './tail'

function session(): Sketch {
  const k = new Sketch()
  k.medium('m', 1, 48_000)
  k.medium('long', 1, 480_000)
  k.bus('hall', { role: 'return' })
  k.track('t', 'm')
  k.session.clip['t-clip']!.startFrame = 24_000
  return k
}

describe('a session', () => {
  it('without anything in it has no length', () => {
    expect([clipFrames(new Sketch().session), sessionFrames(new Sketch().session)]).toEqual([0, 0])
  })

  it('ends with its last clip, wherever that begins; clips that are shorter than their audio count as they are', () => {
    const k = session()
    expect(clipFrames(k.session)).toBe(72_000)
    k.add('clip', { id: 'c', channel: 't', medium: 'long', startFrame: 1000, frames: 90_000 })
    expect(clipFrames(k.session)).toBe(91_000)
  })

  it('does not count what was printed, and counts notes', () => {
    const k = session()
    k.track('printed', 'long')
    k.add('print', { id: 'p', channel: 'printed', source: 'hall', tap: 'post', clip: 'printed-clip' })
    expect(clipFrames(k.session)).toBe(72_000)
    // A drum from beat 8 to beat 9, at 120 beats a minute, and its half second.
    k.add('phrase', { id: 'n', channel: 't', voice: 'drum', lengthBeats: 8, startBeat: 4, notes: [[4, 1, 60, 100]] })
    expect(clipFrames(k.session)).toBe(4.5 * 48_000 + VOICES.drum.tailS * 48_000)
  })

  it('rings on as long as the longest of its processors that is not off', () => {
    const k = session()
    expect(longestTailS(k.session)).toBe(0)
    k.slot('hall', 'equaliser')
    expect(longestTailS(k.session)).toBe(0)
    k.slot('hall', 'reverb', { decayS: 3 })
    k.slot('hall', 'reverb', { decayS: 2 })
    k.slot('hall', 'reverb', { decayS: 9 }, { state: 'off' })
    k.slot('hall', 'not here')
    expect(longestTailS(k.session)).toBe(3)
    k.slot('hall', 'reverb', { decayS: 5 }, { state: 'bypassed' })
    expect(longestTailS(k.session)).toBe(5)
    expect(sessionFrames(k.session)).toBe(72_000 + 5 * 48_000)
  })

  it('rings on for an impulse response as long as that is, or is let', () => {
    const k = session()
    k.slot('hall', 'convolution', { response: 'long', preDelayMs: 100 })
    expect(longestTailS(k.session)).toBeCloseTo(10.1, 9)
    k.session.slot = {}
    k.slot('hall', 'convolution', { response: 'long', endS: 2 })
    expect(longestTailS(k.session)).toBe(2)
  })
})
