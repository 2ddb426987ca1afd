// Files written byte by byte as the standard has them.
import { describe, expect, it } from 'vitest'
import { Refusal } from '../foundation/refusal'
import { readMidi } from './midi'

const text = (s: string): number[] => [...s].map(c => c.charCodeAt(0))
const big = (value: number, bytes: number): number[] =>
  Array.from({ length: bytes }, (_, i) => (value >>> (8 * (bytes - 1 - i))) & 255)
const chunk = (id: string, body: number[]): number[] => [...text(id), ...big(body.length, 4), ...body]
function delta(ticks: number): number[] {
  const out = [ticks & 127]
  for (let rest = ticks >>> 7; rest; rest >>>= 7) out.unshift((rest & 127) | 128)
  return out
}
const TICKS = 96
const header = (tracks: number, division = TICKS): number[] =>
  chunk('MThd', [...big(1, 2), ...big(tracks, 2), ...big(division, 2)])
const meta = (type: number, body: number[]): number[] => [255, type, body.length, ...body]
const END = [0, ...meta(0x2f, [])]
/** Events with the ticks before each. */
const track = (...events: [ticks: number, event: number[]][]): number[] =>
  chunk('MTrk', [...events.flatMap(([ticks, event]) => [...delta(ticks), ...event]), ...END])
const on = (key: number, velocity = 100, channel = 0) => [0x90 + channel, key, velocity]
const off = (key: number, channel = 0) => [0x80 + channel, key, 0]
const file = (...chunks: number[][]): Uint8Array => Uint8Array.from(chunks.flat())
const read = (...tracks: number[][]) => readMidi(file(header(tracks.length), ...tracks), 'Tune.mid')
const refusal = (bytes: Uint8Array): string => {
  try {
    readMidi(bytes, 'Tune.mid')
  } catch (error) {
    expect(error).toBeInstanceOf(Refusal)
    expect((error as Refusal).toJSON()).toMatchObject({ error: 'badFile', kept: 'Nothing of it was brought in.' })
    return (error as Refusal).message
  }
  throw new Error('it was read')
}

describe('notes', () => {
  it('are told in beats, with key and velocity, in order of time and then of pitch', () => {
    const { tracks } = read(
      track([0, on(64, 90)], [0, on(60, 80)], [48, off(60)], [48, off(64)], [192, on(67, 1)], [24, on(67, 0)])
    )
    expect(tracks[0]!.notes).toEqual([
      [0, 0.5, 60, 80],
      [0, 1, 64, 90],
      [3, 0.25, 67, 1]
    ])
    expect(tracks[0]).toMatchObject({ lengthBeats: 4, drums: false, name: 'Tune 1' })
  })

  it('of one key that are held twice end in the order in which they began; each channel has its own', () => {
    const { tracks } = read(
      track([0, on(60, 10)], [96, on(60, 20)], [96, off(60)], [0, on(60, 30, 1)], [96, off(60)], [96, off(60, 1)])
    )
    expect(tracks[0]!.notes).toEqual([
      [0, 2, 60, 10],
      [1, 2, 60, 20],
      [2, 2, 60, 30]
    ])
  })

  it('that are never let go end with the track; those that end as they begin have a length', () => {
    const { tracks } = read(track([0, on(60)], [0, on(62)], [0, off(62)], [192, meta(1, text('words'))]))
    expect(tracks[0]!.notes).toEqual([
      [0, 2, 60, 100],
      [0, 0.001, 62, 100]
    ])
  })

  it('an end without a beginning is none', () => {
    expect(read(track([0, off(60)], [0, on(61)], [96, off(61)])).tracks[0]!.notes).toHaveLength(1)
  })

  it('on channel ten are drums where they are most of a track', () => {
    const of = (drums: number, others: number) =>
      read(
        track(
          ...Array.from({ length: drums }, (): [number, number[]][] => [
            [0, on(38, 99, 9)],
            [24, off(38, 9)]
          ]).flat(),
          ...Array.from({ length: others }, (): [number, number[]][] => [
            [0, on(50)],
            [24, off(50)]
          ]).flat()
        )
      ).tracks[0]!.drums
    expect([of(3, 0), of(2, 1), of(1, 1), of(0, 2)]).toEqual([true, true, false, false])
  })

  it('beyond twenty thousand stay out, and that is said', () => {
    const many = Array.from({ length: 20_003 }, (): [number, number[]][] => [
      [0, on(60)],
      [1, off(60)]
    ]).flat()
    const { tracks, notes } = read(track([0, meta(3, text('Rain'))], ...many))
    expect(tracks[0]!.notes).toHaveLength(20_000)
    expect(notes).toEqual(['“Rain” has 20003 notes; the first 20000 came in'])
    expect(read(track(...many.slice(0, 40_000))).notes).toEqual([])
  })
})

