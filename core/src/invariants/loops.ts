// A loop is plugged (a slot holds it) or waiting. Among plugged loops every port and every side of a unit has one
// owner; port feeds may share ports that no plugged loop owns.
import { LOOP } from '../processors/table'
import { sidesReached } from '../graph/sides'
import type { Feed, Loop, Slot } from '../session/rows'
import { byId, rows, type Session } from '../session/session'
import { capital, feedWords } from './words'
import { defineRule, type Breach } from './rule'

/** The most ports a loop returns on. */
const MOST_RETURNS = 2

interface Plugged {
  slot: Slot
  loop: Loop
}

const plugged = (session: Session): Plugged[] =>
  rows(session, 'slot')
    .sort(byId)
    .flatMap(slot => {
      const loop = slot.processor === LOOP ? session.loop[slot.loop ?? ''] : undefined
      return loop ? [{ slot, loop }] : []
    })

const holder = (session: Session, { slot }: Plugged) => session.channel[slot.channel]?.name ?? slot.channel

function slotFault(session: Session, slot: Slot): Breach | null {
  const where = `“${session.channel[slot.channel]?.name ?? slot.channel}”`
  if (slot.processor === LOOP && slot.loop === null)
    return { kind: 'badArguments', about: [slot.id], message: `A slot on ${where} is to hold a loop and names none` }
  if (slot.processor !== LOOP && slot.loop !== null)
    return {
      kind: 'badArguments',
      about: [slot.id],
      message: `A slot on ${where} holds ${slot.processor} and names a loop as well`
    }
  return null
}

function loopFault(session: Session, loop: Loop): Breach | null {
  const say = (kind: Breach['kind'], fault: string, about: string[]): Breach => ({
    kind,
    about: [loop.id, ...about],
    message: `“${loop.name}” ${fault}`
  })
  for (const [ports, direction] of [
    [loop.outPorts, 'out'],
    [loop.inPorts, 'in']
  ] as const) {
    for (const id of ports) {
      const port = session.port[id]
      if (!port) continue
      if (port.direction !== direction)
        return say('badArguments', `names “${port.name}”, which is not a port ${direction}`, [id])
      if (session.interface[port.interface]?.rig !== loop.rig)
        return say('badArguments', `names “${port.name}”, which is in another rig`, [id])
    }
    if (new Set(ports).size < ports.length) return say('badArguments', 'names a port twice', [...ports])
  }
  if (loop.inPorts.length > MOST_RETURNS)
    return say('layout', `returns on ${loop.inPorts.length} ports; a loop returns on one or two`, loop.inPorts)
  return null
}

/** What two plugged loops both claim, or null. */
function claim(session: Session, a: Plugged, b: Plugged, sides: Map<string, Set<string>>): string | null {
  if (a.loop.id === b.loop.id) return 'itself'
  const port = [...a.loop.outPorts, ...a.loop.inPorts].find(
    p => b.loop.outPorts.includes(p) || b.loop.inPorts.includes(p)
  )
  if (port) return `“${session.port[port]?.name ?? port}”`
  const side = [...sides.get(a.loop.id)!].find(s => sides.get(b.loop.id)!.has(s))
  return side ? `“${session.unit[side.slice(0, side.lastIndexOf('|'))]?.name}”` : null
}

/** Plugged loops that claim what an earlier one owns. */
function* claims(session: Session): Iterable<{ loser: Plugged; owner: Plugged; what: string }> {
  const list = plugged(session)
  const sides = new Map(list.map(p => [p.loop.id, sidesReached(session, p.loop.outPorts)]))
  for (const [i, loser] of list.entries()) {
    for (const owner of list.slice(0, i)) {
      const what = claim(session, loser, owner, sides)
      if (what) {
        yield { loser, owner, what }
        break
      }
    }
  }
}

