// A link joins two strips or more, and a strip is in one link at most.
import { byId, rows, type Session } from '../session/session'
import { defineRule, type Breach } from './rule'

/** Links whose members are too few, or in an earlier link as well. */
function* faults(session: Session) {
  const linked = new Map<string, string>()
  for (const link of rows(session, 'link').sort(byId)) {
    const members = [...new Set(link.members)].filter(m => !linked.has(m))
    const twice = link.members.find(m => linked.has(m))
    const fault = twice
      ? `“${session.channel[twice]?.name ?? twice}” is in “${linked.get(twice)}” already`
      : members.length < link.members.length
        ? 'it names a strip twice'
        : members.length < 2
          ? 'a link needs two strips'
          : null
    for (const m of members) linked.set(m, link.name)
    if (fault) yield { link, members, fault }
  }
}

export const links = defineRule({
  says: 'a link joins two strips or more, and a strip is in one link at most',
  depends: { link: ['members'] },
  *find({ session }) {
    for (const { link, fault } of faults(session))
      yield { kind: 'badArguments', about: [link.id], message: `The link “${link.name}”: ${fault}` } satisfies Breach
  },
  mend: session =>
    [...faults(session)].map(({ link, members, fault }) => {
      if (members.length < 2) delete session.link[link.id]
      else session.link[link.id] = { ...link, members }
      return `The link “${link.name}”: ${fault}; ${members.length < 2 ? 'it was removed' : 'it joins each strip once now'}`
    })
})
