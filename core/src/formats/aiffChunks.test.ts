// AIFF byte by byte as its specification has it, and what every file of chunks has in common: chunks that are too long,
// too short, odd, behind the samples, and samples that end within a frame.
import { describe, expect, it } from 'vitest'
import { AiffReader } from './aiffReader'

const text = (s: string) => Buffer.from(s, 'latin1')
const u16 = (n: number) => Buffer.from([n >> 8, n & 255])
const u32 = (n: number) => {
  const b = Buffer.alloc(4)
  b.writeUInt32BE(n)
  return b
}
const chunk = (id: string, ...parts: Buffer[]) => {
  const body = Buffer.concat(parts)
  return Buffer.concat([text(id), u32(body.length), body, Buffer.alloc(body.length % 2)])
}
/** An 80-bit number: a power of two and the rate above it as a fraction of 64 bits. */
function extended(rate: number): Buffer {
  const exponent = Math.floor(Math.log2(rate))
  const b = Buffer.alloc(10)
  b.writeUInt16BE(16383 + exponent)
  b.writeBigUInt64BE(BigInt(Math.round((rate / 2 ** exponent) * 2 ** 31)) << 32n, 2)
  return b
}
const comm = (legs: number, bits: number, rate = 48000, ...more: Buffer[]) =>
  chunk('COMM', u16(legs), u32(0), u16(bits), extended(rate), ...more)
const ssnd = (...parts: Buffer[]) => chunk('SSND', u32(0), u32(0), ...parts)
const form = (kind: string, chunks: Buffer[]) => {
  const body = Buffer.concat(chunks)
  return Buffer.concat([text('FORM'), u32(4 + body.length), text(kind), body])
}

function read(file: Buffer, piece = 5, total: number | null = file.length) {
  const reader = new AiffReader('x.aiff', total),
    legs: number[][] = []
  for (let at = 0; at < file.length; at += piece)
    reader.push(file.subarray(at, at + piece))?.forEach((leg, i) => (legs[i] ??= []).push(...leg))
  return { ...reader.end(), audio: legs, title: reader.said.title }
}
const aiff = (...chunks: Buffer[]) => read(form('AIFF', chunks))
const refused = (act: () => unknown) => {
  try {
    act()
  } catch (error) {
    return (error as Error).message
  }
  return 'accepted'
}

describe('samples', () => {
  it.each([
    [8, [0x40, 0x80], [0.5, -1]],
    [16, [0x40, 0, 0xc0, 1], [0.5, -0.5 + 2 ** -15]],
    [12, [0x40, 0, 0x80, 0], [0.5, -1]],
    [24, [0x40, 0, 0, 0xff, 0xff, 0xff], [0.5, -(2 ** -23)]],
    [32, [0x40, 0, 0, 0, 0x80, 0, 0, 0], [0.5, -1]]
  ])('of %i bits', (bits, bytes, values) => {
    expect(aiff(comm(1, bits), ssnd(Buffer.from(bytes)))).toMatchObject({
      audio: [values],
      bits: Math.ceil(bits / 8) * 8,
      float: false,
      frames: 2,
      legs: 1
    })
  })
  it.each([
    ['NONE', 16, [0x40, 0], 0.5],
    ['twos', 16, [0x40, 0], 0.5],
    ['twos', 8, [0x40], 0.5],
    ['sowt', 16, [0, 0x40], 0.5],
    ['sowt', 8, [0xc0], -0.5],
    ['sowt', 24, [0, 0, 0x40], 0.5],
    ['in24', 24, [0x40, 0, 0], 0.5],
    ['in32', 32, [0x40, 0, 0, 0], 0.5],
    ['fl32', 32, [0x3f, 0, 0, 0], 0.5],
    ['FL32', 32, [0x3e, 0x80, 0, 0], 0.25],
    ['fl64', 64, [0x3f, 0xe0, 0, 0, 0, 0, 0, 0], 0.5],
    ['FL64', 64, [0xbf, 0xe0, 0, 0, 0, 0, 0, 0], -0.5]
  ])('of AIFC called %s with %i bits', (name, bits, bytes, value) => {
    const named = comm(1, bits, 48000, text(name), Buffer.from([3]), text('abc'))
    expect(read(form('AIFC', [named, ssnd(Buffer.from(bytes))])).audio).toEqual([[value]])
  })
  it('that are compressed, or of bits that there are not, are refused by name', () => {
    const named = comm(1, 16, 48000, text('ulaw'), Buffer.from([0, 0]))
    expect(refused(() => read(form('AIFC', [named, ssnd(u16(0))])))).toBe(
      'x.aiff: its samples are in a form that is not read here (“ulaw”, 16 bits)'
    )
    expect(refused(() => aiff(comm(1, 40), ssnd(u16(0))))).toMatch(/\(“NONE”, 40 bits\)/)
  })
  it.each([8000, 44100, 48000, 88200, 96000, 192000])('at %i Hz', rate => {
    expect(aiff(comm(1, 16, rate), ssnd(u16(0))).sampleRate).toBe(rate)
  })
  it('of several legs lie frame after frame, whatever pieces they come in', () => {
    const bytes = Buffer.concat([1, 2, 3, 4, 5, 6].map(n => u16(n * 4096)))
    for (const piece of [1, 3, 7, 1000])
      expect(read(form('AIFF', [comm(3, 16), ssnd(bytes)]), piece).audio).toEqual([
        [1 / 8, 4 / 8],
        [2 / 8, 5 / 8],
        [3 / 8, 6 / 8]
      ])
  })
  it('end before a part of a frame, and what comes behind is passed by', () => {
    const bytes = Buffer.concat([u16(8192), u16(16384), Buffer.from([1])])
    expect(aiff(comm(2, 16), ssnd(bytes), chunk('ANNO', text('x'))).audio).toEqual([[0.25], [0.5]])
    expect(aiff(comm(2, 16), ssnd(bytes), chunk('NAME', text('Behind'))).title).toBe('Behind')
    expect(aiff(comm(2, 16), ssnd(bytes)).frames).toBe(1)
  })
  it('of 0 legs, of none, or at an odd rate are refused', () => {
    expect(refused(() => aiff(comm(0, 16), ssnd(u16(0))))).toMatch(/it has no legs/)
    expect(refused(() => aiff(comm(1, 16), ssnd()))).toMatch(/it holds no samples/)
    expect(refused(() => aiff(comm(1, 16, 12), ssnd(u16(0))))).toMatch(/12/)
  })
})

