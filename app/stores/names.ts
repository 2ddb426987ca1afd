// How channels are spoken of.
import type { Session } from '@nullet/core/session/session'

export const namesOf = (session: Session, ids: readonly string[]): string =>
  ids.length === 1 ? session.channel[ids[0]!]?.name ?? ids[0]! : `${ids.length} channels`

/** Names of the twelve hues, in the order of the theme's variables. */
export const HUES = ['chestnut', 'mallow', 'olive', 'lagoon', 'slate blue', 'heather', 'graphite', 'straw', 'ink', 'fern', 'brick', 'ochre']
