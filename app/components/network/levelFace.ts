// What a bar shows under its level, as one background: ticks, the runway, and the fader as a notch. An element for each
// would be ten times as many things to lay out, to hit and to paint at every row that one scrolls.
import { TICKS, levelShare } from '~/numbers/levelScale'

const NOTCH = { width: 9, height: 12 }

/** Where a background `width` px wide stands for its middle to be at a share: percent of it leave its own width out. */
const at = (share: number, width: number) => `calc(${share * 100}% + ${(share - 0.5) * width}px)`

/** @returns for the property `--at` of a bar */
export const notchAt = (share: number): string => at(share, NOTCH.width)

const layer = (image: string, x: string, y: number, width: string, height: number) =>
  `${image} ${x} ${y}px / ${width} ${height}px no-repeat content-box border-box`
const flat = (colour: string) => `linear-gradient(var(${colour}) 0 0)`

/** A wedge that stands on its tip. */
const wedge = layer(
  'conic-gradient(from -21deg at 50% 100%, transparent, var(--notch) 1.5deg 40.5deg, transparent 42deg)',
  'var(--at)',
  0,
  `${NOTCH.width}px`,
  NOTCH.height
)
const runway = layer(flat('--track'), '0', 5, '100%', 4)
const ticks = TICKS.map(db => layer(flat(db === 0 ? '--ink-3' : '--rule'), at(levelShare(db), 1), 2, '1px', 10))

/** @returns the background of a bar's face; a notch stands at `--at` and has the colour `--notch` */
export function faceOf(shown: { notch?: boolean; runway?: boolean; ticks?: boolean }): { background: string } {
  const layers = [shown.notch ? [wedge] : [], shown.runway ? [runway] : [], shown.ticks ? ticks : []]
  return { background: layers.flat().join(', ') }
}
