// Cables in rooms by seed: none runs through a unit or a port, none lies on another, a bundle holds all of its cables.
import { describe, expect, it } from 'vitest'
import { portsOfRig } from '@nullet/core/propose/outputs'
import { UNITS } from '@nullet/core/rig/units'
import { rows } from '@nullet/core/session/session'
import { Dice } from '@nullet/core/testing/generated'
import { Sketch } from '@nullet/core/testing/sketch'
import { bundlesOf, crossingsOf, fromKey, routesIn, toKey } from './cableRoutes'
import { PORT_H, PORT_W, placesOf } from './roomPlaces'

function room(dice: Dice, ports: number, count: number): Sketch {
  const k = new Sketch()
  k.rig('room')
  k.interface('io', 'room', ports, ports)
  const models = Object.keys(UNITS)
  const units = Array.from({ length: count }, (_, i) => k.unit(`u${i}`, 'room', dice.pick(models)))
  const jacks = (side: 'inputs' | 'outputs') =>
    units.flatMap(u => UNITS[k.session.unit[u].model][side].map((_, jack) => `${u}:${jack}`))
  const port = (direction: string) => Array.from({ length: ports }, (_, i) => `io-${direction}-${i + 1}`)
  const froms = [...port('out'), ...jacks('outputs')]
  for (const to of [...port('in'), ...jacks('inputs')]) if (dice.chance(0.7)) k.cable('room', dice.pick(froms), to)
  return k
}

interface Stretch {
  route: string
  from: string
  x1: number
  y1: number
  x2: number
  y2: number
}
/** Straight stretches of a path of M, H and V. */
function stretches(path: string, route: string, from: string): Stretch[] {
  let x = 0,
    y = 0
  return [...path.matchAll(/([MHV])\s*([\d.-]+)(?: ([\d.-]+))?/g)].flatMap(([, verb, a, b]) => {
    const [x1, y1] = [x, y]
    if (verb === 'M') [x, y] = [Number(a), Number(b)]
    else if (verb === 'H') x = Number(a)
    else y = Number(a)
    return verb === 'M' ? [] : [{ route, from, x1, y1, x2: x, y2: y }]
  })
}
function drawn(k: Sketch, opened: ReadonlySet<string>, width = 800) {
  const s = k.session
  const units = rows(s, 'unit').map(unit => ({ unit, model: UNITS[unit.model] }))
  const bundles = bundlesOf(rows(s, 'cable'), p => s.port[p].interface, opened)
  const ids = units.map(u => u.unit.id)
  const places = placesOf(
    width,
    portsOfRig(s, 'room', 'out'),
    portsOfRig(s, 'room', 'in'),
    units,
    crossingsOf(bundles.drawn, ids)
  )
  return { bundles, places, routes: routesIn(places, bundles.drawn) }
}
const isInside = (s: Stretch, left: number, top: number, right: number, bottom: number) =>
  Math.max(s.x1, s.x2) > left + 0.01 &&
  Math.min(s.x1, s.x2) < right - 0.01 &&
  Math.max(s.y1, s.y2) > top + 0.01 &&
  Math.min(s.y1, s.y2) < bottom - 0.01
const overlap = (a1: number, a2: number, b1: number, b2: number) =>
  Math.min(Math.max(a1, a2), Math.max(b1, b2)) - Math.max(Math.min(a1, a2), Math.min(b1, b2))

describe('cables of a room', () => {
  it('run through no unit and no port, and lie on no other, in 30 rooms, opened and closed', () => {
    const dice = new Dice(7)
    for (let n = 0; n < 30; n++) {
      const k = room(dice, 1 + dice.below(16), dice.below(11))
      const all = bundlesOf(rows(k.session, 'cable'), p => k.session.port[p].interface, new Set()).all
      for (const opened of [new Set<string>(), new Set(all.map(b => b.key))]) {
        const { places, routes } = drawn(k, opened, dice.pick([640, 800, 1100]))
        const lines = routes.flatMap(r => [
          ...(r.trunk ? stretches(r.trunk, r.bundle.key, r.bundle.key) : []),
          ...r.strands.flatMap(s => stretches(s.path, r.bundle.key, fromKey(s.cable)))
        ])
        for (const line of lines) {
          for (const u of places.units)
            expect(isInside(line, places.unitX, u.y, places.unitX + places.unitWidth, u.y + u.height)).toBe(false)
          for (const p of places.ports) expect(isInside(line, p.x, p.y, p.x + PORT_W, p.y + PORT_H)).toBe(false)
        }
        lines.forEach((a, i) =>
          lines.slice(i + 1).forEach(b => {
            if (a.route === b.route) return
            const upright = a.x1 === a.x2 && b.x1 === b.x2 && Math.abs(a.x1 - b.x1) < 0.5
            const level = a.y1 === a.y2 && b.y1 === b.y2 && Math.abs(a.y1 - b.y1) < 2
            if (upright) expect(overlap(a.y1, a.y2, b.y1, b.y2)).toBeLessThanOrEqual(0.01)
            // What leaves one jack may begin as one line.
            if (level && a.from !== b.from) expect(overlap(a.x1, a.x2, b.x1, b.x2)).toBeLessThanOrEqual(0.01)
          })
        )
      }
    }
  })

  it('begin and end at their jacks, each once, whether in a bundle or not', () => {
    const k = room(new Dice(2), 16, 10)
    for (const opened of [new Set<string>(), new Set(drawn(k, new Set()).bundles.all.map(b => b.key))]) {
      const { places, routes } = drawn(k, opened)
      const strands = routes.flatMap(r => r.strands)
      expect(strands.map(s => s.cable.id).sort()).toEqual(Object.keys(k.session.cable).sort())
      for (const { cable, path } of strands) {
        const [a, z] = [places.jacks.get(fromKey(cable))!, places.jacks.get(toKey(cable))!]
        expect(path.startsWith(`M${a.x} ${a.y} H`)).toBe(true)
        expect(path).toMatch(new RegExp(`${z.y} H${z.x}$`))
      }
    }
  })

  it('three or more between the same two are one bundle that opens', () => {
    const k = new Sketch()
    k.rig('room')
    k.interface('io', 'room', 10, 4)
    k.unit('sum', 'room', 'summing-8')
    for (let i = 0; i < 8; i++) k.cable('room', `io-out-${i + 1}`, `sum:${i}`)
    for (let i = 0; i < 2; i++) k.cable('room', `sum:${i}`, `io-in-${i + 1}`)
    const closed = drawn(k, new Set())
    expect(closed.routes.map(r => [r.strands.length, r.trunk !== null])).toEqual([
      [8, true],
      [1, false],
      [1, false]
    ])
    const open = drawn(k, new Set([closed.bundles.all[0]!.key]))
    expect(open.routes.map(r => r.strands.length)).toEqual(Array(10).fill(1))
    expect(open.bundles.all).toHaveLength(1)
  })
})
