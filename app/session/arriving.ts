// What is known of files before they are sent, and what is said of them when they are there.
import { AnyReader } from '@nullet/core/formats/anyReader'
import { flacRate } from '@nullet/core/formats/flacHead'
import { plural } from '~/words/format'

/** 2 before 10. */
export const naturally = new Intl.Collator('en', { numeric: true, sensitivity: 'base' })

/** The head of a file fits into this but for those with long notes before their samples. */
const HEAD_BYTES = 1 << 16

/** Hz; undefined for what is no sound file, which is said when it is sent. */
export async function rateOfFile(file: Blob): Promise<number | undefined> {
  const bytes = new Uint8Array(await file.slice(0, HEAD_BYTES).arrayBuffer())
  const reader = new AnyReader('file', file.size)
  try {
    reader.push(bytes)
  } catch {
    return flacRate(bytes)
  }
  return reader.shape?.sampleRate
}

/** The rate that most have; of several as common the highest. */
export function commonestRate(rates: readonly (number | undefined)[]): number | undefined {
  const counts = new Map<number, number>()
  for (const r of rates) if (r) counts.set(r, (counts.get(r) ?? 0) + 1)
  return [...counts].sort((a, b) => b[1] - a[1] || b[0] - a[0])[0]?.[0]
}

/** “15 files became tracks; 3 were converted from 44.1 kHz.” */
export function importWords(files: number, media: readonly { originalRate: number | null }[], rate: number): string {
  const counts = new Map<number, number>()
  for (const { originalRate } of media) if (originalRate) counts.set(originalRate, (counts.get(originalRate) ?? 0) + 1)
  const converted = [...counts]
    .sort((a, b) => a[0] - b[0])
    .map(([from, n]) => `${n} converted from ${from / 1000} kHz`)
    .join(', ')
  const all = files === 1 ? 'One file became a track' : `${files} files became tracks`
  const tracks =
    media.length > files ? `${plural(media.length, 'track', 'tracks')} of ${plural(files, 'file', 'files')}` : all
  return `${tracks}${converted ? `; ${converted} to ${rate / 1000} kHz` : ''}.`
}
