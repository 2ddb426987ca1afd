// How the legs of a feed are placed in its destination: a matrix of linear gains, destination legs × source legs.
// Laws: constant power, gL = cos(π/4·(1+p)), gR = sin of the same; stereo balance; fold-down after ITU-R BS.775-3 annex
// 4.
import { PI, cos, sin } from '../foundation/elementary'
import type { HeardAs } from './rows'

const HALF = Math.SQRT1_2

/** Where a label that the destination lacks goes: −3 dB each, one step at a time until all arrive. LFE is left out. */
const FOLD: Record<string, [string, number][]> = {
  C: [
    ['L', HALF],
    ['R', HALF]
  ],
  Ls: [['L', HALF]],
  Rs: [['R', HALF]],
  M: [
    ['L', HALF],
    ['R', HALF]
  ]
}

function route(label: string, gain: number, to: readonly string[], row: number[]): void {
  const at = to.indexOf(label)
  if (at >= 0) {
    row[at] += gain
    return
  }
  for (const [next, g] of FOLD[label] ?? []) route(next, gain * g, to, row)
}

/** Places between left and right at which a moving placement is computed; between them it is a straight line. */
const STEPS = 1024
const tables = new Map<string, number[][][]>()

/** For every destination leg and source leg its gain at −1 … +1 in 1025 places: for placement that moves. */
export function placementTable(from: readonly string[], to: readonly string[]): number[][][] {
  const name = `${from.join()}>${to.join()}`
  const known = tables.get(name)
  if (known) return known
  const all = Array.from({ length: STEPS + 1 }, (_, i) => placement(from, to, (i / STEPS) * 2 - 1))
  const made = to.map((_, leg) => from.map((_, k) => all.map(m => m[leg][k])))
  tables.set(name, made)
  return made
}

/**
 * Gains from every source leg to every destination leg.
 * @param pan −1 (left) … +1 (right); for a stereo source a balance: the near leg stays at 0 dB, the far leg falls.
 */
export function placement(from: readonly string[], to: readonly string[], pan: number): number[][] {
  const gains = to.map(() => from.map(() => 0))
  const left = cos((PI / 4) * (1 + pan)),
    right = sin((PI / 4) * (1 + pan))
  if (to.length === 1) {
    // Into mono: 0.7071·(L+R), so that a centred mono placed in stereo returns at unity.
    const g = from.length === 1 ? 1 : HALF
    from.forEach((label, i) => {
      gains[0][i] = label === 'LFE' ? 0 : g
    })
    return gains
  }
  const [l, r] = [to.indexOf('L'), to.indexOf('R')]
  if (from.length === 1 && l >= 0 && r >= 0) {
    gains[l][0] = left
    gains[r][0] = right
    return gains
  }
  if (l < 0 || r < 0) {
    from.forEach((_, i) => {
      if (i < to.length) gains[i][i] = 1
    })
    return gains
  }
  const near = (law: number) => Math.min(1, law / HALF)
  const balance: Record<string, number> = { L: near(left), Ls: near(left), R: near(right), Rs: near(right) }
  from.forEach((label, i) => {
    const row = to.map(() => 0)
    route(label, pan === 0 ? 1 : (balance[label] ?? 1), to, row)
    row.forEach((g, k) => {
      gains[k][i] = g
    })
  })
  return gains
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
export const folded = ([left, right]: number[][], as: HeardAs): number[][] =>
  FOLDS[as].map(([l, r]) => left.map((g, i) => l * g + r * right[i]))