/** Port feeds onto ports that a plugged loop owns. */
function* intruders(session: Session): Iterable<{ feed: Feed; owner: Plugged; ports: string[] }> {
  const owners = new Map(plugged(session).flatMap(p => p.loop.outPorts.map(port => [port, p] as const)))
  if (!owners.size) return
  for (const feed of rows(session, 'feed')) {
    const taken = feed.kind === 'port' ? feed.ports.filter(p => owners.has(p)) : []
    if (taken.length) yield { feed, owner: owners.get(taken[0]!)!, ports: taken }
  }
}

const inUse = (session: Session, owner: Plugged, what: string) =>
  what === 'itself'
    ? `“${owner.loop.name}” is in use on “${holder(session, owner)}”`
    : `${what} is in use by “${owner.loop.name}” on “${holder(session, owner)}”`
const ANOTHER_PASS = 'A second use means another pass: print there first, or remove the other one.'

export const loops = defineRule({
  says: 'a port and a side of a unit have one owner among plugged loops',
  depends: {
    slot: ['processor', 'loop'],
    loop: ['rig', 'outPorts', 'inPorts'],
    feed: ['kind', 'ports'],
    port: ['direction', 'interface'],
    interface: ['rig'],
    cable: ['fromPort', 'fromUnit', 'fromJack', 'toPort', 'toUnit', 'toJack', 'normalled', 'inside'],
    unit: ['model']
  },
  *find({ session }) {
    for (const slot of rows(session, 'slot')) {
      const breach = slotFault(session, slot)
      if (breach) yield breach
    }
    for (const loop of rows(session, 'loop')) {
      const breach = loopFault(session, loop)
      if (breach) yield breach
    }
    for (const { loser, owner, what } of claims(session)) {
      yield {
        kind: 'portTaken',
        about: [loser.loop.id, owner.slot.channel],
        message: `${inUse(session, owner, what)}. ${ANOTHER_PASS}`
      }
    }
    for (const { feed, owner, ports } of intruders(session)) {
      yield {
        kind: 'portTaken',
        about: [feed.id, ...ports, owner.slot.channel],
        message: `${inUse(session, owner, `“${session.port[ports[0]!]?.name}”`)}: ${feedWords(session, feed)} cannot end there`
      }
    }
  },
  mend(session) {
    const notes: string[] = []
    for (const slot of rows(session, 'slot')) {
      const breach = slotFault(session, slot)
      if (!breach) continue
      if (slot.processor === LOOP) delete session.slot[slot.id]
      else session.slot[slot.id] = { ...slot, loop: null }
      notes.push(`${breach.message}; ${slot.processor === LOOP ? 'it was left out' : 'the loop was removed from it'}`)
    }
    for (const loop of rows(session, 'loop')) {
      const breach = loopFault(session, loop)
      if (!breach) continue
      const right = (ports: string[], direction: string) =>
        [...new Set(ports)].filter(
          p =>
            session.port[p]?.direction === direction && session.interface[session.port[p].interface]?.rig === loop.rig
        )
      session.loop[loop.id] = {
        ...loop,
        outPorts: right(loop.outPorts, 'out'),
        inPorts: right(loop.inPorts, 'in').slice(0, MOST_RETURNS)
      }
      notes.push(`${breach.message}; it has only ports that it can have now`)
    }
    for (const { loser, owner, what } of [...claims(session)]) {
      delete session.slot[loser.slot.id]
      notes.push(
        `${capital(inUse(session, owner, what))}: “${loser.loop.name}” was removed from “${holder(session, loser)}” and waits`
      )
    }
    for (const { feed, owner, ports } of [...intruders(session)]) {
      const left = feed.ports.filter(p => !ports.includes(p))
      const words = feedWords(session, feed)
      if (left.length) session.feed[feed.id] = { ...feed, ports: left }
      else delete session.feed[feed.id]
      notes.push(`${inUse(session, owner, `“${session.port[ports[0]!]?.name}”`)}: ${words} ends there no more`)
    }
    return notes
  }
})
