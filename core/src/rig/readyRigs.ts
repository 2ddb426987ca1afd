// A room described in few words: an interface by number and kind of its ports, units and what they are cabled to; the
// rows that it becomes. Ready rigs are such descriptions.
import { keysAfter } from '../session/order'
import type { TableName } from '../session/rows'

export interface InterfaceDescription {
  interface: string
  /** Line ports; digital ones come after them. */ outs: number
  ins: number
  digitalOuts: number
  digitalIns: number
  /** What 0 dBFS is at its line ports. */ referenceDbu: number
  /** What its driver says, out to in, in samples. */ reportedLatencySamples: number
}
/** One more interface: it follows the first one's clock, or drifts against it. */
export interface SecondInterface extends InterfaceDescription {
  clock: 'locked' | 'free'
  driftPpm: number
}

export interface RigDescription extends InterfaceDescription {
  name: string
  second?: SecondInterface | null
  /** Ports of the first interface, from 1: one out for each input jack of the unit, one in for each of its outputs. */
  units: readonly { model: string; name: string; from: readonly number[]; to: readonly number[] }[]
}

const bare = { digitalOuts: 0, digitalIns: 0, referenceDbu: 18, reportedLatencySamples: 128 }
const upTo = (n: number, first = 1) => Array.from({ length: n }, (_, i) => first + i)

export const READY_RIGS: readonly (RigDescription & { for: string })[] = [
  {
    ...bare,
    name: 'Re-amp room',
    for: 'a DI through a tube amplifier, and a pair through a valve compressor',
    interface: 'Eight by eight',
    outs: 8,
    ins: 8,
    units: [
      { model: 'tube-amplifier', name: 'Tube amplifier', from: [5], to: [5] },
      { model: 'valve-compressor', name: 'Valve compressor', from: [3, 4], to: [3, 4] }
    ]
  },
  {
    ...bare,
    name: 'Summing room',
    for: 'eight stem pairs into an analog sum, printed from one return pair',
    interface: 'Twenty by eight',
    outs: 20,
    ins: 8,
    units: [{ model: 'summing-16', name: 'Summing unit', from: upTo(16, 3), to: [3, 4, 5, 6] }]
  },
  {
    ...bare,
    name: 'Plain room',
    for: 'an interface alone; units and cables come as you add them',
    interface: 'Eight by eight',
    outs: 8,
    ins: 8,
    units: []
  }
]

export interface NewRow {
  table: TableName
  row: Record<string, unknown>
}

/**
 * @param id of the rig; everything in it gets an id that begins with it
 * @param order of the rig among the others
 */
export function rigRows(d: RigDescription, id: string, order: string): NewRow[] {
  const port = (direction: 'out' | 'in', n: number) => `${id}-io-${direction}-${n}`
  const devices = [
    { d: d as InterfaceDescription, io: `${id}-io`, before: '', clock: {} },
    ...(d.second
      ? [
          {
            d: d.second,
            io: `${id}-io2`,
            before: `${d.second.interface} `,
            clock: { clock: d.second.clock, driftPpm: d.second.clock === 'free' ? d.second.driftPpm : 0 }
          }
        ]
      : [])
  ]
  const count = devices.reduce((n, { d }) => n + d.outs + d.ins + d.digitalOuts + d.digitalIns, d.units.length)
  const orders = keysAfter(null, count)
  const next = () => orders.shift()
  const ports = devices.flatMap(({ d, io, before }) =>
    (
      [
        { direction: 'out', lines: d.outs, digital: d.digitalOuts },
        { direction: 'in', lines: d.ins, digital: d.digitalIns }
      ] as const
    ).flatMap(({ direction, lines, digital }) =>
      upTo(lines + digital).map((n): NewRow => {
        const signal = n > lines ? 'digital' : 'analog'
        const kind = n > lines ? `${before ? 'digital' : 'Digital'}` : `${before ? 'line' : 'Line'}`
        const name = `${before}${kind} ${direction} ${n > lines ? n - lines : n}`
        const row = { id: `${io}-${direction}-${n}`, interface: io, name, order: next(), direction, signal }
        return { table: 'port', row }
      })
    )
  )
  const units = d.units.flatMap((u, i): NewRow[] => {
    const unit = `${id}-unit-${i + 1}`
    return [
      { table: 'unit', row: { id: unit, rig: id, name: u.name, model: u.model, order: next() } },
      ...u.from.map((n, jack) => ({
        table: 'cable' as const,
        row: { id: `${unit}-to-${jack}`, rig: id, fromPort: port('out', n), toUnit: unit, toJack: jack }
      })),
      ...u.to.map((n, jack) => ({
        table: 'cable' as const,
        row: { id: `${unit}-from-${jack}`, rig: id, fromUnit: unit, fromJack: jack, toPort: port('in', n) }
      }))
    ]
  })
  return [
    { table: 'rig', row: { id, name: d.name, order } },
    ...devices.map(({ d, io, clock }): NewRow => ({
      table: 'interface',
      row: {
        id: io,
        rig: id,
        name: d.interface,
        reportedLatencySamples: d.reportedLatencySamples,
        trueLatencySamples: d.reportedLatencySamples,
        referenceDbu: d.referenceDbu,
        ...clock
      }
    })),
    ...ports,
    ...units
  ]
}
