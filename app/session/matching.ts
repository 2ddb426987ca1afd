// What a typed filter finds: every word must occur in a channel's name, family or role.
import { familyTable, familyWhole } from '@nullet/core/session/families'
import { rows, type Session } from '@nullet/core/session/session'

/** Null when nothing is typed. */
export function matching(session: Session, text: string): Set<string> | null {
  const words = text.toLowerCase().split(/\s+/).filter(Boolean)
  if (!words.length) return null
  const table = familyTable(session)
  return new Set(
    rows(session, 'channel')
      .filter(c => {
        const all = `${c.name} ${c.family} ${familyWhole(c.family, table)} ${c.role} ${c.kind}`.toLowerCase()
        return words.every(w => all.includes(w))
      })
      .map(c => c.id)
  )
}
