// Where ports, units and their jacks stand in the drawing of a room, in pixels. Rows of ports, jacks and crossings lie
// at different remainders of ten, so that no level stretch of one cable lies on that of another.
import type { UnitModel } from '@nullet/core/rig/unit'
import type { Row } from '@nullet/core/session/rows'
import type { End } from './rigGestures'

export const PORT_W = 168,
  PORT_H = 26,
  MARGIN = 12,
  UNIT_HEAD = 28,
  JACK_H = 20
const PORT_PITCH = 30,
  TOP = 30,
  UNIT_FOOT = 6,
  GAP = 16,
  CROSSING_PITCH = 10,
  FIRST_CROSSING = 12,
  MOST_UNIT_W = 240

export interface PlacedPort {
  port: Row<'port'>
  x: number
  y: number
}
export interface PlacedUnit {
  unit: Row<'unit'>
  model: UnitModel | undefined
  y: number
  height: number
}
export interface Jack {
  /** `p…` a port, `i…:n` and `o…:n` a unit's */
  key: string
  side: 'from' | 'to'
  end: End
  name: string
  x: number
  y: number
}
export interface Places {
  width: number
  height: number
  unitX: number
  unitWidth: number
  /** Left edge of the ports in. */
  inX: number
  /** Out, then in. */
  ports: PlacedPort[]
  units: PlacedUnit[]
  jacks: Map<string, Jack>
  /** Where the k-th cable crosses the column of units above unit `gap`, or below the last. */
  crossing(gap: number, k: number): number
}

const jacksOf = (model: UnitModel | undefined) => Math.max(model?.inputs.length ?? 1, model?.outputs.length ?? 1)

/** @param crossings how many cables cross above unit `gap`; one more entry than units, the last for below */
export function placesOf(
  width: number,
  outPorts: readonly Row<'port'>[],
  inPorts: readonly Row<'port'>[],
  units: readonly { unit: Row<'unit'>; model: UnitModel | undefined }[],
  crossings: readonly number[]
): Places {
  const inX = width - MARGIN - PORT_W
  const column = (ports: readonly Row<'port'>[], x: number) =>
    ports.map((port, i) => ({ port, x, y: TOP + i * PORT_PITCH }))
  const ports = [...column(outPorts, MARGIN), ...column(inPorts, inX)]
  const unitWidth = Math.min(MOST_UNIT_W, width - 2 * PORT_W - 200),
    unitX = (width - unitWidth) / 2
  const gapTops: number[] = []
  let y = TOP
  const placed = units.map(({ unit, model }, i) => {
    gapTops.push(y - GAP)
    y += (crossings[i] ?? 0) * CROSSING_PITCH
    const at = { unit, model, y, height: UNIT_HEAD + jacksOf(model) * JACK_H + UNIT_FOOT }
    y += at.height + GAP
    return at
  })
  gapTops.push(y - GAP)
  const bottom = y + (crossings[units.length] ?? 0) * CROSSING_PITCH
  const ofPort = ({ port, x, y: top }: PlacedPort): Jack => ({
    key: `p${port.id}`,
    side: port.direction === 'out' ? 'from' : 'to',
    x: port.direction === 'out' ? x + PORT_W : x,
    y: top + PORT_H / 2,
    end: { port: port.id },
    name: port.name
  })
  const ofUnit = ({ unit, model, y: top }: PlacedUnit): Jack[] => {
    const row = (kind: 'i' | 'o', side: 'from' | 'to', x: number) => (name: string, jack: number) => ({
      key: `${kind}${unit.id}:${jack}`,
      side,
      x,
      y: top + UNIT_HEAD + jack * JACK_H + JACK_H / 2,
      end: { unit: unit.id, jack },
      name: `${unit.name} ${name}`
    })
    return [
      ...(model?.inputs ?? []).map(row('i', 'to', unitX)),
      ...(model?.outputs ?? []).map(row('o', 'from', unitX + unitWidth))
    ]
  }
  const jacks = [...ports.map(ofPort), ...placed.flatMap(ofUnit)]
  return {
    width,
    height: Math.max(bottom, ...ports.map(p => p.y + PORT_H)) + 24,
    unitX,
    unitWidth,
    inX,
    ports,
    units: placed,
    jacks: new Map(jacks.map(j => [j.key, j])),
    crossing: (gap, k) => gapTops[gap]! + FIRST_CROSSING + k * CROSSING_PITCH
  }
}
