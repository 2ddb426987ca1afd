// Loudspeakers by the label of a leg: where each stands, what it pairs with, where it goes when a destination lacks it,
// what it weighs in loudness, and its bit in a WAV file's channel mask. Everything that treats one leg unlike another
// asks here.
// Angles: ITU-R BS.2051. Folds: ITU-R BS.775-3 annex 4, −3 dB each, one step at a time until all arrive. Weights:
// ITU-R BS.1770-4 table 3. Bits: Microsoft's multichannel table (KSAUDIO), as RFC 9639 (FLAC) and ITU-R BS.2088 use it.
import { dictionary } from '../foundation/dictionary'

export interface Speaker {
  /** Degrees to the left of the middle, as seen by the listener; null where none is meant. */
  readonly angleDeg: number | null
  /** The loudspeaker on the other side; a pair is named by its left one. */
  readonly right?: string
  /** Labels and linear gains for a destination without this loudspeaker; left out where none is given. */
  readonly folds: readonly (readonly [label: string, gain: number])[]
  /** Factor of its power in loudness. */
  readonly weight: number
  readonly bit: number | null
}

const HALF = Math.SQRT1_2
const toSides = (left: string, right: string) =>
  [
    [left, HALF],
    [right, HALF]
  ] as const

export const SPEAKERS: Record<string, Speaker> = dictionary({
  M: { angleDeg: 0, folds: toSides('L', 'R'), weight: 1, bit: null },
  L: { angleDeg: 30, right: 'R', folds: [], weight: 1, bit: 0 },
  R: { angleDeg: -30, folds: [], weight: 1, bit: 1 },
  C: { angleDeg: 0, folds: toSides('L', 'R'), weight: 1, bit: 2 },
  LFE: { angleDeg: null, folds: [], weight: 0, bit: 3 },
  Ls: { angleDeg: 110, right: 'Rs', folds: [['L', HALF]], weight: 1.41, bit: 9 },
  Rs: { angleDeg: -110, folds: [['R', HALF]], weight: 1.41, bit: 10 }
})

/** Labels of a mask's bits that no layout of ours has; a file with them is read, its legs named. */
const OTHER_BITS = [
  '',
  '',
  '',
  '',
  'Lb',
  'Rb',
  'Lc',
  'Rc',
  'Cs',
  '',
  '',
  'Ts',
  'Ltf',
  'Ctf',
  'Rtf',
  'Ltr',
  'Ctr',
  'Rtr'
]
const BACK_LEFT = 4,
  BACK_RIGHT = 5,
  SIDE_LEFT = 9,
  SIDE_RIGHT = 10

export const speaker = (label: string): Speaker =>
  SPEAKERS[label] ?? { angleDeg: null, folds: [], weight: 1, bit: bitOf(label) }

/** Indexes of left and right legs that belong together, in the order of the legs. */
export const pairsIn = (layout: readonly string[]): [left: number, right: number][] =>
  layout.flatMap((label, left): [number, number][] => {
    const right = layout.indexOf(SPEAKERS[label]?.right ?? '')
    return right < 0 ? [] : [[left, right]]
  })

const labelOfBit = (bit: number): string =>
  OTHER_BITS[bit] || (Object.entries(SPEAKERS).find(([, s]) => s.bit === bit)?.[0] ?? '')
function bitOf(label: string): number | null {
  const bit = label === '' ? -1 : OTHER_BITS.indexOf(label)
  return bit < 0 ? null : bit
}

/** What a mask says of so many legs; null where it does not fit them. Sides and backs are told apart where both are. */
export function labelsOfMask(mask: number, legs: number): string[] | null {
  const bits = OTHER_BITS.map((_, bit) => bit).filter(bit => mask & (1 << bit))
  if (!mask || bits.length !== legs) return null
  const hasSides = bits.includes(SIDE_LEFT) || bits.includes(SIDE_RIGHT)
  const asSide: Record<number, number> = hasSides ? {} : { [BACK_LEFT]: SIDE_LEFT, [BACK_RIGHT]: SIDE_RIGHT }
  return legs === 1 ? ['M'] : bits.map(bit => labelOfBit(asSide[bit] ?? bit))
}

/** The mask of a layout whose legs are in the order of the bits; 0, “not said”, for any other. */
export function maskOf(layout: readonly string[]): number {
  if (layout.length === 1) return 1 << 2
  const hasBacks = layout.includes('Lb') || layout.includes('Rb')
  const asBack: Record<number, number> = hasBacks ? {} : { [SIDE_LEFT]: BACK_LEFT, [SIDE_RIGHT]: BACK_RIGHT }
  let mask = 0,
    last = -1
  for (const label of layout) {
    const own = speaker(label).bit ?? -1
    const bit = asBack[own] ?? own
    if (bit <= last) return 0
    mask |= 1 << bit
    last = bit
  }
  return mask
}
