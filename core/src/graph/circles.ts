// Circles: signal that would have to be there before it is made. The nodes are finer than channels (slots and taps),
// because a key taken before a slot may well steer it.
import { printOn, rows, type Session } from '../session/session'
import { LOOP } from '../processors/table'
import { Network, push } from './network'

/** A circle as the channels it runs through, in order; null when there is none. Circles of cables alone describe the room. */
export function findCircle(session: Session): string[] | null {
  const network = new Network(session)
  const edges = new Map<string, string[]>()
  const edge = (a: string, b: string) => push(edges, a, b)
  const loopPorts = (id: string | null) => session.loop[id ?? '']

  for (const channel of rows(session, 'channel')) {
    let at = `${channel.id}|in`
    const go = (to: string) => { edge(at, to); at = to }
    go(`${channel.id}|input`)
    const slots = network.slots.get(channel.id) ?? []
    const pass = (afterFader: boolean) => {
      for (const slot of slots.filter(s => s.afterFader === afterFader)) {
        go(`${channel.id}|slot|${slot.id}`)
        const loop = slot.processor === LOOP ? loopPorts(slot.loop) : undefined
        loop?.outPorts.forEach(p => edge(at, `port|${p}`))
        go(`${channel.id}|slotOut|${slot.id}`)
        loop?.inPorts.forEach(p => edge(`port|${p}`, at))
      }
    }
    pass(false)
    go(`${channel.id}|pre`)
    pass(true)
    go(`${channel.id}|post`)
    const print = printOn(session, channel.id)
    if (print) edge(`${print.source}|${print.tap}`, `${channel.id}|in`)
  }
  for (const feed of rows(session, 'feed')) {
    const from = `${feed.from}|${feed.tap}`
    if (feed.kind === 'key') { const slot = session.slot[feed.slot!]; if (slot) edge(from, `${slot.channel}|slot|${slot.id}`) }
    else if (feed.kind === 'port') feed.ports.forEach(p => edge(from, `port|${p}`))
    else if (feed.kind === 'input') feed.ports.forEach(p => edge(`port|${p}`, `${feed.to}|in`))
    else if (feed.to) edge(from, `${feed.to}|in`)
  }
  for (const cable of rows(session, 'cable')) {
    edge(cable.fromPort ? `port|${cable.fromPort}` : `unit|${cable.fromUnit}`, cable.toPort ? `port|${cable.toPort}` : `unit|${cable.toUnit}`)
  }

  const done = new Set<string>(), onPath = new Map<string, number>()
  const path: string[] = []
  const visit = (start: string): string[] | null => {
    // An explicit stack: networks may be deeper than the call stack likes.
    const stack: { node: string, next: number }[] = [{ node: start, next: 0 }]
    onPath.set(start, 0); path.push(start)
    while (stack.length) {
      const top = stack[stack.length - 1]
      const targets = edges.get(top.node) ?? []
      if (top.next === targets.length) {
        stack.pop(); path.pop(); onPath.delete(top.node); done.add(top.node)
        continue
      }
      const to = targets[top.next++]
      if (onPath.has(to)) {
        const circle = path.slice(onPath.get(to)!)
        const channels = [...new Set(circle.filter(n => !/^(port|unit)\|/.test(n)).map(n => n.split('|')[0]))]
        if (channels.length) return channels
      } else if (!done.has(to)) {
        onPath.set(to, path.length); path.push(to); stack.push({ node: to, next: 0 })
      }
    }
    return null
  }
  for (const node of edges.keys()) {
    if (done.has(node)) continue
    const circle = visit(node)
    if (circle) return circle
  }
  return null
}
