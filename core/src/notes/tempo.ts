// Beats and frames: a tempo map of beats from which a tempo holds. Beats are quarters and count from 0.
export type TempoMap = readonly (readonly [beat: number, bpm: number])[]

/** Frame of source time (with a fraction) at which a beat falls. */
export function frameOfBeat(tempo: TempoMap, beat: number, rate: number): number {
  let frame = 0
  for (let i = 0; i < tempo.length; i++) {
    const [from, bpm] = tempo[i],
      end = Math.min(beat, tempo[i + 1]?.[0] ?? Infinity)
    if (end <= from) break
    frame += ((end - from) * 60 * rate) / bpm
  }
  return frame
}

export function beatOfFrame(tempo: TempoMap, frame: number, rate: number): number {
  let at = 0
  for (let i = 0; i < tempo.length; i++) {
    const [from, bpm] = tempo[i],
      next = tempo[i + 1]
    const length = next ? ((next[0] - from) * 60 * rate) / bpm : Infinity
    if (frame < at + length || !next) return from + ((frame - at) * bpm) / (60 * rate)
    at += length
  }
  return 0
}

/** The nearest frame on a grid of so many beats. */
export const snapped = (tempo: TempoMap, frame: number, gridBeats: number, rate: number): number =>
  Math.round(frameOfBeat(tempo, Math.round(beatOfFrame(tempo, frame, rate) / gridBeats) * gridBeats, rate))

/** “bar.beat”, both from 1, of a beat. */
export const barText = (beat: number, beatsPerBar: number): string => {
  const whole = Math.floor(beat + 1e-6)
  return `${Math.floor(whole / beatsPerBar) + 1}.${(whole % beatsPerBar) + 1}`
}

/** Milliseconds of a beat at the start of the session. */
export const beatMs = (tempo: TempoMap) => 60000 / tempo[0][1]
