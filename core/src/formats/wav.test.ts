import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import { rmsDb, sine, whiteNoise } from '../testing/sound'
import { Refusal } from '../foundation/refusal'
import { WavEncoder, wavHeader, WavReader, type Depth } from './wav'

const folder = mkdtempSync(join(tmpdir(), 'nullet-wav-'))

function file(legs: Float32Array[], depth: Depth, rate = 48000, dither = true): Uint8Array {
  const header = wavHeader(legs.length, rate, legs[0].length, depth)
  const body = new WavEncoder(depth, dither).encode(legs)
  const out = new Uint8Array(header.length + body.length)
  out.set(header); out.set(body, header.length)
  return out
}

function read(bytes: Uint8Array, piece = 1000, total: number | null = bytes.length): Float32Array[] {
  const reader = new WavReader('test.wav', total)
  const parts: Float32Array[][] = []
  for (let at = 0; at < bytes.length; at += piece) { const a = reader.push(bytes.subarray(at, at + piece)); if (a) parts.push(a) }
  const { legs } = reader.end()
  return Array.from({ length: legs }, (_, i) => Float32Array.from(parts.flatMap(p => [...p[i]])))
}

const refusal = (act: () => unknown): string => { try { act() } catch (e) { if (e instanceof Refusal) return e.message; throw e } throw new Error('was accepted') }

describe('reading what we write', () => {
  it.each([1, 2, 6])('32-bit float is exact, %i legs, in pieces of any size', legs => {
    const audio = Array.from({ length: legs }, (_, i) => whiteNoise(777, i))
    for (const piece of [1, 7, 100000]) expect(read(file(audio, '32f'), piece)).toEqual(audio)
  })

  it.each([[16, 1 / 32768], [24, 1 / 8388608]] as const)('%i bits without dither is within half a step', (depth, step) => {
    const audio = [whiteNoise(500, 3)]
    read(file(audio, depth, 48000, false))[0].forEach((x, n) => expect(Math.abs(x - audio[0][n])).toBeLessThanOrEqual(step / 2 + 1e-9))
  })
})

describe('dither', () => {
  it('at 24 bits leaves −144.5 ± 0.3 dBFS whose mean and variance do not follow the signal', () => {
    for (const audio of [sine(48000, 997, 0.3), new Float32Array(48000).fill(1.3e-7), sine(48000, 100, 1e-7)]) {
      const out = read(file([audio], 24))[0]
      const error = Float64Array.from(out, (v, n) => v - audio[n])
      expect(Math.abs(rmsDb(error) + 144.49)).toBeLessThan(0.3)
      expect(Math.abs(error.reduce((a, b) => a + b) / error.length)).toBeLessThan(1e-9)
    }
  })
})

describe('other programs', () => {
  const audio = [sine(4800, 440, 0.5), sine(4800, 660, 0.25)]
  it.each([16, 24, '32f'] as const)('sox reads our %s-bit files with the same levels', depth => {
    const path = join(folder, `ours-${depth}.wav`)
    writeFileSync(path, file(audio, depth))
    const raw = execFileSync('sox', ['-D', path, '-t', 'f32', '-'], { maxBuffer: 1e8 })
    const samples = new Float32Array(raw.buffer, raw.byteOffset, raw.length / 4)
    for (let n = 0; n < 4800; n += 100) expect(samples[2 * n]).toBeCloseTo(audio[0][n], 4)
  })

  it.each([['16', ['-b', '16']], ['24', ['-b', '24']], ['32', ['-b', '32']], ['float', ['-e', 'floating-point', '-b', '32']]])('sox files of %s bits are read', (name, form) => {
    const source = join(folder, 'source.wav'), path = join(folder, `theirs-${name}.wav`)
    writeFileSync(source, file(audio, '32f'))
    execFileSync('sox', ['-D', source, ...form, path])
    const out = read(readFileSync(path))
    expect(out[1][1000]).toBeCloseTo(audio[1][1000], 3)
  })

  it('an extensible header of many legs written by ffmpeg is read', () => {
    const path = join(folder, 'six.wav')
    execFileSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', 'sine=440:d=0.1:r=44100', '-af', 'pan=5.1|c0=c0|c1=c0|c2=c0|c3=c0|c4=c0|c5=c0', '-c:a', 'pcm_s24le', path])
    expect(read(readFileSync(path))).toHaveLength(6)
  })

  it('ffmpeg reads a 64-bit header', () => {
    const header = wavHeader(2, 48000, 600_000_000, '32f')
    expect(String.fromCharCode(...header.subarray(0, 4))).toBe('RF64')
    const path = join(folder, 'long.wav')
    writeFileSync(path, header)
    const said = execFileSync('ffprobe', ['-v', 'error', '-show_entries', 'stream=channels,sample_rate', '-of', 'csv=p=0', path]).toString()
    expect(said.trim()).toBe('48000,2')
  })
})

describe('bad files are refused with the chunk and the offset', () => {
  const good = () => file([whiteNoise(100, 1)], '32f')
  const edited = (change: (v: DataView, bytes: Uint8Array) => void) => { const b = good().slice(); change(new DataView(b.buffer), b); return b }

  it.each<[string, () => Uint8Array, RegExp, (number | null)?]>([
    ['an empty file', () => new Uint8Array(0), /empty/],
    ['not a WAV', () => new TextEncoder().encode('ID3 this is something else entirely'), /not a WAV file/],
    ['a truncated one', () => good().subarray(0, 200), /“data” chunk at byte 50 announces 400 bytes, the file has 142/],
    ['a truncated one whose length is not known', () => good().subarray(0, 200), /“data” chunk at byte 58 announces 400 bytes and ends after 142/, null],
    ['one without samples', () => file([new Float32Array(0)], '32f'), /no samples/],
    ['a NaN', () => edited(v => v.setFloat32(58 + 40, NaN, true)), /frame 10 of leg 1 is not a number/],
    ['an infinity', () => edited(v => v.setFloat32(58 + 8, -Infinity, true)), /frame 2 of leg 1 is not a number/],
    ['3 GB announced with 1 KB behind it', () => edited(v => v.setUint32(54, 3_000_000_000, true)), /announces 3000000000 bytes, the file has 400/],
    ['an unknown sample format', () => edited(v => v.setUint16(20, 85, true)), /form that is not read here/],
    ['no data chunk', () => good().subarray(0, 50), /no “data” chunk/],
    ['data before its format', () => edited((_, b) => b.set([0x66, 0x6d, 0x74, 0x5f], 12)), /comes before any “fmt ” chunk/]
  ])('%s', (_, bytes, words, total) => {
    const b = bytes()
    expect(refusal(() => read(b, 1000, total === undefined ? b.length : total))).toMatch(words)
  })
})
