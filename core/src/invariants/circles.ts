// Nothing has to be there before it is made.
import { findCircle, mayCircle } from '../graph/circles'
import { byId, rows, type Session } from '../session/session'
import { capital, feedWords } from './words'
import { defineRule } from './rule'

function namesOf(session: Session, circle: string[]): string {
  const names = [...circle, circle[0]!].map(id => session.channel[id]?.name ?? id)
  return circle.length === 1 ? `“${names[0]}” feeds itself` : names.join(' → ')
}

/** Takes one connection out of a circle: a feed between two of its channels, else a print, else a slot. */
function opened(session: Session, circle: string[]): string {
  const inside = new Set(circle)
  const reaches = (id: string | null) => id !== null && inside.has(id)
  const feed = rows(session, 'feed')
    .sort(byId)
    .findLast(
      f =>
        reaches(f.from) && (reaches(f.to) || reaches(session.slot[f.slot ?? '']?.channel ?? null) || f.ports.length > 0)
    )
  if (feed) {
    delete session.feed[feed.id]
    return `${feedWords(session, feed)} was removed`
  }
  const print = rows(session, 'print').find(p => reaches(p.channel))
  if (print) {
    delete session.print[print.id]
    return `“${session.channel[print.channel]?.name}” holds its print as an ordinary recording now`
  }
  const slot = rows(session, 'slot').find(s => reaches(s.channel) && s.loop !== null)
  if (slot) {
    delete session.slot[slot.id]
    return `the loop on “${session.channel[slot.channel]?.name}” was removed`
  }
  const other = rows(session, 'feed').find(f => reaches(f.from) || reaches(f.to))!
  delete session.feed[other.id]
  return `${feedWords(session, other)} was removed`
}

export const circles = defineRule({
  says: 'signal runs in no circle',
  depends: {
    feed: ['kind', 'from', 'to', 'slot', 'ports', 'tap'],
    slot: ['channel', 'processor', 'loop', 'order', 'afterFader'],
    loop: ['outPorts', 'inPorts'],
    cable: ['fromPort', 'fromUnit', 'toPort', 'toUnit'],
    print: ['channel', 'source', 'tap']
  },
  *find({ session, touched }) {
    const circle = mayCircle(session, touched) && findCircle(session)
    if (circle)
      yield { kind: 'circle', about: circle, message: `That would make a circle: ${namesOf(session, circle)}` }
  },
  mend(session) {
    const notes: string[] = []
    for (let circle = findCircle(session); circle; circle = findCircle(session)) {
      const names = namesOf(session, circle)
      notes.push(`There was a circle (${names}): ${opened(session, circle)}`)
    }
    return notes.map(capital)
  }
})
