import { cableName, endName, howls } from '../graph/cables'
import { isElsewhere } from '../graph/room'
import { rowOf, rows, type Session } from '../session/session'
import type { Check } from './check'

/** What of a session leaves or arrives at a port. */
function usersOf(session: Session, port: string): string[] {
  const loops = rows(session, 'loop').filter(l => [...l.outPorts, ...l.inPorts].includes(port))
  const feeds = rows(session, 'feed').filter(f => !f.muted && f.levelDb !== null && f.ports.includes(port))
  return [
    ...loops.map(l => `loop “${l.name}”`),
    ...feeds.map(f => `“${rowOf(session, 'channel', f.from ?? f.to ?? '').name}”`)
  ]
}

/** A route of an interface's own matrix that adds something where the session's signal is by itself. */
export const routeInside: Check = {
  id: 'routeInside',
  find: session =>
    rows(session, 'cable').flatMap(route => {
      if (!route.inside || route.levelDb === null || route.toPort === null || isElsewhere(session, [route.toPort]))
        return []
      const circle = howls(session, route),
        users = usersOf(session, route.toPort)
      if (!circle && !users.length) return []
      const device = rowOf(session, 'interface', rowOf(session, 'port', route.toPort).interface).name
      const to = endName(session, route, 'to')
      return [
        {
          sentence: `${device} sends ${cableName(session, route)} by itself.`,
          about: [route.toPort, route.id],
          consequence: circle
            ? 'What comes back there goes out again: it would howl, so it carries nothing.'
            : `${to} carries ${users.join(', ')}; what the interface adds is heard and printed with it.`,
          fixes: [{ label: 'Remove that route', edit: { verb: 'removeCable', args: { id: route.id } } }]
        }
      ]
    })
}
