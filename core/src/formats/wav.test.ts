import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import { rmsDb, sine, whiteNoise } from '../testing/sound'
import { Refusal } from '../foundation/refusal'
import { WavEncoder, wavHeader, wavPadding, type Depth } from './wav'
import { WavReader } from './wavReader'

const folder = mkdtempSync(join(tmpdir(), 'nullet-wav-'))

function file(legs: Float32Array[], depth: Depth, rate = 48000, dither = true): Uint8Array {
  const header = wavHeader(legs.length, rate, legs[0].length, depth)
  const body = new WavEncoder(depth, dither ? 'test' : null).encode(legs)
  const out = new Uint8Array(header.length + body.length)
  out.set(header)
  out.set(body, header.length)
  return out
}

function read(bytes: Uint8Array, piece = 1000, total: number | null = bytes.length): Float32Array[] {
  const reader = new WavReader('test.wav', total)
  const parts: Float32Array[][] = []
  for (let at = 0; at < bytes.length; at += piece) {
    const a = reader.push(bytes.subarray(at, at + piece))
    if (a) parts.push(a)
  }
  const { legs } = reader.end()
  return Array.from({ length: legs }, (_, i) => Float32Array.from(parts.flatMap(p => [...p[i]])))
}

const refusal = (act: () => unknown): string => {
  try {
    act()
  } catch (e) {
    if (e instanceof Refusal) return e.message
    throw e
  }
  throw new Error('was accepted')
}

