// An off-site pass of a session: what goes out piece by piece, what is said of what came back, and where it is laid.
import { describe, expect, it } from 'vitest'
import { applyEdit } from '../edits/apply'
import { offsiteFeed, offsitePlaces, offsiteReader } from '../measure/offsite'
import { rows } from '../session/session'
import { Dice } from '../testing/generated'
import { Sketch } from '../testing/sketch'
import { whiteNoise } from '../testing/sound'
import {
  audioOf,
  offsiteEdit,
  offsiteNotes,
  offsiteParts,
  offsiteShape,
  OffsiteArgs,
  OFFSITE_TAIL_S
} from './offsitePass'

const RATE = 48000

function session() {
  const k = new Sketch('Away')
  k.bus('main', { role: 'main' })
  k.bus('room', { role: 'return' })
  k.medium('di', 2, 3 * RATE, { name: 'DI' })
  k.medium('came', 1, 30 * RATE, { name: 'came back' })
  k.medium('more', 1, RATE)
  k.add('channel', { id: 't', name: 'Kora', kind: 'track', layout: ['L', 'R'], levelDb: -4, pan: 0.2, order: 'b' })
  // Played twice, first from its middle.
  k.add('clip', { id: 'c2', channel: 't', medium: 'di', startFrame: 8 * RATE })
  k.add('clip', {
    id: 'c1',
    channel: 't',
    medium: 'di',
    startFrame: 4 * RATE,
    offsetFrames: RATE,
    frames: RATE,
    fadeOutFrames: 100,
    gainDb: -2
  })
  k.main('t', 'main', { levelDb: -1 })
  k.send('t', 'room', -6)
  k.main(k.track('back', 'came', { name: 'came back' }), 'main')
  return k
}
const ARGS = OffsiteArgs.parse({
  ...{ source: 't', sent: 'di', back: 'back', print: 'p', track: 'n', clip: 'nc', medium: 'nm' },
  ...{ name: 'Kora, far', order: 'bb' }
})
const MADE = {
  layout: ['M'],
  ...{ sha256: 'f'.repeat(64), frames: (3 + OFFSITE_TAIL_S) * RATE, sampleRate: RATE, peakDb: -3, loudnessLufs: -20 },
  ...{ fingerprint: 'x', parts: {}, seed: 1, latencySamples: 0, residualDb: null, verified: 'not yet' as const },
  ...{ faults: [], notes: ['from outside'], printedAt: '' }
}

describe('the file that goes out', () => {
  it('is the same in any pieces as whole', async () => {
    const shape = { rate: RATE, frames: 9000, tailFrames: 500 },
      length = offsitePlaces(shape).length
    const programme = [whiteNoise(shape.frames, 1), whiteNoise(shape.frames, 2)]
    const whole = offsiteFeed(programme, shape)
    const read = offsiteReader(shape, 2, async (from, n) => programme.map(leg => leg.slice(from, from + n)))
    const dice = new Dice(4),
      got = whole.map(() => new Float32Array(length))
    for (let at = 0; at < length;) {
      const n = Math.min(length - at, 1 + dice.below(60_000))
      ;(await read(at, n)).forEach((leg, i) => got[i]!.set(leg, at))
      at += n
    }
    expect(got).toEqual(whole)
  })
})

describe('what came back', () => {
  it('lies under every clip of what was sent, plays on where that ended, and goes where that goes', () => {
    const k = session(),
      next = applyEdit(k.session, offsiteEdit(k.session, ARGS, MADE)).session
    expect(rows(next, 'clip').filter(c => c.channel === 'n')).toMatchObject([
      {
        id: 'nc',
        medium: 'nm',
        startFrame: 4 * RATE,
        offsetFrames: RATE,
        frames: RATE,
        fadeOutFrames: 100,
        gainDb: -2
      },
      { medium: 'nm', startFrame: 8 * RATE, offsetFrames: 0, frames: null, fadeOutFrames: 0 }
    ])
    expect(next.channel.n).toMatchObject({ name: 'Kora, far', layout: ['M'], levelDb: -4, pan: 0.2, muted: false })
    expect(next.channel.t!.muted).toBe(true)
    expect(next.channel.back!.parked).toBe(true)
    expect(rows(next, 'feed').filter(f => f.from === 'n')).toMatchObject([{ kind: 'main', to: 'main', levelDb: -1 }])
    expect(next.print.p).toMatchObject({
      source: 't',
      tap: 'input',
      clip: 'nc',
      takesOver: false,
      notes: ['from outside']
    })
    expect(next.medium.nm).toMatchObject({ legs: 1, frames: MADE.frames, name: 'Kora, far' })
    const kept = applyEdit(k.session, offsiteEdit(k.session, { ...ARGS, mutes: false }, MADE)).session
    expect(kept.channel.t!.muted).toBe(false)
  })

  it('is refused in words where something is not there any more, or not alone', () => {
    const k = session()
    const refusal = (change: object) => () => offsiteParts(k.session, { ...ARGS, ...change })
    expect(refusal({ sent: 'gone' })).toThrow('What was sent is not on “Kora” any more')
    expect(refusal({ source: 'gone' })).toThrow('What was sent is not on “gone” any more')
    expect(refusal({ back: 'room' })).toThrow('There is no audio on “room”: bring in what came back')
    expect(refusal({ back: 't' })).toThrow('“Kora” holds what was sent, not what came back')
    k.add('clip', { id: 'second', channel: 'back', medium: 'more' })
    expect(refusal({})).toThrow('“came back” holds several files: one is to be what came back')
    expect(audioOf(k.session, 'back').map(a => a.medium.id)).toEqual(['came', 'more'])
    expect(offsiteParts(session().session, ARGS)).toMatchObject({ returned: { id: 'came' }, name: 'came back' })
  })

  it.each([
    [
      { offsetFrames: 120576, ppm: 83.28, inverted: true, gainDb: -7.004, confidence: 0.9876 },
      [
        'from outside, by files: its first mark was found at 2.512 s of “take”',
        'its clock ran 83.3 ppm fast, put right',
        'its polarity was turned: turned back',
        'its gain was −7.00 dB: put right',
        'certain to 98 %'
      ]
    ],
    [
      { offsetFrames: 0, ppm: -12, inverted: null, gainDb: null, confidence: 0.6 },
      [
        'from outside, by files: its first mark was found at 0.000 s of “take”',
        'its clock ran 12.0 ppm slow, put right',
        'its polarity is not certain: left as it came',
        'its gain is not certain: left as it came',
        'certain to 60 %'
      ]
    ],
    [
      { offsetFrames: 0, ppm: 0.01, inverted: false, gainDb: 1.5, confidence: 1 },
      [
        'from outside, by files: its first mark was found at 0.000 s of “take”',
        'its clock ran as ours',
        'its polarity is as sent',
        'its gain was 1.50 dB: put right',
        'certain to 100 %'
      ]
    ]
  ])('is told in sentences', (found, sentences) => {
    expect(offsiteNotes(found, 'take', RATE)).toEqual(sentences)
  })

  it('is as long as what was sent and its tail', () => {
    expect(offsiteShape({ frames: 100 }, 44100)).toEqual({ rate: 44100, frames: 100, tailFrames: 12 * 44100 })
  })
})
