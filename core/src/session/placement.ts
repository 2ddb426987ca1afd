// How the legs of a feed are placed in its destination: a matrix of linear gains, destination legs × source legs.
// Laws: constant power, gL = cos(π/4·(1+p)), gR = sin of the same; stereo balance; fold-down as `speakers.ts` has it.
import { PI, cos, sin } from '../foundation/elementary'
import type { HeardAs } from './rows'
import { speaker } from './speakers'

const HALF = Math.SQRT1_2

function route(label: string, gain: number, to: readonly string[], row: number[]): void {
  const at = to.indexOf(label)
  if (at >= 0) row[at] = (row[at] ?? 0) + gain
  else for (const [next, g] of speaker(label).folds) route(next, gain * g, to, row)
}

/** Places between left and right at which a moving placement is computed; between them it is a straight line. */
const STEPS = 1024

/** What is made once for each pair of layouts. */
function perLayouts<T>(make: (from: readonly string[], to: readonly string[]) => T): typeof make {
  const known = new Map<string, T>()
  return (from, to) => {
    const name = `${from.join()}>${to.join()}`
    if (!known.has(name)) known.set(name, make(from, to))
    return known.get(name)!
  }
}

/** For every destination leg and source leg its gain at −1 … +1 in 1025 places: for placement that moves. */
export const placementTable = perLayouts((from, to): number[][][] => {
  const all = Array.from({ length: STEPS + 1 }, (_, i) => placement(from, to, (i / STEPS) * 2 - 1))
  return to.map((_, leg) => from.map((_, k) => all.map(m => m[leg]?.[k] ?? 0)))
})

/** Destination legs × source legs: does any pan bring that one into this one? */
export const reach = perLayouts((from, to): boolean[][] =>
  placementTable(from, to).map(row => row.map(gains => gains.some(g => g !== 0)))
)

/**
 * Gains from every source leg to every destination leg.
 * @param pan −1 (left) … +1 (right); for a stereo source a balance: the near leg stays at 0 dB, the far leg falls.
 */
export function placement(from: readonly string[], to: readonly string[], pan: number): number[][] {
  const left = cos((PI / 4) * (1 + pan)),
    right = sin((PI / 4) * (1 + pan))
  if (to.length === 1) {
    // Into mono: 0.7071·(L+R), so that a centred mono placed in stereo returns at unity.
    const g = from.length === 1 ? 1 : HALF
    return [from.map(label => (speaker(label).weight === 0 ? 0 : g))]
  }
  const [l, r] = [to.indexOf('L'), to.indexOf('R')]
  if (from.length === 1 && l >= 0 && r >= 0) return to.map((_, leg) => [leg === l ? left : leg === r ? right : 0])
  if (l < 0 || r < 0) return to.map((_, leg) => from.map((_, k) => (leg === k ? 1 : 0)))
  const near = (law: number) => Math.min(1, law / HALF)
  const columns = from.map(label => {
    const angle = speaker(label).angleDeg ?? 0
    const balance = pan === 0 || angle === 0 ? 1 : near(angle > 0 ? left : right)
    const column = to.map(() => 0)
    route(label, balance, to, column)
    return column
  })
  return to.map((_, leg) => columns.map(column => column[leg] ?? 0))
}

/** How two loudspeakers are listened to: rows are what left and right play, of left and right. */
const FOLDS: Record<HeardAs, readonly [readonly [number, number], readonly [number, number]]> = {
  stereo: [
    [1, 0],
    [0, 1]
  ],
  mono: [
    [0.5, 0.5],
    [0.5, 0.5]
  ],
  left: [
    [1, 0],
    [1, 0]
  ],
  right: [
    [0, 1],
    [0, 1]
  ],
  swapped: [
    [0, 1],
    [1, 0]
  ],
  side: [
    [0.5, -0.5],
    [0.5, -0.5]
  ]
}

/** A placement into left and right, folded as it is to be heard. */
export const folded = ([left = [], right = []]: number[][], as: HeardAs): number[][] =>
  FOLDS[as].map(([l, r]) => left.map((g, i) => l * g + r * (right[i] ?? 0)))
