// The list of sessions: what each says, filtered and in an order.
import type { SessionSummary } from '@nullet/core/session/summary'
import { naturally } from './arriving'

export const ORDERS: Record<string, { label: string; before(a: SessionSummary, b: SessionSummary): number }> = {
  changed: { label: 'last changed first', before: (a, b) => b.updatedAt.localeCompare(a.updatedAt) },
  name: { label: 'by name', before: (a, b) => naturally.compare(a.name, b.name) },
  length: { label: 'longest first', before: (a, b) => b.frames / b.sampleRate - a.frames / a.sampleRate },
  size: { label: 'largest first', before: (a, b) => b.bytes - a.bytes },
  tracks: { label: 'most tracks first', before: (a, b) => b.tracks - a.tracks }
}

/** Sessions whose names hold every word that was typed. */
export function listed(all: readonly SessionSummary[], text: string, order: string): SessionSummary[] {
  const words = text.toLowerCase().split(/\s+/).filter(Boolean)
  return all
    .filter(s => words.every(w => s.name.toLowerCase().includes(w)))
    .sort((a, b) => (ORDERS[order] ?? ORDERS.changed!).before(a, b) || naturally.compare(a.name, b.name))
}

/** “Mix copy”, “Mix copy 2”: a name that no other session has. */
export function copyName(name: string, all: readonly SessionSummary[]): string {
  const taken = new Set(all.map(s => s.name))
  const base = `${name.replace(/ copy( \d+)?$/, '')} copy`.slice(0, 290)
  for (let n = 1; ; n++) {
    const wanted = n === 1 ? base : `${base} ${n}`
    if (!taken.has(wanted)) return wanted
  }
}
