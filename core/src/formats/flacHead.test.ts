// Heads written byte by byte as RFC 9639 has them.
import { describe, expect, it } from 'vitest'
import { flacHead, flacRate } from './flacHead'

const text = (s: string): number[] => [...new TextEncoder().encode(s)]
const big = (value: number, bytes: number): number[] =>
  Array.from({ length: bytes }, (_, i) => Math.floor(value / 2 ** (8 * (bytes - 1 - i))) % 256)
const little = (value: number): number[] => big(value, 4).reverse()
const block = (type: number, body: number[], isLast = false): number[] => [
  type + (isLast ? 128 : 0),
  ...big(body.length, 3),
  ...body
]
function info({ rate = 44_100, legs = 2, bits = 24, frames = 1_000_000, longest = 0x012345 } = {}): number[] {
  const packed = rate * 2 ** 12 + (legs - 1) * 2 ** 9 + (bits - 1) * 2 ** 4 + Math.floor(frames / 2 ** 32)
  return [
    ...big(4096, 2),
    ...big(4096, 2),
    ...big(17, 3),
    ...big(longest, 3),
    ...big(packed, 4),
    ...big(frames % 2 ** 32, 4),
    ...Array<number>(16).fill(0)
  ]
}
const comments = (list: string[], vendor = 'somebody'): number[] => [
  ...little(text(vendor).length),
  ...text(vendor),
  ...little(list.length),
  ...list.flatMap(c => [...little(text(c).length), ...text(c)])
]
const file = (...blocks: number[][]): Uint8Array => Uint8Array.from([...text('fLaC'), ...blocks.flat()])

describe('the head of a FLAC file', () => {
  it.each([
    { rate: 44_100, legs: 2, bits: 24, frames: 1_000_000 },
    { rate: 192_000, legs: 8, bits: 32, frames: 2 ** 35 + 5 },
    { rate: 655_350, legs: 1, bits: 4, frames: 1 }
  ])('says its shape: %o', given => {
    expect(flacHead(file(block(0, info(given), true)))).toEqual({
      shape: {
        sampleRate: given.rate,
        legs: given.legs,
        bits: given.bits,
        float: false,
        frames: given.frames,
        layout: null
      },
      said: { timeReference: null, title: '' },
      longestFrame: 0x012345
    })
  })

  it('may not know its length', () => {
    expect(flacHead(file(block(0, info({ frames: 0 }), true)))!.shape.frames).toBeNull()
  })

  it('says title and time reference, whatever their letters, among other things', () => {
    const said = (...list: string[]) =>
      flacHead(file(block(0, info()), block(1, [1, 2, 3]), block(4, comments(list), true)))!.said
    expect(said('Title= Night over the lake ', 'time_reference=48000.9', 'ARTIST=nobody')).toEqual({
      title: 'Night over the lake',
      timeReference: 48_000
    })
    expect(said('TITLE=a=b', 'TIME_REFERENCE=-5')).toEqual({ title: 'a=b', timeReference: null })
    expect(said('TITLE', 'TIME_REFERENCE=soon')).toEqual({ title: '', timeReference: null })
    expect(said(`TITLE=${'x'.repeat(400)}`).title).toHaveLength(300)
    expect(said('TITLE=Ängste\nzwei')).toMatchObject({ title: 'Ängste\nzwei' })
    expect(said()).toEqual({ title: '', timeReference: null })
  })

  it('comments before the shape, or broken ones, say nothing and harm nothing', () => {
    const title = comments(['TITLE=Lake'])
    expect(flacHead(file(block(4, title), block(0, info(), true)))!.said.title).toBe('')
    const of = (body: number[]) => flacHead(file(block(0, info()), block(4, body, true)))!.said.title
    expect(of([])).toBe('')
    expect(of([1, 0, 0])).toBe('')
    expect(of([...little(2 ** 31), ...little(1)])).toBe('')
    expect(of([...little(0), ...little(1000)])).toBe('')
    expect(of([...little(0), ...little(1), ...little(500), ...text('TITLE=x')])).toBe('')
    // More are promised than are there: what is there counts.
    expect(of([...little(0), ...little(9), ...little(7), ...text('TITLE=x')])).toBe('x')
  })

  it('is waited for as long as bytes are missing', () => {
    const whole = file(block(0, info()), block(4, comments(['TITLE=Lake']), true))
    for (let n = 0; n < whole.length; n++) expect(flacHead(whole.subarray(0, n)), `${n} bytes`).toBeNull()
    expect(flacHead(whole)!.said.title).toBe('Lake')
    expect(flacHead(Uint8Array.from([9, ...whole]).subarray(1))!.said.title).toBe('Lake')
  })

  it('of something else is none, nor is one without a shape', () => {
    expect(flacHead(Uint8Array.from(text('RIFF....')))).toBeUndefined()
    expect(flacHead(file(block(1, [0, 0], true)))).toBeUndefined()
    expect(flacHead(file(block(0, info().slice(0, 33), true)))).toBeUndefined()
  })
})

describe('its rate alone', () => {
  it('is there with the first 42 bytes', () => {
    const bytes = file(block(0, info({ rate: 96_000 })))
    expect(flacRate(bytes)).toBe(96_000)
    expect(flacRate(Uint8Array.from([0, ...bytes]).subarray(1))).toBe(96_000)
    expect(flacRate(bytes.subarray(0, 41))).toBeUndefined()
    expect(flacRate(Uint8Array.from([...text('fLaX'), ...bytes.subarray(4)]))).toBeUndefined()
  })
})
