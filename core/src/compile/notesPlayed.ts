// What the voices of a note track play, beside its clips.
import { gainOf } from '../foundation/elementary'
import { soundingNotes } from '../notes/phrases'
import { VOICES, voiceParams } from '../notes/voices'
import type { PlanBuilder } from '../plan/builder'
import { rowKey, type Signal } from '../plan/operations'
import type { Channel, Phrase } from '../session/rows'
import { settings, type Session } from '../session/session'
import { clipsKey } from './plan'

/**
 * The same on every leg.
 * @param legs the gain of each
 * @returns the frame of the first note too, ∞ where there is none
 */
export function notesPlayed(
  builder: PlanBuilder,
  session: Session,
  channel: Channel,
  phrases: readonly Phrase[],
  legs: readonly number[],
  hasClips: boolean
): { signal: Signal; firstNote: number } {
  const rate = settings(session).sampleRate
  let firstNote = Infinity
  const voices = phrases.map(phrase => {
    const notes = soundingNotes(session, phrase)
    // They are in order of time.
    firstNote = Math.min(firstNote, notes[0]?.start ?? Infinity)
    return builder.voice(
      `${rowKey('phrase', phrase.id)}/voice`,
      voiceParams(VOICES[phrase.voice], notes, gainOf(phrase.levelDb), rate)
    )
  })
  const unity = channel.layout.map(() => 1)
  const clips = hasClips ? builder.source(clipsKey(channel), channel.layout, unity) : null
  const made = legs.map((gain, leg) =>
    builder.mix(
      `${rowKey('channel', channel.id)}/notes/${leg}`,
      [...(clips ? [clips.legs[leg]] : []), ...voices].map(from => ({ leg: from, gain }))
    )
  )
  return { signal: { legs: made, layout: channel.layout, latency: 0 }, firstNote }
}
