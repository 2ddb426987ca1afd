// FLAC as ffmpeg and sox write it, in pieces, against the samples that went in; broken ones say so.
import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { AnyReader } from '@nullet/core/formats/anyReader'
import { flacRate } from '@nullet/core/formats/flacHead'
import { WavEncoder, wavHeader } from '@nullet/core/formats/wav'
import { whiteNoise } from '@nullet/core/testing/sound'
import { FlacReader, flacReady } from './flacReader'

const folder = mkdtempSync(join(tmpdir(), 'nullet-flac-'))
afterAll(() => rmSync(folder, { recursive: true, force: true }))
beforeAll(flacReady)
const FRAMES = 200_001

function made(name: string, legs: number, form: string[], rate = 48000): { bytes: Buffer; audio: Float32Array[] } {
  const audio = Array.from({ length: legs }, (_, i) => whiteNoise(FRAMES, i + 1))
  const source = join(folder, 'source.wav'),
    path = join(folder, name)
  writeFileSync(
    source,
    Buffer.concat([wavHeader(legs, rate, FRAMES, '32f'), new WavEncoder('32f').encode(audio)] as Uint8Array[])
  )
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-i', source, '-c:a', 'flac', ...form, path])
  return { bytes: readFileSync(path), audio }
}
function read(bytes: Uint8Array, piece: number) {
  const reader = new AnyReader('theirs.flac', bytes.length, { fLaC: name => new FlacReader(name) })
  const legs: Float32Array[][] = []
  const take = (audio: Float32Array[] | null) => audio?.forEach((leg, i) => (legs[i] ??= []).push(leg))
  for (let at = 0; at < bytes.length; at += piece) take(reader.push(bytes.subarray(at, at + piece)))
  take(reader.rest())
  return {
    shape: reader.end(),
    said: reader.said,
    legs: legs.map(parts => Float32Array.from(parts.flatMap(p => [...p])))
  }
}

describe('FLAC', () => {
  it.each([
    ['16 bits, mono', 1, ['-sample_fmt', 's16'], 2 ** -15, 1 << 20],
    ['24 bits, stereo', 2, ['-sample_fmt', 's32', '-bits_per_raw_sample', '24'], 2 ** -23, 5000],
    ['16 bits, six legs', 6, ['-sample_fmt', 's16'], 2 ** -15, 70_001]
  ] as const)('of %s is read to the sample, in any pieces', (name, legs, form, within, piece) => {
    const { bytes, audio } = made(`${name}.flac`, legs, [...form])
    const { shape, legs: out } = read(bytes, piece)
    expect(shape).toMatchObject({ legs, sampleRate: 48000, frames: FRAMES })
    for (const [i, leg] of out.entries()) {
      expect(leg).toHaveLength(FRAMES)
      let worst = 0
      for (let n = 0; n < FRAMES; n++) worst = Math.max(worst, Math.abs(leg[n]! - audio[i]![n]!))
      expect(worst).toBeLessThanOrEqual(within * 1.01)
    }
  })

  it('of 8 bits by sox is read', () => {
    const path = join(folder, 'eight.flac')
    execFileSync('sox', ['-n', '-r', '8000', '-b', '8', path, 'synth', '0.5', 'sine', '100', 'gain', '-6'])
    const { shape, legs } = read(readFileSync(path), 999)
    expect(shape).toMatchObject({ legs: 1, sampleRate: 8000, bits: 8, frames: 4000 })
    expect(Math.max(...legs[0]!)).toBeCloseTo(0.5, 1)
  })

  it('says its rate by its first bytes, and its title', () => {
    const { bytes } = made('said.flac', 1, ['-metadata', 'title=Oh left'], 88200)
    expect(flacRate(bytes.subarray(0, 64))).toBe(88200)
    expect(read(bytes, 1 << 16).said.title).toBe('Oh left')
  })

  it.each([
    ['cut short', (b: Buffer) => b.subarray(0, b.length >> 1), /announces 200001 samples a leg and ends after|broken/],
    ['cut within its head', (b: Buffer) => b.subarray(0, 30), /ends within its head/],
    [
      'with noise in the middle',
      (b: Buffer) => Buffer.concat([b.subarray(0, 60_000), Buffer.alloc(40_000, 7), b.subarray(100_000)]),
      /broken after|announces/
    ]
  ])('a file %s is refused with the reason', (_, spoil, reason) => {
    const { bytes } = made('spoilt.flac', 2, [])
    expect(() => read(spoil(bytes), 9000)).toThrow(reason)
  })
})
