// Notes: beats and frames, phrases, voices through the engine, Standard MIDI Files.
import { writeMidi, type MidiEvent } from 'midi-file'
import { describe, expect, it } from 'vitest'
import { applyEdit } from '../edits/apply'
import { compile } from '../compile/compile'
import { peak, renderTaps, rmsDb } from '../testing/sound'
import { readMidi } from '../formats/midi'
import { spectrum } from '../measure/spectrum'
import { fingerprint } from '../print/fingerprint'
import { sessionFrames } from '../graph/sessionLength'
import type { Note } from '../session/rows'
import { Sketch } from '../testing/sketch'
import { keyName, keysOf, soundingNotes } from './phrases'
import { barText, beatOfFrame, frameOfBeat, snapped, type TempoMap } from './tempo'

const MAP: TempoMap = [
  [0, 120],
  [8, 60],
  [10, 90]
]

describe('beats and frames', () => {
  it('8 beats at 120, 2 at 60, then 90: by arithmetic', () => {
    expect(frameOfBeat(MAP, 8, 48000)).toBe(4 * 48000)
    expect(frameOfBeat(MAP, 10, 48000)).toBe(6 * 48000)
    expect(frameOfBeat(MAP, 13, 48000)).toBeCloseTo(8 * 48000, 6)
  })
  it('there and back', () => {
    for (let beat = 0; beat < 20; beat += 0.37)
      expect(beatOfFrame(MAP, frameOfBeat(MAP, beat, 44100), 44100)).toBeCloseTo(beat, 9)
  })
  it('snaps to the nearest frame of the grid and writes bars', () => {
    expect(snapped(MAP, 23000, 1, 48000)).toBe(24000)
    expect(snapped(MAP, 4 * 48000 + 30000, 1, 48000)).toBe(5 * 48000)
    expect([0, 3, 4, 9.5].map(b => barText(b, 4))).toEqual(['1.1', '1.4', '2.1', '3.2'])
  })
})

describe('keys by name', () => {
  it('60 is C4, flats and sharps', () => {
    expect(keysOf('C4 eb3, G#2 A-1')).toEqual([60, 51, 44, 9])
    expect(keyName(60) + keyName(70)).toBe('C4A#4')
    expect([keysOf('H2'), keysOf(''), keysOf('C4 x')]).toEqual([null, null, null])
  })
})

function noteTrack(notes: Note[], fields = {}, session = {}) {
  const k = new Sketch('test', session)
  k.bus('main', { role: 'main', layout: ['M'] })
  k.track('n')
  k.main('n', 'main')
  k.add('phrase', { id: 'p', channel: 'n', notes, ...fields })
  return k
}
const render = async (k: Sketch, frames: number, from = 0) =>
  (await renderTaps(k.session, {}, frames, { taps: [{ channel: 'main', tap: 'post' }] }, undefined, from)).get(
    'main@post'
  )![0]
/** Strongest frequency of a stretch. */
function loudestHz(x: Float32Array, rate: number): number {
  const n = 32768,
    h = spectrum(x.subarray(0, n), n)
  let best = 1
  for (let i = 1; i < n / 2; i++)
    if (h[2 * i] ** 2 + h[2 * i + 1] ** 2 > h[2 * best] ** 2 + h[2 * best + 1] ** 2) best = i
  return (best * rate) / n
}

