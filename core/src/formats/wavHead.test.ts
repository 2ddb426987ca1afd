// Headers byte by byte as EBU Tech 3285 and ITU-R BS.2088 have them, samples number by number, and chunks of other
// writers with every length that they may have.
import { describe, expect, it } from 'vitest'
import { Refusal } from '../foundation/refusal'
import { interleaved, WavEncoder, wavHeader, wavPadding, type Depth } from './wav'
import { WavReader } from './wavReader'

const text = (s: string) => Buffer.from(s, 'latin1')
const u16 = (n: number) => Buffer.from([n & 255, n >> 8])
const u32 = (n: number) => {
  const b = Buffer.alloc(4)
  b.writeUInt32LE(n)
  return b
}
const u64 = (n: number) => {
  const b = Buffer.alloc(8)
  b.writeBigUInt64LE(BigInt(n))
  return b
}
const chunk = (id: string, ...parts: Buffer[]) => {
  const body = Buffer.concat(parts)
  return Buffer.concat([text(id), u32(body.length), body, Buffer.alloc(body.length % 2)])
}
const GUID = Buffer.from([0, 0, 0, 0, 0x10, 0, 0x80, 0, 0, 0xaa, 0, 0x38, 0x9b, 0x71])
const plain = (tag: number, legs: number, rate: number, bits: number) => [
  u16(tag),
  u16(legs),
  u32(rate),
  u32((rate * legs * bits) / 8),
  u16((legs * bits) / 8),
  u16(bits)
]

describe('a header', () => {
  const head = (layout: readonly string[] | number, frames: number, depth: Depth) =>
    Buffer.from(wavHeader(layout, 48000, frames, depth))
  it('of one leg in 16 bits', () => {
    expect(head(1, 100, 16)).toEqual(
      Buffer.concat([
        text('RIFF'),
        u32(36 + 200),
        text('WAVE'),
        chunk('fmt ', ...plain(1, 1, 48000, 16)),
        text('data'),
        u32(200)
      ])
    )
  })
  it('of an odd length counts the byte that belongs to nothing', () => {
    expect(head(1, 101, 24).readUInt32LE(4)).toBe(36 + 304)
    expect(head(1, 101, 24).readUInt32LE(40)).toBe(303)
    expect([wavPadding(1, 101, 24), wavPadding(1, 100, 24), wavPadding(3, 1, '32f')].map(p => [...p])).toEqual([
      [0],
      [],
      []
    ])
  })
  it('of floats says its frames, and that nothing follows its format', () => {
    expect(head(2, 100, '32f')).toEqual(
      Buffer.concat([
        text('RIFF'),
        u32(50 + 800),
        text('WAVE'),
        chunk('fmt ', ...plain(3, 2, 48000, 32), u16(0)),
        chunk('fact', u32(100)),
        text('data'),
        u32(800)
      ])
    )
  })
  it('of more than two legs says where each belongs', () => {
    expect(head(['L', 'R', 'C', 'LFE', 'Ls', 'Rs'], 10, 24)).toEqual(
      Buffer.concat([
        text('RIFF'),
        u32(60 + 180),
        text('WAVE'),
        chunk('fmt ', ...plain(0xfffe, 6, 48000, 24), u16(22), u16(24), u32(0x3f), u16(1), GUID),
        text('data'),
        u32(180)
      ])
    )
    expect(head(['L', 'R', 'C'], 10, '32f').readUInt16LE(44)).toBe(3)
  })
  it('of more than 32 bits hold has its lengths in a chunk of their own', () => {
    const frames = 2 ** 31
    expect(head(1, frames, 24)).toEqual(
      Buffer.concat([
        text('RF64'),
        u32(0xffffffff),
        text('WAVE'),
        chunk('ds64', u64(72 + frames * 3), u64(frames * 3), u64(frames), u32(0)),
        chunk('fmt ', ...plain(1, 1, 48000, 24)),
        text('data'),
        u32(0xffffffff)
      ])
    )
    const most = Math.floor(0xffffff00 / 4)
    expect(head(1, most, '32f').toString('latin1', 0, 4)).toBe('RIFF')
    expect(head(1, most + 1, '32f').toString('latin1', 0, 4)).toBe('RF64')
    const long = head(1, 2 ** 33, '32f')
    expect(long.readUInt32LE(long.indexOf('fact') + 8)).toBe(0xffffffff)
  })
})

