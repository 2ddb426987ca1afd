// What is known of files before they are sent, and what is said of them when they are there.
import { WavReader } from '@nullet/core/formats/wav'
import { plural } from '~/words/format'

/** 2 before 10. */
export const naturally = new Intl.Collator('en', { numeric: true, sensitivity: 'base' })

/** The head of a WAV fits into this but for files with long notes before their samples. */
const HEAD_BYTES = 1 << 16

/** Hz; undefined for what is no WAV, which is said when it is sent. */
export async function rateOfFile(file: Blob): Promise<number | undefined> {
  const reader = new WavReader('file', file.size)
  try {
    reader.push(new Uint8Array(await file.slice(0, HEAD_BYTES).arrayBuffer()))
  } catch {
    return undefined
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
