// The channels of a summing unit made equal, by trims of the outputs that lead into them, as its last ping found them.
import type { EditMessage } from '../session/editMessage'
import type { Loop } from '../session/rows'
import type { Session } from '../session/session'

export interface ChannelMatch {
  port: string
  name: string
  /** Against the mean of all, in dB, as pinged. */
  offDb: number
  /** Of the port, now and matched, in dB. */
  trimDb: number
  matchedDb: number
}

/** Closer than this nobody trims by hand. */
const EVEN_DB = 0.02
const MOST_TRIM_DB = 24

/**
 * Each port out of a loop into a unit that sums, against the mean; empty where fewer than three ways were measured, or
 * one of them not.
 */
export function channelMatches(session: Session, loop: Loop): ChannelMatch[] {
  const sides = loop.ping?.sides ?? []
  if (loop.outPorts.length < 3 || sides.length !== loop.outPorts.length) return []
  const gains = sides.map(s => s.gainDb)
  if (gains.some(g => g === null)) return []
  const mean = (gains as number[]).reduce((a, b) => a + b) / gains.length
  return loop.outPorts.map((port, i) => {
    const { name, trimDb } = session.port[port],
      offDb = gains[i]! - mean
    const wanted = Math.round((trimDb - offDb) * 100) / 100
    return { port, name, offDb, trimDb, matchedDb: Math.max(-MOST_TRIM_DB, Math.min(MOST_TRIM_DB, wanted)) }
  })
}

export const areEven = (matches: readonly ChannelMatch[]): boolean => matches.every(m => Math.abs(m.offDb) <= EVEN_DB)

/** Null where they are even already. */
export function matchEdit(loop: Loop, matches: readonly ChannelMatch[]): EditMessage | null {
  if (areEven(matches)) return null
  const edits = matches
    .filter(m => m.matchedDb !== m.trimDb)
    .map(m => ({ verb: 'setPort', args: { id: m.port, fields: { trimDb: m.matchedDb } } }))
  return edits.length ? { verb: 'several', args: { label: `Match the channels of “${loop.name}”`, edits } } : null
}
