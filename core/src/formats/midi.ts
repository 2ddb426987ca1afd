// Standard MIDI Files: notes in beats a track, and the tempo map. The chunks are checked here first, for a file that
// ends in the middle of one would be read as something else.
import { parseMidi, type MidiEvent } from 'midi-file'
import { Refusal } from '../foundation/refusal'
import type { Note } from '../session/rows'

export interface MidiTrack {
  name: string
  notes: Note[]
  lengthBeats: number
  /** Channel 10 of the file: percussion. */ drums: boolean
}
export interface MidiFile {
  tracks: MidiTrack[]
  tempo: [number, number][]
  beatsPerBar: number
  notes: string[]
}

const bad = (name: string, why: string) =>
  new Refusal(
    'badFile',
    `“${name}” is not a Standard MIDI File that can be read: ${why}`,
    [],
    'Nothing of it was brought in.'
  )

/** Header and track chunks with everything else left out, as the standard asks of readers. */
function knownChunks(bytes: Uint8Array, name: string): Uint8Array {
  if (bytes.length < 14) throw bad(name, `it has ${bytes.length} bytes, less than a header`)
  const kept: Uint8Array[] = []
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  for (let at = 0, n = 1; at < bytes.length; n++) {
    // A few bytes after the last chunk harm nobody.
    if (bytes.length - at < 8 && n > 1) break
    const id = String.fromCharCode(...bytes.subarray(at, at + 4)),
      length = view.getUint32(at + 4)
    if (n === 1 && id !== 'MThd')
      throw bad(name, `it begins with “${id.replace(/[^\x20-\x7e]/g, '.')}” instead of “MThd”`)
    if (at + 8 + length > bytes.length)
      throw bad(name, `its chunk ${n} (“${id}”) says ${length} bytes, and the file ends after ${bytes.length - at - 8}`)
    if (id === 'MThd' && length < 6) throw bad(name, `its header has ${length} bytes instead of 6`)
    if (id === 'MThd' || id === 'MTrk') kept.push(bytes.subarray(at, at + 8 + length))
    at += 8 + length
  }
  const out = new Uint8Array(kept.reduce((sum, c) => sum + c.length, 0))
  let at = 0
  for (const c of kept) {
    out.set(c, at)
    at += c.length
  }
  // The number of tracks that are there, whatever the header says.
  new DataView(out.buffer).setUint16(10, kept.length - 1)
  return out
}

/** @throws Refusal that names the file and the chunk */
export function readMidi(bytes: Uint8Array, name: string): MidiFile {
  const chunks = knownChunks(bytes, name)
  let parsed
  try {
    parsed = parseMidi(chunks)
  } catch (error) {
    throw bad(name, error instanceof Error ? error.message : String(error))
  }
  const ticks = parsed.header.ticksPerBeat
  if (!ticks) throw bad(name, 'it counts in frames of film, not in beats')
  const tempo = new Map<number, number>()
  let beatsPerBar = 4
  const dropped: string[] = []
  const tracks = parsed.tracks.flatMap((events, index): MidiTrack[] => {
    const read = readTrack(events, ticks, tempo)
    if (read.beatsPerBar) beatsPerBar = read.beatsPerBar
    if (!read.notes.length) return []
    if (read.notes.length > 20000) {
      dropped.push(`“${read.name || `track ${index + 1}`}” has ${read.notes.length} notes; the first 20000 came in`)
      read.notes.length = 20000
    }
    return [
      {
        name: read.name || `${name.replace(/\.midi?$/i, '')} ${index + 1}`,
        notes: read.notes,
        lengthBeats: Math.max(1, Math.ceil(Math.max(...read.notes.map(([beat, length]) => beat + length)) - 1e-6)),
        drums: read.drums
      }
    ]
  })
  if (!tracks.length) throw bad(name, 'there is no note in it')
  if (!tempo.has(0)) tempo.set(0, 120)
  return { tracks, tempo: [...tempo].sort((a, b) => a[0] - b[0]), beatsPerBar, notes: dropped }
}

function readTrack(events: MidiEvent[], ticks: number, tempo: Map<number, number>) {
  const notes: Note[] = [],
    held = new Map<string, { beat: number; velocity: number }[]>()
  let at = 0,
    name = '',
    beatsPerBar = 0,
    onTen = 0
  const release = (key: number, channel: number, end: number) => {
    const from = held.get(`${channel}/${key}`)?.shift()
    if (from) {
      notes.push([from.beat, Math.max(0.001, end - from.beat), key, from.velocity])
      if (channel === 9) onTen++
    }
  }
  for (const e of events) {
    at += e.deltaTime
    const beat = at / ticks
    if (e.type === 'trackName') name = e.text.trim().slice(0, 300)
    else if (e.type === 'setTempo') tempo.set(beat, Math.max(20, Math.min(400, 6e7 / e.microsecondsPerBeat)))
    else if (e.type === 'timeSignature')
      beatsPerBar ||= Math.max(1, Math.min(32, Math.round((e.numerator * 4) / e.denominator)))
    else if (e.type === 'noteOn' && e.velocity > 0) {
      const key = `${e.channel}/${e.noteNumber}`
      if (!held.has(key)) held.set(key, [])
      held.get(key)!.push({ beat, velocity: e.velocity })
    } else if (e.type === 'noteOff' || e.type === 'noteOn') release(e.noteNumber, e.channel, beat)
  }
  // What is never let go ends with the track.
  for (const [key, list] of held)
    for (const _ of [...list]) {
      const [channel, note] = key.split('/').map(Number)
      release(note, channel, at / ticks)
    }
  notes.sort((a, b) => a[0] - b[0] || a[2] - b[2])
  return { name, notes, beatsPerBar, drums: onTen > notes.length / 2 }
}
