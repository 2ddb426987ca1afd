// AIFF and AIFC as sox and ffmpeg write them; what a file says about itself; bytes in any pieces.
import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, describe, expect, it } from 'vitest'
import { whiteNoise } from '../testing/sound'
import { AnyReader } from './anyReader'
import { WavEncoder, wavHeader } from './wav'

const folder = mkdtempSync(join(tmpdir(), 'nullet-aiff-'))
afterAll(() => rmSync(folder, { recursive: true, force: true }))
const FRAMES = 3001,
  RATE = 44100
const audio = [whiteNoise(FRAMES, 1), whiteNoise(FRAMES, 2)]
const source = join(folder, 'source.wav')
writeFileSync(
  source,
  Buffer.concat([wavHeader(2, RATE, FRAMES, '32f'), new WavEncoder('32f').encode(audio)] as Uint8Array[])
)

function read(bytes: Uint8Array, piece = bytes.length) {
  const reader = new AnyReader('theirs', bytes.length),
    legs: number[][] = []
  for (let at = 0; at < bytes.length; at += piece)
    reader.push(bytes.subarray(at, at + piece))?.forEach((leg, i) => (legs[i] ??= []).push(...leg))
  return { shape: reader.end(), legs, said: reader.said }
}

describe('AIFF and AIFC', () => {
  it.each([
    ['8 bits', 'sox', ['-b', '8'], 'x.aiff', 2 ** -7],
    ['16 bits', 'sox', ['-b', '16'], 'x.aiff', 2 ** -15],
    ['24 bits', 'sox', ['-b', '24'], 'x.aiff', 2 ** -23],
    ['32 bits', 'sox', ['-b', '32'], 'x.aiff', 2 ** -24],
    ['AIFC of 16 bits', 'sox', ['-b', '16'], 'x.aifc', 2 ** -15],
    ['floats', 'ffmpeg', ['-c:a', 'pcm_f32be'], 'f.aiff', 0],
    ['floats of 64 bits', 'ffmpeg', ['-c:a', 'pcm_f64be'], 'd.aiff', 0],
    ['AIFC, little-endian', 'ffmpeg', ['-c:a', 'pcm_s16le'], 's.aiff', 2 ** -15]
  ] as const)('of %s by %s are read', (_, tool, form, name, within) => {
    const path = join(folder, name)
    if (tool === 'sox') execFileSync('sox', ['-D', source, ...form, path])
    else execFileSync('ffmpeg', ['-v', 'error', '-y', '-i', source, ...form, path])
    const { shape, legs } = read(readFileSync(path), 777)
    expect(shape).toMatchObject({ legs: 2, sampleRate: RATE, frames: FRAMES })
    for (const [i, leg] of legs.entries()) {
      expect(leg).toHaveLength(FRAMES)
      for (let n = 0; n < FRAMES; n++) expect(Math.abs(leg[n]! - audio[i]![n]!)).toBeLessThanOrEqual(within * 1.01)
    }
  })

  it('of other rates say them', () => {
    for (const rate of [8000, 47999, 88200, 192000]) {
      const path = join(folder, 'rate.aiff')
      execFileSync('sox', ['-D', source, '-b', '24', path, 'rate', String(rate)])
      expect(read(readFileSync(path)).shape.sampleRate).toBe(rate)
    }
  })

  it('a name is kept', () => {
    const path = join(folder, 'named.aiff')
    execFileSync('ffmpeg', ['-v', 'error', '-y', '-i', source, '-metadata', 'title=Floor tom, close', path])
    expect(read(readFileSync(path), 100).said.title).toBe('Floor tom, close')
  })

  it.each([
    ['cut short', (b: Buffer) => b.subarray(0, b.length - 400), /“SSND” chunk/],
    ['within its head', (b: Buffer) => b.subarray(0, 20), /no “COMM” chunk/],
    ['of samples that nobody knows', (b: Buffer) => (b.write('FORM????AIFX'), b), /not an AIFF file/],
    ['that is none', () => Buffer.from('Dear reader'), /neither WAV, RF64, AIFF nor FLAC/],
    ['of three bytes', () => Buffer.from('FOR'), /neither WAV/],
    ['of nothing', () => Buffer.alloc(0), /the file is empty/]
  ])('a file %s is refused with the reason', (_, spoil, reason) => {
    const path = join(folder, 'x.aiff')
    execFileSync('sox', ['-D', source, '-b', '16', path])
    expect(() => read(spoil(readFileSync(path)))).toThrow(reason)
  })
})

describe('what a WAV says about itself', () => {
  it('when it was recorded and what it is called, before or behind its samples', () => {
    const path = join(folder, 'bext.wav')
    const said = ['-write_bext', '1', '-metadata', 'time_reference=158760000', '-metadata', 'title=Boom 12']
    execFileSync('ffmpeg', ['-v', 'error', '-y', '-i', source, ...said, '-c:a', 'pcm_s24le', path])
    for (const piece of [1000, 1e9])
      expect(read(readFileSync(path), piece).said).toEqual({ timeReference: 158_760_000, title: 'Boom 12' })
    // The same text chunk behind the samples.
    const text = Buffer.from('LIST\x14\0\0\0INFOINAM\x07\0\0\0Room 3\0\0', 'latin1')
    const { said: behind, shape } = read(Buffer.concat([readFileSync(source), text]), 500)
    expect([behind.title, shape.frames]).toEqual(['Room 3', FRAMES])
  })
})