describe('samples', () => {
  const bytes = (depth: Depth, values: number[]) => [...new WavEncoder(depth).encode([Float32Array.from(values)])]
  it('in 16 and 24 bits are rounded, and held at full scale', () => {
    expect(bytes(16, [0, 0.5, -0.5, 1, -1, 1.5, -2])).toEqual([
      0, 0, 0, 0x40, 0, 0xc0, 0xff, 0x7f, 0, 0x80, 0xff, 0x7f, 0, 0x80
    ])
    expect(bytes(24, [0.5, -0.5, 1, -1, -(2 ** -23), 2 ** -23])).toEqual([
      0, 0, 0x40, 0, 0, 0xc0, 0xff, 0xff, 0x7f, 0, 0, 0x80, 0xff, 0xff, 0xff, 1, 0, 0
    ])
  })
  it('that are held are counted: 1 is one step over the top, −1 is not below the bottom', () => {
    const encoder = new WavEncoder(16)
    encoder.encode([Float32Array.from([1, -1, 0.99, 1.2]), Float32Array.from([-1.1, 0, 0, 0])])
    expect(encoder.clipped).toBe(3)
  })
  it('lie frame after frame', () => {
    expect([...interleaved([Float32Array.from([1, 2, 3]), Float32Array.from([4, 5, 6])])]).toEqual([1, 4, 2, 5, 3, 6])
    expect(bytes('32f', [1, -2])).toEqual([0, 0, 0x80, 0x3f, 0, 0, 0, 0xc0])
  })
  it('have dither of the file, the leg and the frame: parts are as the whole, legs and files differ', () => {
    const silence = () => new Float32Array(4000)
    const whole = new WavEncoder(16, 'one').encode([silence(), silence()])
    const parts = [0, 1500].map((at, i) =>
      new WavEncoder(16, 'one', at).encode([silence(), silence()].map(leg => leg.subarray(0, i ? 2500 : 1500)))
    )
    expect(Buffer.concat(parts)).toEqual(Buffer.from(whole))
    const going = new WavEncoder(16, 'one')
    expect(
      Buffer.concat([1500, 2500].map(n => going.encode([silence(), silence()].map(l => l.subarray(0, n)))))
    ).toEqual(Buffer.from(whole))
    const values = (b: Uint8Array, leg: number) => [...new Int16Array(b.buffer)].filter((_, i) => i % 2 === leg)
    expect(values(whole, 0)).not.toEqual(values(whole, 1))
    const other = new WavEncoder(16, 'two').encode([silence(), silence()])
    expect(Buffer.from(other)).not.toEqual(Buffer.from(whole))
    // Triangular between −1 and 1 step: three in four are 0 after rounding.
    const share = values(whole, 0).filter(v => v === 0).length / 4000
    expect(share).toBeGreaterThan(0.71)
    expect(share).toBeLessThan(0.79)
    expect(Math.max(...values(whole, 0).map(Math.abs))).toBe(1)
  })
})

