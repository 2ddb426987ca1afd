// Which bit of a WAV file's channel mask stands for which loudspeaker, and the other way round. Microsoft's
// multichannel table
// (KSAUDIO), as RFC 9639 (FLAC) and ITU-R BS.2088 use it.

/** Labels in the order of their bits. Sides and backs are told apart only where both are there. */
const LABELS = [
  'L',
  'R',
  'C',
  'LFE',
  'Lb',
  'Rb',
  'Lc',
  'Rc',
  'Cs',
  'Ls',
  'Rs',
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

/** What a mask says of so many legs; null where it does not fit them. */
export function labelsOfMask(mask: number, legs: number): string[] | null {
  const bits = LABELS.map((_, bit) => bit).filter(bit => mask & (1 << bit))
  if (!mask || bits.length !== legs) return null
  const hasSides = bits.includes(SIDE_LEFT) || bits.includes(SIDE_RIGHT)
  const surround: Record<number, string> = hasSides ? {} : { [BACK_LEFT]: 'Ls', [BACK_RIGHT]: 'Rs' }
  return legs === 1 ? ['M'] : bits.map(bit => surround[bit] ?? LABELS[bit]!)
}

/** The mask of a layout whose legs are in the order of the bits; 0, “not said”, for any other. */
export function maskOf(layout: readonly string[]): number {
  if (layout.length === 1) return 1 << 2
  const hasBacks = layout.includes('Lb') || layout.includes('Rb')
  const bits = layout.map(label =>
    !hasBacks && label === 'Ls' ? BACK_LEFT : !hasBacks && label === 'Rs' ? BACK_RIGHT : LABELS.indexOf(label)
  )
  const rising = bits.every((bit, i) => bit >= 0 && (i === 0 || bits[i - 1]! < bit))
  return rising ? bits.reduce((mask, bit) => mask | (1 << bit), 0) : 0
}
