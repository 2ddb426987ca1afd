// The built-in voices: what plays the notes of a phrase until somebody who plays comes along. Every sample is a formula
// of the time since its note began, so a render may begin anywhere.
import { pow } from '../foundation/elementary'
import type { Phrase } from '../session/rows'

/** One note that sounds: frames of source time, key 0 … 127 (69 is 440 Hz), gain of its velocity. */
export interface Sounding {
  start: number
  end: number
  key: number
  gain: number
}

export interface Voice {
  label: string
  /** Raised whenever the same notes sound different. */
  version: number
  /** Number that kernels/voice.ts switches on. */
  kind: number
  /** Seconds that a note rings on after its end. */
  tailS: number
  /** Does a note sound its own length, whatever its end says? */
  oneShot?: boolean
}

export const VOICES: Record<Phrase['voice'], Voice> = {
  pad: { label: 'Pad', version: 1, kind: 0, tailS: 0.8 },
  pluck: { label: 'Pluck', version: 1, kind: 1, tailS: 0.25 },
  drum: { label: 'Drum', version: 1, kind: 2, tailS: 1, oneShot: true }
}

/** Frequency of a key in equal temperament, 69 at 440 Hz. */
export const hzOf = (key: number) => 440 * pow(2, (key - 69) / 12)

/** Parameters of the kernel. @param level linear */
export function voiceParams(voice: Voice, notes: readonly Sounding[], level: number, sampleRate: number): number[] {
  const longest = Math.max(0, ...notes.map(n => n.end - n.start)) + Math.ceil(voice.tailS * sampleRate)
  return [
    voice.kind,
    notes.length,
    Math.ceil(voice.tailS * sampleRate),
    sampleRate,
    longest,
    ...notes.flatMap(n => [n.start, voice.oneShot ? n.start : n.end, hzOf(n.key), n.gain * level])
  ]
}