describe('chunks of other writers', () => {
  const FMT = chunk('fmt ', ...plain(1, 1, 44100, 16))
  const DATA = chunk('data', u16(16384), u16(0))
  function read(chunks: Buffer[], form = 'RIFF', total: number | null = -1) {
    const body = Buffer.concat(chunks)
    const file = Buffer.concat([text(form), u32(4 + body.length), text('WAVE'), body])
    const reader = new WavReader('x.wav', total === -1 ? file.length : total)
    const audio: number[] = []
    for (let at = 0; at < file.length; at += 7) {
      const got = reader.push(file.subarray(at, at + 7))
      if (got) audio.push(...got[0]!)
    }
    return { audio, ...reader.end(), ...reader.said }
  }
  const bext = (low: number, high: number, more = 0) =>
    chunk('bext', Buffer.alloc(338), u32(low), u32(high), Buffer.alloc(256 + more))

  it('are passed over where they say nothing, whatever their length', () => {
    expect(read([chunk('junk', Buffer.alloc(3)), FMT, chunk('JUNK', Buffer.alloc(8)), DATA])).toMatchObject({
      audio: [0.5, 0],
      legs: 1,
      sampleRate: 44100,
      bits: 16,
      float: false,
      frames: 2
    })
    expect(read([FMT, DATA, chunk('id3 ', text('anything'))]).audio).toEqual([0.5, 0])
  })
  it('say when it was recorded, in two halves; a short one says nothing', () => {
    expect(read([bext(48000, 0), FMT, DATA]).timeReference).toBe(48000)
    expect(read([bext(5, 2, 100), FMT, DATA]).timeReference).toBe(2 * 2 ** 32 + 5)
    expect(read([bext(0, 0), FMT, DATA]).timeReference).toBeNull()
    expect(read([chunk('bext', Buffer.alloc(345)), FMT, DATA]).timeReference).toBeNull()
  })
  it('name it, wherever the title stands among other texts', () => {
    const list = (...parts: Buffer[]) => chunk('LIST', text('INFO'), ...parts)
    const title = chunk('INAM', text('Kora\0'))
    expect(read([list(title), FMT, DATA]).title).toBe('Kora')
    expect(read([list(chunk('IART', text('odd')), title), FMT, DATA]).title).toBe('Kora')
    expect(read([list(chunk('IART', text('even')), title, chunk('ICMT', text('x'))), FMT, DATA]).title).toBe('Kora')
    expect(read([chunk('LIST', text('adtl'), title), FMT, DATA]).title).toBe('')
    expect(read([chunk('LIST', text('INF')), FMT, DATA]).title).toBe('')
  })
  it('of lengths that cannot be are refused by name and place', () => {
    const refused = (...chunks: Buffer[]) => {
      try {
        read(chunks)
      } catch (error) {
        expect(error).toBeInstanceOf(Refusal)
        return (error as Refusal).message
      }
      return 'accepted'
    }
    expect(refused(chunk('fmt ', Buffer.alloc(14)), DATA)).toMatch(
      /the “fmt ” chunk at byte 12 has an impossible length of 14/
    )
    expect(refused(chunk('ds64', Buffer.alloc(20)), FMT, DATA)).toMatch(
      /the “ds64” chunk at byte 12 has an impossible length of 20/
    )
    expect(refused(chunk('fmt ', ...plain(1, 1, 44100, 12)), DATA)).toMatch(/not read here \(format 1, 12 bits\)/)
    expect(refused(chunk('fmt ', ...plain(2, 1, 44100, 16)), DATA)).toMatch(/not read here \(format 2, 16 bits\)/)
  })
  it('of 64 bits give the length, where 32 say that they do not', () => {
    const ds64 = chunk('ds64', u64(100), u64(4), u64(2), u32(0))
    const long = Buffer.concat([text('data'), u32(0xffffffff), u16(16384), u16(0)])
    for (const form of ['RF64', 'BW64']) {
      expect(read([ds64, FMT, long], form)).toMatchObject({ audio: [0.5, 0], frames: 2 })
      expect(read([ds64, FMT, long, chunk('more', Buffer.alloc(6))], form).audio).toEqual([0.5, 0])
    }
    // Without it, and where nobody knew the length, the file goes to its end.
    expect(read([FMT, long]).audio).toEqual([0.5, 0])
    expect(read([FMT, Buffer.concat([text('data'), u32(0), u16(16384), u16(0)])]).audio).toEqual([0.5, 0])
    expect(read([FMT, Buffer.concat([text('data'), u32(0), u16(16384), u16(0)])], 'RIFF', null).audio).toEqual([0.5, 0])
  })
  it('with formats of their own length are read; the extensible one says the form and the speakers', () => {
    expect(read([chunk('fmt ', ...plain(1, 1, 44100, 16), u16(0)), DATA]).audio).toEqual([0.5, 0])
    const far = chunk('fmt ', ...plain(0xfffe, 2, 96000, 16), u16(22), u16(16), u32(0x600), u16(1), GUID)
    expect(read([far, DATA])).toMatchObject({ legs: 2, sampleRate: 96000, float: false, audio: [0.5] })
    expect(
      read([chunk('fmt ', ...plain(3, 1, 48000, 64)), chunk('data', Buffer.from(Float64Array.from([0.25]).buffer))])
    ).toMatchObject({ audio: [0.25], float: true, bits: 64 })
    expect(
      read([chunk('fmt ', ...plain(1, 1, 8000, 8)), chunk('data', Buffer.from([128, 192, 0, 255]))]).audio
    ).toEqual([0, 0.5, -1, 127 / 128])
    expect(read([chunk('fmt ', ...plain(1, 1, 8000, 32)), chunk('data', u32(0x40000000))]).audio).toEqual([0.5])
  })
})