describe('voices', () => {
  it.each([44100, 48000, 96000])('a held key sounds at its frequency at %i Hz', async rate => {
    for (const voice of ['pad', 'pluck']) {
      const x = await render(noteTrack([[0, 8, 69, 100]], { voice }, { sampleRate: rate }), rate)
      expect(Math.abs(loudestHz(x.subarray(4000), rate) - 440)).toBeLessThan((rate / 32768) * 1.5)
      expect(peak(x)).toBeGreaterThan(0.05)
      expect(peak(x)).toBeLessThan(1)
    }
  })

  it('begins at the frame of its beat, and is silent before it and after its tail', async () => {
    const x = await render(
      noteTrack([[1, 1, 60, 127]], { voice: 'drum', startBeat: 1 }, { tempo: [[0, 150]] }),
      3 * 48000
    )
    const start = ((2 * 60) / 150) * 48000
    expect(peak(x.subarray(0, start + 1))).toBe(0)
    expect(peak(x.subarray(start, start + 480))).toBeGreaterThan(0.3)
    expect(peak(x.subarray(start + 48000))).toBe(0)
  })

  it('repeats follow the tempo map', () => {
    const k = noteTrack(
      [[0, 0.5, 40, 127]],
      { lengthBeats: 4, repeats: 3 },
      {
        tempo: [
          [0, 120],
          [4, 60]
        ]
      }
    )
    expect(soundingNotes(k.session, k.session.phrase.p).map(n => n.start / 48000)).toEqual([0, 2, 6])
    expect(sessionFrames(k.session)).toBe(Math.round(6.5 * 48000) + Math.round(0.8 * 48000))
  })

  it('twice the velocity is 12 dB more', async () => {
    const at = async (velocity: number) =>
      rmsDb((await render(noteTrack([[0, 4, 57, velocity]]), 48000)).subarray(20000))
    expect((await at(100)) - (await at(50))).toBeCloseTo(12.04, 2)
  })

  it('the same samples wherever a render begins, and through reverb', async () => {
    const k = noteTrack(
      [
        [0, 1, 48, 90],
        [0.5, 2, 60, 80],
        [3, 0.25, 72, 127]
      ],
      { voice: 'pluck', repeats: 4 }
    )
    k.slot('n', 'reverb', {}, { mix: 0.4 })
    const whole = await render(k, 150000)
    expect(await render(k, 40000, 90001)).toEqual(whole.slice(90001, 130001))
  })

  it('a note track with a clip plays both', async () => {
    const k = noteTrack([[0, 4, 69, 100]])
    k.medium('x', 1, 48000)
    k.add('clip', { id: 'c', channel: 'n', medium: 'x' })
    const media = { x: [new Float32Array(48000).fill(0.1)] }
    const both = (await renderTaps(k.session, media, 48000, { taps: [{ channel: 'main', tap: 'post' }] })).get(
      'main@post'
    )![0]
    const alone = await render(noteTrack([[0, 4, 69, 100]]), 48000)
    for (let n = 0; n < 48000; n += 1000) expect(both[n] - alone[n]).toBeCloseTo(0.1, 5)
  })

  it('edited notes are another fingerprint and another operation; parked ones are not computed', () => {
    const a = noteTrack([[0, 1, 60, 90]]),
      b = noteTrack([[0, 1, 61, 90]])
    const of = (k: Sketch) => fingerprint(k.session, 'main', 'post', { seed: 1, from: 0, frames: 9 }).hash
    expect(of(a)).not.toBe(of(b))
    const ops = (k: Sketch) =>
      compile(k.session, { taps: [{ channel: 'main', tap: 'post' }] }).ops.filter(o => o.kind === 'voice')
    expect(ops(a)[0].key).not.toBe(ops(b)[0].key)
    a.session.channel.n.parked = true
    expect(ops(a)).toEqual([])
  })
})

describe('edits', () => {
  it('phrases are made, changed, and go with their track', () => {
    const made = applyEdit(noteTrack([]).session, {
      verb: 'setPhrase',
      args: { id: 'q', channel: 'n', fields: { as: 'steps', voice: 'drum', notes: [[0, 0.25, 36, 100]] } }
    }).session
    expect(made.phrase.q).toMatchObject({ voice: 'drum', repeats: 1, lengthBeats: 4 })
    expect(Object.keys(applyEdit(made, { verb: 'removePhrases', args: { ids: ['p'] } }).session.phrase)).toEqual(['q'])
    expect(Object.keys(applyEdit(made, { verb: 'removeChannels', args: { ids: ['n'] } }).session.phrase)).toEqual([])
    expect(
      Object.keys(
        applyEdit(made, {
          verb: 'duplicateChannels',
          args: { copies: [{ of: 'n', id: 'm', name: 'm', order: 'z' }], along: ['clips'] }
        }).session.phrase
      ).sort()
    ).toEqual(['m/p', 'm/q', 'p', 'q'])
  })
  it.each([
    ['a tempo map that does not begin at 0', { tempo: [[4, 120]] }, /begins at beat 0/],
    [
      'beats that do not rise',
      {
        tempo: [
          [0, 120],
          [8, 90],
          [8, 60]
        ]
      },
      /beats rise/
    ],
    ['a tempo beyond all measure', { tempo: [[0, 4000]] }, /tempo/]
  ])('%s is refused', (_, args, why) =>
    expect(() => applyEdit(noteTrack([]).session, { verb: 'setSession', args })).toThrow(why)
  )
})

