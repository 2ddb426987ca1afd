// What a number is: its unit and range, how it is written and read, and how a hand moves it. Every number that can be
// changed is one of these, so that all of them answer to a hand in the same way.
import type { Moving } from '@nullet/core/movement/targets'
import { dB, MINUS, pan, readPan, value as withUnit } from '~/words/format'
import { levelAt, levelShare } from './levelScale'
import { readNumber, type Range, type Read } from './read'

export interface Quantity extends Range {
  label: string
  /** Equal steps, equal ratios, or the scale of faders and meters. */
  law?: 'linear' | 'ratio' | 'level'
  /** Where a double click goes. */
  initial?: unknown
  /** It can also be off: null. */
  off?: boolean
  /** An arrow's step in the unit; by its law when left out. */
  step?: number
  /** Whole numbers only. */
  whole?: boolean
  write?(value: number): string
  read?(text: string): Read
}

export const FADER = { unit: 'dB', min: -150, max: 12, silence: true, law: 'level', initial: 0 } as const
/** A trim or a feed. */
export const GAIN = { unit: 'dB', min: -150, max: 48, silence: true, initial: 0 } as const
export const PAN = {
  min: -1,
  max: 1,
  initial: 0,
  step: 0.02,
  write: pan,
  read: (text: string): Read => {
    const value = readPan(text)
    return value === null ? { fault: `“${text.trim()}” is not a pan: L100 to R100, or C` } : { value }
  }
} as const
/** A share of one, written in per cent. */
export const SHARE = {
  min: 0,
  max: 1,
  initial: 1,
  step: 0.01,
  write: (v: number) => `${Math.round(v * 100)} %`,
  read: (text: string): Read => {
    const read = readNumber(text, { unit: '%', min: 0, max: 100 })
    return 'value' in read && read.value !== null ? { value: read.value / 100 } : read
  }
} as const

const SPECIAL: Record<string, object> = { pan: PAN, mix: SHARE }
/** What an envelope moves. */
export const quantityOf = ({ law, min, max, unit, rest }: Moving, field: string, label: string): Quantity => ({
  label,
  unit,
  min,
  max,
  initial: rest,
  ...(law === 'db' ? { law: 'level', silence: true } : { law }),
  ...SPECIAL[field]
})

const shown = (v: number): string => String(v).replace('-', MINUS)

/** What can be typed, in words: “−150 to 12 dB, or −∞”. */
export function rangeText({ unit = '', min, max, silence, off }: Range & { off?: boolean }): string {
  const range = min !== undefined && max !== undefined ? `${shown(min)} to ${shown(max)} ${unit}`.trim() : unit
  return [range || (silence ? 'dB' : ''), silence ? `${MINUS}∞` : '', off ? 'off' : ''].filter(Boolean).join(', or ')
}

export function write(q: Quantity, value: number | null): string {
  if (value === null) return q.off ? 'off' : `${MINUS}∞`
  if (q.write) return q.write(value)
  if (q.unit !== 'dB') return withUnit(value, q.unit)
  // What cannot be negative is a width or a depth, and has no sign.
  return (q.min ?? -1) >= 0 ? dB(value).replace('+', '') : dB(value)
}

/** As it is read out: with its unit. */
export const spoken = (q: Quantity, value: number | null): string =>
  q.unit === 'dB' ? `${write(q, value)} dB` : write(q, value)

/** As it stands in the field when one begins to type. */
export const typed = (q: Quantity, value: number | null): string =>
  value === null || q.write ? write(q, value) : shown(Number(value.toPrecision(6)))

export function read(q: Quantity, text: string): Read {
  if (q.off && /^\s*off\s*$/i.test(text)) return { value: null }
  const got = q.read?.(text) ?? readNumber(text, q)
  return q.whole && 'value' in got && !Number.isInteger(got.value) ? { fault: 'a whole number' } : got
}

/** Below this a level that may be −∞ is −∞ under a hand. */
const FLOOR_DB = -60
const lowest = (q: Quantity): number => (q.silence ? Math.max(FLOOR_DB, q.min ?? FLOOR_DB) : (q.min ?? 0))
const highest = (q: Quantity): number => q.max ?? 1
/** Equal ratios need a floor above zero. */
const ratioFloor = (q: Quantity): number => Math.max(lowest(q), highest(q) / 10000)

/** 0 … 1 along the way a hand can go. */
export function placeOf(q: Quantity, value: number | null): number {
  if (q.law === 'level') return levelShare(value)
  if (value === null) return q.silence ? 0 : placeOf(q, Number(q.initial ?? lowest(q)))
  const floor = ratioFloor(q),
    place =
      q.law === 'ratio'
        ? value <= floor
          ? 0
          : Math.log(value / floor) / Math.log(highest(q) / floor)
        : (value - lowest(q)) / (highest(q) - lowest(q))
  return Math.min(1, Math.max(0, place))
}

/** The value at a place, as finely as it is written. */
export function valueAt(q: Quantity, place: number): number | null {
  if (q.law === 'level') return levelAt(place)
  if (place <= 0) return q.silence ? null : lowest(q)
  if (place >= 1) return highest(q)
  const floor = ratioFloor(q)
  if (q.law === 'ratio') return Number((floor * (highest(q) / floor) ** place).toPrecision(3))
  return rounded(lowest(q) + place * (highest(q) - lowest(q)), grain(q))
}

const RATIO_STEP = 0.01
const rounded = (v: number, grain: number): number => Number((Math.round(v / grain) * grain).toPrecision(12))
/** The finest a hand sets: a tenth of a dB, else a power of ten under a thousandth of the way. */
const grain = (q: Quantity): number =>
  q.whole ? 1 : q.unit === 'dB' ? 0.1 : 10 ** Math.floor(Math.log10((highest(q) - lowest(q)) / 500))
const stepOf = (q: Quantity): number => q.step ?? (q.whole ? 1 : q.unit === 'dB' ? 0.5 : grain(q) * 10)

/** The value some steps further; beyond an end it is that end, and below the least level −∞. */
export function stepped(q: Quantity, value: number | null, steps: number): number | null {
  if (q.law === 'ratio') return valueAt(q, placeOf(q, value) + steps * RATIO_STEP)
  const from = value ?? (q.silence ? FLOOR_DB : Number(q.initial ?? lowest(q)))
  const next = from + steps * stepOf(q)
  if (q.silence && next <= FLOOR_DB) return null
  const end = q.max ?? Infinity
  return Math.min(end, Math.max(lowest(q), rounded(next, Math.min(grain(q), stepOf(q)))))
}

const KEY_STEPS: Record<string, number> = {
  ArrowLeft: -1,
  ArrowDown: -1,
  ArrowRight: 1,
  ArrowUp: 1,
  PageDown: -6,
  PageUp: 6,
  Home: -Infinity,
  End: Infinity
}
/** Where a key takes a value; undefined when the key does not move numbers. */
export function byKey(q: Quantity, value: number | null, key: string): number | null | undefined {
  const steps = KEY_STEPS[key]
  if (steps === undefined) return undefined
  if (Number.isFinite(steps)) return stepped(q, value, steps)
  return valueAt(q, steps < 0 ? 0 : 1)
}