describe('what a file says of itself', () => {
  it('names its tracks; those without notes are left out, those without a name are numbered', () => {
    const note: [number, number[]][] = [
      [0, on(60)],
      [96, off(60)]
    ]
    const { tracks } = readMidi(
      file(
        header(3),
        track([0, meta(3, text('Tempo'))]),
        track([0, meta(3, text('  Bass '))], ...note),
        track(...note)
      ),
      'Song.MIDI'
    )
    expect(tracks.map(t => t.name)).toEqual(['Bass', 'Song 3'])
  })

  it('has tempo where it changes, 120 where it says none, and bounds', () => {
    const note: [number, number[]][] = [
      [0, on(60)],
      [96, off(60)]
    ]
    const tempo = (...us: [number, number][]) =>
      read(track(...us.map(([ticks, t]): [number, number[]] => [ticks, meta(0x51, big(t, 3))]), ...note)).tempo
    expect(tempo()).toEqual([[0, 120]])
    expect(tempo([0, 500_000], [192, 1_000_000])).toEqual([
      [0, 120],
      [2, 60]
    ])
    expect(tempo([96, 400_000])).toEqual([
      [0, 120],
      [1, 150]
    ])
    expect(tempo([0, 16_000_000], [96, 1000])).toEqual([
      [0, 20],
      [1, 400]
    ])
  })

  it('has beats in a bar from its first time signature', () => {
    const bars = (...signs: number[][]) =>
      read(track(...signs.map((s): [number, number[]] => [0, meta(0x58, [...s, 24, 8])]), [0, on(60)], [96, off(60)]))
        .beatsPerBar
    expect([bars(), bars([3, 2]), bars([6, 3]), bars([7, 3]), bars([5, 2], [3, 2]), bars([1, 4])]).toEqual([
      4, 3, 3, 4, 5, 1
    ])
  })

  it('other chunks and a few bytes behind the last are passed over, a wrong number of tracks is put right', () => {
    const note = track([0, on(60)], [96, off(60)])
    const bytes = file(header(9), chunk('XFIH', [1, 2, 3]), note, chunk('JUNK', []), note, [1, 2, 3])
    expect(readMidi(bytes, 'Tune.mid').tracks).toHaveLength(2)
    expect(readMidi(Uint8Array.from([7, ...bytes]).subarray(1), 'Tune.mid').tracks).toHaveLength(2)
  })
})

describe('what cannot be read', () => {
  const note = track([0, on(60)], [96, off(60)])
  it('is said with its place, and nothing is brought in', () => {
    expect(refusal(file([1, 2, 3]))).toMatch(/“Tune\.mid” is not .*: it has 3 bytes, less than a header/)
    expect(refusal(file(chunk('RIFF', Array<number>(20).fill(0))))).toMatch(/it begins with “RIFF” instead of “MThd”/)
    expect(refusal(file(chunk('\x01\x02ab', Array<number>(20).fill(0))))).toMatch(/it begins with “\.\.ab”/)
    expect(refusal(file(chunk('MThd', [0, 1, 0, 1]), note))).toMatch(/its header has 4 bytes instead of 6/)
    const whole = file(header(1), note)
    expect(refusal(whole.subarray(0, whole.length - 1))).toMatch(
      /its chunk 2 \(“MTrk”\) says 12 bytes, and the file ends after 11/
    )
    expect(refusal(file(header(1, 0xe728), note))).toMatch(/it counts in frames of film, not in beats/)
    expect(refusal(file(header(1), track()))).toMatch(/there is no note in it/)
    expect(refusal(file(header(0)))).toMatch(/there is no note in it/)
  })

  it('a track that ends in the middle of an event is refused, too', () => {
    expect(refusal(file(header(1), chunk('MTrk', [0, 0x90, 60])))).toMatch(/“Tune\.mid” is not a Standard MIDI File/)
  })
})
