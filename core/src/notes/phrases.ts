// Phrases: notes in beats on a track, repeated. What they come to in frames, and how keys are written.
import { byId, rows, settings, type Session } from '../session/session'
import type { Phrase } from '../session/rows'
import { frameOfBeat } from './tempo'
import { VOICES, type Sounding } from './voices'

export const phrasesOf = (session: Session, channel: string): Phrase[] =>
  rows(session, 'phrase')
    .filter(p => p.channel === channel)
    .sort(byId)

/** All notes of a phrase in order of time. Loudness follows the square of the velocity. */
export function soundingNotes(session: Session, phrase: Phrase): Sounding[] {
  const { sampleRate, tempo } = settings(session)
  const at = (beat: number) => Math.round(frameOfBeat(tempo, beat, sampleRate))
  const out: Sounding[] = []
  for (let pass = 0; pass < phrase.repeats; pass++) {
    const begin = phrase.startBeat + pass * phrase.lengthBeats
    for (const [beat, length, key, velocity] of phrase.notes) {
      if (beat < phrase.lengthBeats)
        out.push({ start: at(begin + beat), end: at(begin + beat + length), key, gain: (velocity / 127) ** 2 })
    }
  }
  return out.sort((a, b) => a.start - b.start || a.key - b.key)
}

/** Frames to the end of the last note and what rings after it. */
export function phraseFrames(session: Session, phrase: Phrase): number {
  const { sampleRate } = settings(session)
  return (
    Math.max(0, ...soundingNotes(session, phrase).map(n => n.end)) + Math.round(VOICES[phrase.voice].tailS * sampleRate)
  )
}

const NAMES = ['C', 'C#', 'D', 'D#', 'E', 'F', 'F#', 'G', 'G#', 'A', 'A#', 'B']
/** 60 is C4. */
export const keyName = (key: number): string => `${NAMES[key % 12]}${Math.floor(key / 12) - 1}`

/** “C3 Eb3 G3” as keys; null where a word is no note. */
export function keysOf(text: string): number[] | null {
  const words = text.split(/[\s,]+/).filter(Boolean)
  const keys = words.map(w => {
    const m = /^([a-g])([#b♯♭]?)(-?\d)$/i.exec(w)
    if (!m) return -1
    const key =
      (Number(m[3]) + 1) * 12 +
      [9, 11, 0, 2, 4, 5, 7]['abcdefg'.indexOf(m[1].toLowerCase())] +
      (m[2] === '' ? 0 : /[#♯]/.test(m[2]) ? 1 : -1)
    return key >= 0 && key <= 127 ? key : -1
  })
  return words.length && keys.every(k => k >= 0) ? keys : null
}
