import { byOrder, rows } from '../session/session'
import type { Channel } from '../session/rows'
import type { Check } from './check'

/** The name with a number that no other channel has. */
function numbered(name: string, taken: Set<string>): string {
  for (let n = 2; ; n++) {
    const next = `${name} ${n}`
    if (taken.has(next.toLowerCase())) continue
    taken.add(next.toLowerCase())
    return next
  }
}

/** Channels that cannot be told apart by their names. */
export const equalNames: Check = {
  id: 'equalNames',
  find(session) {
    const groups = new Map<string, Channel[]>()
    for (const c of rows(session, 'channel').sort(byOrder)) {
      const name = c.name.trim().toLowerCase()
      groups.set(name, [...(groups.get(name) ?? []), c])
    }
    return [...groups.values()]
      .filter(group => group.length > 1)
      .map(group => {
        const taken = new Set(groups.keys())
        const names = group.slice(1).map(c => ({ id: c.id, name: numbered(c.name.trim(), taken) }))
        return {
          sentence: `${group.length} channels are called “${group[0]!.name}”.`,
          about: group.map(c => c.id),
          consequence: 'In lists, on sheets and in the names of files they cannot be told apart.',
          fixes: [{ label: 'Number them', edit: { verb: 'renameChannels', args: { names } } }]
        }
      })
  }
}