describe('delay by note', () => {
  it('a dotted eighth at 90 is half a second', async () => {
    const k = noteTrack([[0, 0.25, 60, 127]], { voice: 'drum' }, { tempo: [[0, 90]] })
    k.slot('n', 'delay', { note: '1/8 dotted', feedback: 0, lowCutHz: 10, highCutHz: 20000 })
    const wet = await render(k, 60000),
      dry = await render(noteTrack([[0, 0.25, 60, 127]], { voice: 'drum' }, { tempo: [[0, 90]] }), 60000)
    expect(wet.subarray(24000, 40000)).toEqual(dry.subarray(0, 16000))
  })
})

const TRACK: MidiEvent[] = [
  { deltaTime: 0, type: 'trackName', text: 'Bells', meta: true },
  { deltaTime: 0, type: 'setTempo', microsecondsPerBeat: 600000, meta: true },
  { deltaTime: 0, type: 'noteOn', channel: 0, noteNumber: 60, velocity: 90 },
  { deltaTime: 0, type: 'noteOn', channel: 0, noteNumber: 64, velocity: 50 },
  { deltaTime: 480, type: 'noteOff', channel: 0, noteNumber: 60, velocity: 0 },
  { deltaTime: 240, type: 'noteOn', channel: 0, noteNumber: 64, velocity: 0 },
  { deltaTime: 240, type: 'setTempo', microsecondsPerBeat: 500000, meta: true },
  { deltaTime: 0, type: 'noteOn', channel: 0, noteNumber: 67, velocity: 127 },
  { deltaTime: 960, type: 'endOfTrack', meta: true }
] as MidiEvent[]
const file = (tracks: MidiEvent[][], ticksPerBeat = 480) =>
  Uint8Array.from(writeMidi({ header: { format: 1, numTracks: tracks.length, ticksPerBeat }, tracks }))

describe('Standard MIDI Files', () => {
  it('notes in beats, what is not let go ends with the track, the tempo map', () => {
    const read = readMidi(file([TRACK]), 'bells.mid')
    expect(read.tracks).toEqual([
      {
        name: 'Bells',
        lengthBeats: 4,
        drums: false,
        notes: [
          [0, 1, 60, 90],
          [0, 1.5, 64, 50],
          [2, 2, 67, 127]
        ]
      }
    ])
    expect(read.tempo).toEqual([
      [0, 100],
      [2, 120]
    ])
  })
  it('other chunks between the tracks are passed over', () => {
    const bytes = file([TRACK]),
      odd = Uint8Array.from([88, 70, 73, 72, 0, 0, 0, 3, 1, 2, 3])
    expect(
      readMidi(Uint8Array.from([...bytes.subarray(0, 14), ...odd, ...bytes.subarray(14)]), 'x.mid').tracks
    ).toHaveLength(1)
  })
  it.each([
    [
      'a chunk that is cut off',
      () => file([TRACK]).subarray(0, 60),
      /chunk 2 \(“MTrk”\) says 7?\d+ bytes, and the file ends after 38/
    ],
    ['something else', () => new TextEncoder().encode('RIFF....WAVEfmt '), /begins with “RIFF”/],
    ['nothing', () => new Uint8Array(0), /“x.mid” is not a Standard MIDI File/],
    [
      'an event that is none',
      () => {
        const b = file([TRACK])
        b[23] = 0xf4
        b[22] = 0
        return b
      },
      /not a Standard MIDI File/
    ],
    ['no notes', () => file([[{ deltaTime: 0, type: 'endOfTrack', meta: true }]]), /no note in it/]
  ])('%s is refused by name', (_, bytes, why) => expect(() => readMidi(bytes(), 'x.mid')).toThrow(why))
})
