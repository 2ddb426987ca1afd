// How channels are spoken of.
import type { Session } from '@nullet/core/session/session'

export const namesOf = (session: Session, ids: readonly string[]): string =>
  ids.length === 1 ? (session.channel[ids[0]!]?.name ?? ids[0]!) : `${ids.length} channels`

/** What all names begin with, else their family, else “Submix”. */
export function commonName(session: Session, ids: readonly string[]): string {
  const words = ids.map(id => session.channel[id]!.name.split(/\s+/))
  const common: string[] = []
  for (let i = 0; words.every(w => w[i] === words[0]![i] && w[i] !== undefined); i++) common.push(words[0]![i]!)
  const families = new Set(ids.map(id => session.channel[id]!.family))
  return common.join(' ') || (families.size === 1 && [...families][0]) || 'Submix'
}

/** Names of the twelve hues, in the order of the theme's variables. */
export const HUES = [
  'chestnut',
  'mallow',
  'olive',
  'lagoon',
  'slate blue',
  'heather',
  'graphite',
  'straw',
  'ink',
  'fern',
  'brick',
  'ochre'
]
