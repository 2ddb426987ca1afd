// What is said where a machine cannot keep up with what is played.
import type { Heavy } from '@nullet/core/run/weights'

export interface Behind {
  /** How far ahead sound is computed now. */
  aheadMs: number
  /** What takes the most of the work, the most first. */
  heavy: readonly Heavy[]
}

export function behindText({ aheadMs, heavy }: Behind, nameOf: (channel: string) => string): string {
  const most = heavy.map(h => `“${nameOf(h.channel)}” (${Math.round(h.share * 100)} %)`).join(', ')
  const what = most ? `Most of the work is in ${most}: print and park it, or park` : 'Park'
  return `This machine could not keep up for a moment: sound is computed ${aheadMs} ms ahead now. ${what} what is not needed.`
}
