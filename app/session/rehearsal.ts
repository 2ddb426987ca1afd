// A browser takes a third longer for what it does for the first time: it has not translated the code yet. So the
// heaviest thing that a first gesture may be, all tracks into one submix, is gone through once before, on nothing.
import { applyEdit } from '@nullet/core/edits/apply'
import { Network } from '@nullet/core/graph/network'
import { mapLayout } from '@nullet/core/graph/mapLayout'
import { changesHash } from '@nullet/core/session/changesHash'
import { rows, type Session } from '@nullet/core/session/session'

/** With fewer channels nobody notices. */
const WORTH = 40

/** Changes nothing, and says nothing: what fails here fails where it is meant. */
export function rehearse(session: Session): boolean {
  const members = rows(session, 'channel')
    .filter(c => c.kind === 'track')
    .map(c => c.id)
  if (members.length < WORTH) return false
  try {
    const of = (id: string) => `rehearsed-${id}`
    const { session: after, changes } = applyEdit(session, {
      verb: 'createSubmix',
      args: { id: of('bus'), name: 'Rehearsed', order: 'zz', members, feedIds: [...members, 'bus'].map(of) }
    })
    mapLayout(new Network(after), { folded: new Set(), only: null, row: 20, gap: 3, lane: 8, fit: 600 })
    changesHash(changes)
    return true
  } catch {
    return false
  }
}