describe('chunks', () => {
  const good = [comm(1, 16), ssnd(u16(16384))] as const
  it('may be named, long or odd, in any order before the samples', () => {
    expect(aiff(chunk('NAME', text('Kora')), ...good).title).toBe('Kora')
    expect(aiff(chunk('NAME'), ...good).title).toBe('')
    expect(aiff(chunk('NAME', text('n'.repeat(3000))), ...good).title.length).toBeLessThanOrEqual(1024)
    expect(aiff(chunk('MARK', Buffer.alloc(7)), good[0], chunk('INST', Buffer.alloc(100_001)), good[1]).audio).toEqual([
      [0.5]
    ])
    expect(aiff(...good, chunk('ID3 ', Buffer.alloc(200_000))).audio).toEqual([[0.5]])
  })
  it('with a describing chunk longer than it has to be', () => {
    expect(aiff(comm(1, 16, 48000, Buffer.alloc(9)), good[1]).audio).toEqual([[0.5]])
  })
  it.each<[string, () => unknown, RegExp]>([
    [
      'a short description',
      () => aiff(chunk('COMM', Buffer.alloc(16)), good[1]),
      /“COMM” chunk at byte 12 has an impossible length of 16/
    ],
    [
      'one of AIFC without a name',
      () => read(form('AIFC', [comm(1, 16), good[1]])),
      /“COMM” chunk at byte 12 has an impossible length of 18/
    ],
    [
      'samples without their head',
      () => aiff(good[0], chunk('SSND', Buffer.alloc(7))),
      /“SSND” chunk at byte 38 has an impossible length of 7/
    ],
    [
      'samples that begin later',
      () => aiff(good[0], chunk('SSND', u32(16), u32(0), Buffer.alloc(40))),
      /begin 16 bytes later than usual/
    ],
    [
      'samples before their description',
      () => aiff(good[1], good[0]),
      /“SSND” chunk at byte 20 comes before any “COMM” chunk/
    ],
    ['no samples', () => aiff(good[0]), /no “SSND” chunk was found up to byte 38/],
    ['no description', () => aiff(chunk('NAME', text('ab'))), /no “COMM” chunk was found up to byte 22/],
    ['another form', () => read(form('8SVX', [...good])), /not an AIFF file: it does not start with a FORM header/],
    [
      'another file',
      () => read(Buffer.concat([text('RIFF'), form('AIFF', [...good]).subarray(4)])),
      /not an AIFF file/
    ],
    ['nothing', () => read(Buffer.alloc(0)), /x\.aiff: the file is empty/],
    ['eleven bytes', () => read(form('AIFF', []).subarray(0, 11)), /not an AIFF file: it ends before its first chunk/],
    [
      'more samples than there are',
      () => aiff(good[0], Buffer.concat([text('SSND'), u32(1008), u32(0), u32(0), u16(1)])),
      /announces 1000 bytes, the file has 2 after it/
    ],
    [
      'an end within the samples, where nobody knows how long the file is',
      () => read(form('AIFF', [good[0], Buffer.concat([text('SSND'), u32(1008), u32(0), u32(0), u16(1)])]), 4, null),
      /“SSND” chunk at byte 54 announces 1000 bytes and ends after 2/
    ]
  ])('with %s are refused', (_, act, reason) => expect(refused(act)).toMatch(reason))
  it('of floats that are no numbers are refused by frame and leg', () => {
    const named = comm(2, 32, 48000, text('fl32'), Buffer.from([0, 0]))
    const bytes = Buffer.alloc(24)
    bytes.writeFloatBE(NaN, 12)
    expect(refused(() => read(form('AIFC', [named, ssnd(bytes)])))).toMatch(/frame 1 of leg 2 is not a number/)
  })
})