describe('reading what we write', () => {
  it.each([1, 2, 6])('32-bit float is exact, %i legs, in pieces of any size', legs => {
    const audio = Array.from({ length: legs }, (_, i) => whiteNoise(777, i))
    for (const piece of [1, 7, 100000]) expect(read(file(audio, '32f'), piece)).toEqual(audio)
  })

  it.each([
    [16, 1 / 32768],
    [24, 1 / 8388608]
  ] as const)('%i bits without dither is within half a step', (depth, step) => {
    const audio = [whiteNoise(500, 3)]
    read(file(audio, depth, 48000, false))[0].forEach((x, n) =>
      expect(Math.abs(x - audio[0][n])).toBeLessThanOrEqual(step / 2 + 1e-9)
    )
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

  it.each([
    [24, -144.49],
    [16, -96.33]
  ] as const)('of twelve files at %i bits adds up as independent noise does', (depth, oneDb) => {
    const audio = sine(48000, 997, 0.02),
      sum = new Float64Array(48000)
    for (let f = 0; f < 12; f++) {
      const header = wavHeader(1, 48000, 48000, depth),
        body = new WavEncoder(depth, `1/stem${f}@post`).encode([audio])
      read(Uint8Array.from([...header, ...body]))[0].forEach((v, n) => {
        sum[n] += v - audio[n]
      })
    }
    expect(Math.abs(rmsDb(sum) - (oneDb + 10 * Math.log10(12)))).toBeLessThan(0.3)
    // The legs of one file are as independent, and the same file is the same again.
    const legs = read(file([audio, audio], depth)).map(leg => Float64Array.from(leg, (v, n) => v - audio[n]))
    expect(Math.abs(rmsDb(legs[0]!.map((v, n) => v + legs[1]![n]!)) - (oneDb + 3.01))).toBeLessThan(0.3)
    expect(file([audio], depth)).toEqual(file([audio], depth))
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

  it.each([
    ['16', ['-b', '16']],
    ['24', ['-b', '24']],
    ['32', ['-b', '32']],
    ['float', ['-e', 'floating-point', '-b', '32']]
  ])('sox files of %s bits are read', (name, form) => {
    const source = join(folder, 'source.wav'),
      path = join(folder, `theirs-${name}.wav`)
    writeFileSync(source, file(audio, '32f'))
    execFileSync('sox', ['-D', source, ...form, path])
    const out = read(readFileSync(path))
    expect(out[1][1000]).toBeCloseTo(audio[1][1000], 3)
  })

  it('an extensible header of many legs written by ffmpeg is read', () => {
    const path = join(folder, 'six.wav')
    execFileSync('ffmpeg', [
      '-v',
      'error',
      '-y',
      '-f',
      'lavfi',
      '-i',
      'sine=440:d=0.1:r=44100',
      '-af',
      'pan=5.1|c0=c0|c1=c0|c2=c0|c3=c0|c4=c0|c5=c0',
      '-c:a',
      'pcm_s24le',
      path
    ])
    expect(read(readFileSync(path))).toHaveLength(6)
  })

  it.each([
    [['L', 'R', 'C'], '3.0'],
    [['L', 'R', 'C', 'Ls', 'Rs'], '5.0'],
    [['L', 'R', 'LFE', 'Ls', 'Rs'], '5 channels (FL+FR+LFE+BL+BR)'],
    [['L', 'R', 'C', 'LFE', 'Ls', 'Rs'], '5.1'],
    [['L', 'R', 'Ls', 'Rs'], 'quad']
  ])('%j is what ffmpeg calls %s, and comes back as it went', (layout, name) => {
    const audio = layout.map(() => new Float32Array(100).fill(0.1)),
      path = join(folder, `${layout.join('')}.wav`)
    const bytes = Uint8Array.from([...wavHeader(layout, 48000, 100, 24), ...new WavEncoder(24).encode(audio)])
    writeFileSync(path, bytes)
    expect(
      execFileSync('ffprobe', ['-v', 'error', '-show_entries', 'stream=channel_layout', '-of', 'csv=p=0', path])
        .toString()
        .trim()
    ).toBe(name)
    const reader = new WavReader('x')
    reader.push(bytes)
    expect(reader.end().layout).toEqual(layout)
  })

  it('sides and backs of other programs are told apart where both are there', () => {
    for (const [name, layout] of [
      ['5.0(side)', ['L', 'R', 'C', 'Ls', 'Rs']],
      ['7.1', ['L', 'R', 'C', 'LFE', 'Lb', 'Rb', 'Ls', 'Rs']],
      ['mono', ['M']]
    ] as const) {
      const path = join(folder, 'theirs.wav')
      execFileSync('ffmpeg', [
        '-v',
        'error',
        '-y',
        '-f',
        'lavfi',
        '-i',
        `anullsrc=cl=${name}:r=48000`,
        '-t',
        '0.1',
        '-c:a',
        'pcm_s24le',
        path
      ])
      const reader = new WavReader('x')
      reader.push(readFileSync(path))
      expect(reader.end().layout ?? ['M']).toEqual(layout)
    }
  })

  it('a file of odd length ends with a byte that belongs to nothing', () => {
    const audio = [whiteNoise(101, 1)],
      body = new WavEncoder(24, 'x').encode(audio)
    expect(body.length % 2).toBe(1)
    const bytes = Uint8Array.from([...wavHeader(1, 48000, 101, 24), ...body, ...wavPadding(1, 101, 24)])
    expect(new DataView(bytes.buffer).getUint32(4, true)).toBe(bytes.length - 8)
    expect(bytes.length % 2).toBe(0)
    expect(wavPadding(2, 101, 24)).toHaveLength(0)
    const path = join(folder, 'odd.wav')
    writeFileSync(path, bytes)
    expect(
      execFileSync('sox', ['--i', '-s', path], { encoding: 'utf8', stdio: ['ignore', 'pipe', 'pipe'] }).trim()
    ).toBe('101')
    expect(read(bytes)[0]).toHaveLength(101)
  })

  it('ffmpeg reads a 64-bit header', () => {
    const header = wavHeader(2, 48000, 600_000_000, '32f')
    expect(String.fromCharCode(...header.subarray(0, 4))).toBe('RF64')
    const path = join(folder, 'long.wav')
    writeFileSync(path, header)
    const said = execFileSync('ffprobe', [
      '-v',
      'error',
      '-show_entries',
      'stream=channels,sample_rate',
      '-of',
      'csv=p=0',
      path
    ]).toString()
    expect(said.trim()).toBe('48000,2')
  })
})

describe('bad files are refused with the chunk and the offset', () => {
  const good = () => file([whiteNoise(100, 1)], '32f')
  const edited = (change: (v: DataView, bytes: Uint8Array) => void) => {
    const b = good().slice()
    change(new DataView(b.buffer), b)
    return b
  }

  it.each<[string, () => Uint8Array, RegExp, (number | null)?]>([
    ['an empty file', () => new Uint8Array(0), /empty/],
    ['not a WAV', () => new TextEncoder().encode('ID3 this is something else entirely'), /not a WAV file/],
    ['a truncated one', () => good().subarray(0, 200), /“data” chunk at byte 50 announces 400 bytes, the file has 142/],
    [
      'a truncated one whose length is not known',
      () => good().subarray(0, 200),
      /“data” chunk at byte 58 announces 400 bytes and ends after 142/,
      null
    ],
    [
      'one without a whole frame',
      () => edited(v => v.setUint32(54, 0xffffffff, true)).subarray(0, 60),
      /no samples/,
      null
    ],
    ['one without samples', () => file([new Float32Array(0)], '32f'), /no samples/],
    ['a NaN', () => edited(v => v.setFloat32(58 + 40, NaN, true)), /frame 10 of leg 1 is not a number/],
    ['an infinity', () => edited(v => v.setFloat32(58 + 8, -Infinity, true)), /frame 2 of leg 1 is not a number/],
    [
      '3 GB announced with 1 KB behind it',
      () => edited(v => v.setUint32(54, 3_000_000_000, true)),
      /announces 3000000000 bytes, the file has 400/
    ],
    ['an unknown sample format', () => edited(v => v.setUint16(20, 85, true)), /form that is not read here/],
    ['no data chunk', () => good().subarray(0, 50), /no “data” chunk/],
    [
      'data before its format',
      () => edited((_, b) => b.set([0x66, 0x6d, 0x74, 0x5f], 12)),
      /comes before any “fmt ” chunk/
    ]
  ])('%s', (_, bytes, words, total) => {
    const b = bytes()
    expect(refusal(() => read(b, 1000, total === undefined ? b.length : total))).toMatch(words)
  })
})
