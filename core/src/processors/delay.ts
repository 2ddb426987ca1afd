// Repeats with feedback, cuts in the loop and cross feedback between legs. The slot's mix sets dry against wet.
import { PI, exp, log10 } from '../foundation/elementary'
import type { Params } from '../session/rows'
import { type Derived, type Processor, derived, standingsOf, valuesOf } from './processor'

/** One-pole smoothing coefficient for a corner frequency: y += c · (x − y). */
const onePole = (hz: number, sampleRate: number) => 1 - exp((-2 * PI * hz) / sampleRate)

export const LONGEST_DELAY_MS = 4000
/** A delay that never decays is let go here. */
const LONGEST_TAIL_S = 10,
  MOST_REPEATS = 100

/** Lengths of notes in beats, by the trade's names for them. */
const NOTES: Record<string, number> = {
  '1/32': 1 / 8,
  '1/16': 1 / 4,
  '1/16 dotted': 3 / 8,
  '1/8 triplet': 1 / 3,
  '1/8': 1 / 2,
  '1/8 dotted': 3 / 4,
  '1/4 triplet': 2 / 3,
  '1/4': 1,
  '1/4 dotted': 3 / 2,
  '1/2': 2,
  '1/1': 4
}

/**
 * The time between repeats: as set, or as a note of the tempo at the session's start; never more than there is room
 * for.
 */
export const delayMs = (p: Params, beatMs: number): number =>
  p.note === 'free' ? (p.timeMs as number) : Math.min(LONGEST_DELAY_MS, NOTES[p.note as string] * beatMs)

const share = (percent: number) => percent / 100
/** What the kernel wants behind the length of the line and its ring. */
const LOOP: readonly Derived[] = [
  derived('feedback', share),
  derived('cross', share),
  derived('highCutHz', onePole),
  derived('lowCutHz', onePole)
]

export const delay: Processor = {
  standsIn: (setting, _, sampleRate) => standingsOf('echo', LOOP, setting, sampleRate, 2),
  id: 'delay',
  label: 'Delay',
  version: 1,
  keyed: false,
  linear: true,
  // Repeats until they are 60 dB down.
  tailS: (p, { beatMs }) => {
    const feedback = Math.max(0.01, (p.feedback as number) / 100)
    const repeats = Math.min(MOST_REPEATS, Math.ceil(-3 / log10(feedback)) + 1)
    return Math.min(LONGEST_TAIL_S, (delayMs(p, beatMs) / 1000) * repeats)
  },
  parameters: [
    {
      name: 'timeMs',
      label: 'Time',
      unit: 'ms',
      min: 3,
      max: LONGEST_DELAY_MS,
      law: 'ratio',
      counts: p => p.note === 'free',
      initial: 375
    },
    { name: 'note', label: 'Time as a note', choices: ['free', ...Object.keys(NOTES)], initial: 'free' },
    { name: 'feedback', label: 'Feedback', unit: '%', min: 0, max: 98, initial: 35 },
    { name: 'cross', label: 'Cross feedback', unit: '%', min: 0, max: 100, initial: 0 },
    { name: 'lowCutHz', label: 'Low cut', unit: 'Hz', min: 10, max: 2000, law: 'ratio', initial: 80 },
    { name: 'highCutHz', label: 'High cut', unit: 'Hz', min: 200, max: 20000, law: 'ratio', initial: 7000 }
  ],
  build: (signal, { builder, key, params, sampleRate, beatMs }) =>
    builder.echo(
      key,
      signal,
      [Math.max(1, Math.round((delayMs(params, beatMs) * sampleRate) / 1000)), ...valuesOf(LOOP, params, sampleRate)],
      (LONGEST_DELAY_MS * sampleRate) / 1000
    )
}
