// The ways of cables in the drawing of a room: right-angled, each upright stretch in a lane of its own, through the
// gaps between units and never through one. Cables that run side by side are one bundle until it is opened.
import type { Cable } from '@nullet/core/session/rows'
import { MARGIN, PORT_W, type Jack, type Places } from './roomPlaces'

/** So many cables between the same two things are drawn as one. */
const FEWEST_IN_BUNDLE = 3
/** No cable turns nearer to a jack. */
const JACK_ROOM = 18

export interface Bundle {
  /** What it leads from and to, and the cable where it is one by itself. */
  key: string
  cables: Cable[]
  from: string
  to: string
  isPort: { from: boolean; to: boolean }
}
export interface Strand {
  cable: Cable
  /** What is its own: all of it where it is not in a bundle. */
  path: string
  name: string
}
export interface Route {
  bundle: Bundle
  strands: Strand[]
  /** What its cables share; null where it is one cable. */
  trunk: string | null
  /** Where the number of its cables stands. */
  label: { x: number; y: number }
}

export const fromKey = (c: Cable): string => (c.fromPort !== null ? `p${c.fromPort}` : `o${c.fromUnit}:${c.fromJack}`)
export const toKey = (c: Cable): string => (c.toPort !== null ? `p${c.toPort}` : `i${c.toUnit}:${c.toJack}`)

/**
 * @param opened bundles whose cables are drawn one by one
 * @returns bundles and single cables, in the order of the cables
 */
export function bundlesOf(
  cables: readonly Cable[],
  interfaceOf: (port: string) => string,
  opened: ReadonlySet<string>
): { drawn: Bundle[]; all: Bundle[] } {
  const groups = new Map<string, Bundle>()
  for (const cable of cables) {
    const from = cable.fromUnit ?? interfaceOf(cable.fromPort),
      to = cable.toUnit ?? interfaceOf(cable.toPort)
    const key = `${from} > ${to}`,
      group = groups.get(key)
    if (group) group.cables.push(cable)
    else {
      const isPort = { from: cable.fromPort !== null, to: cable.toPort !== null }
      groups.set(key, { key, cables: [cable], from, to, isPort })
    }
  }
  const isWhole = (g: Bundle) => g.cables.length >= FEWEST_IN_BUNDLE && !opened.has(g.key)
  const drawn = [...groups.values()].flatMap(g =>
    isWhole(g) ? [g] : g.cables.map(c => ({ ...g, key: `${g.key} ${c.id}`, cables: [c] }))
  )
  return { drawn, all: [...groups.values()].filter(g => g.cables.length >= FEWEST_IN_BUNDLE) }
}

const goesAcross = (b: Bundle) => b.isPort.from === b.isPort.to
/** Above which unit a bundle crosses the column: beneath the one that it leaves, above it on the way back. */
function gapOf(b: Bundle, units: readonly string[]): number {
  if (b.isPort.from) return units.length
  const [from, to] = [units.indexOf(b.from), units.indexOf(b.to)]
  return to < from ? from : from + 1
}

/** How many cross above each unit, and below the last. */
export function crossingsOf(bundles: readonly Bundle[], units: readonly string[]): number[] {
  const count = new Array<number>(units.length + 1).fill(0)
  for (const b of bundles.filter(goesAcross)) count[gapOf(b, units)]!++
  return count
}

export function routesIn(places: Places, bundles: readonly Bundle[]): Route[] {
  const units = places.units.map(u => u.unit.id)
  const ends = (b: Bundle) =>
    b.cables.flatMap(cable => {
      const a = places.jacks.get(fromKey(cable)),
        z = places.jacks.get(toKey(cable))
      return a && z ? [{ cable, a, z }] : []
    })
  const shown = bundles.map(bundle => ({ bundle, ends: ends(bundle) })).filter(s => s.ends.length)
  // Whoever begins higher turns further out on the way down, so that fewer cross.
  const byBegin = shown.toSorted((a, b) => b.ends[0]!.a.y - a.ends[0]!.a.y)
  const lanes = (left: number, right: number, who: typeof shown) => {
    const step = (right - left - 2 * JACK_ROOM) / (who.length + 1)
    return new Map(who.map((s, i) => [s.bundle.key, left + JACK_ROOM + (i + 1) * step]))
  }
  const isLeft = ({ bundle: b }: (typeof shown)[number]) => b.isPort.from || !b.isPort.to
  const isRight = ({ bundle: b }: (typeof shown)[number]) => !b.isPort.from || b.isPort.to
  const left = lanes(MARGIN + PORT_W, places.unitX, byBegin.filter(isLeft)),
    right = lanes(places.unitX + places.unitWidth, places.inX, byBegin.filter(isRight))
  const taken = new Map<number, number>()

  return shown.map(({ bundle, ends: all }) => {
    const { key, isPort } = bundle
    const near = (isPort.from ? left : right).get(key)!,
      far = (isPort.to ? right : left).get(key)!
    const straight = !goesAcross(bundle)
    const ys = (of: 'a' | 'z') => all.map(e => e[of].y)
    let level = (Math.min(...ys('a')) + Math.max(...ys('z'))) / 2
    if (!straight) {
      const gap = gapOf(bundle, units),
        k = taken.get(gap) ?? 0
      taken.set(gap, k + 1)
      level = places.crossing(gap, k)
    }
    const upright = (x: number, values: number[]) => `M${x} ${Math.min(...values)} V${Math.max(...values)}`
    const whole = (a: Jack, z: Jack) =>
      straight ? `M${a.x} ${a.y} H${near} V${z.y} H${z.x}` : `M${a.x} ${a.y} H${near} V${level} H${far} V${z.y} H${z.x}`
    const label = { x: straight ? near : (near + far) / 2, y: level }
    const name = (a: Jack, z: Jack) => `${a.name} → ${z.name}`
    if (all.length === 1) {
      const { cable, a, z } = all[0]!
      return { bundle, label, trunk: null, strands: [{ cable, path: whole(a, z), name: name(a, z) }] }
    }
    const trunk = straight
      ? upright(near, [...ys('a'), ...ys('z')])
      : `${upright(near, [...ys('a'), level])} M${near} ${level} H${far} ${upright(far, [...ys('z'), level])}`
    const strands = all.map(({ cable, a, z }) => ({
      cable,
      path: `M${a.x} ${a.y} H${near} M${far} ${z.y} H${z.x}`,
      name: name(a, z)
    }))
    return { bundle, label, trunk, strands }
  })
}
