// What files say before they are sent, and what is said when they are there.
import { describe, expect, it } from 'vitest'
import { wavHeader } from '@nullet/core/formats/wav'
import { commonestRate, importWords, rateOfFile } from './arriving'

describe('files before they are sent', () => {
  it.each([44_100, 48_000, 192_000])('tell their rate of %d Hz', async rate => {
    expect(await rateOfFile(new Blob([wavHeader(2, rate, 1000, 24), new Uint8Array(6000)]))).toBe(rate)
  })
  it('that are no audio tell nothing', async () => {
    expect(await rateOfFile(new Blob(['Dear reader']))).toBeUndefined()
    expect(await rateOfFile(new Blob([]))).toBeUndefined()
  })
  it('have the rate that most have', () => {
    expect(commonestRate([44_100, 48_000, undefined, 44_100])).toBe(44_100)
    expect(commonestRate([44_100, 96_000])).toBe(96_000)
    expect(commonestRate([undefined])).toBeUndefined()
  })
})

describe('files that are there', () => {
  const media = (...rates: (number | null)[]) => rates.map(originalRate => ({ originalRate }))
  it.each([
    [1, media(null), 'One file became a track.'],
    [3, media(null, null, null), '3 files became tracks.'],
    [
      3,
      media(44_100, 44_100, 96_000),
      '3 files became tracks; 2 converted from 44.1 kHz, 1 converted from 96 kHz to 48 kHz.'
    ],
    [1, media(null, null), '2 tracks of 1 file.']
  ])('%d of them are said in one sentence', (files, all, words) => expect(importWords(files, all, 48_000)).toBe(words))
})
