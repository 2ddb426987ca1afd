// How numbers are written: dB with sign and one decimal, time, sizes.

export const MINUS = '−'

/** What happened and what was kept, one sentence after the other. */
export const sentences = (...parts: (string | undefined)[]): string =>
  parts
    .filter(p => p)
    .map(p => (/[.!?…]$/.test(p!) ? p : `${p}.`))
    .join(' ')

/** “1 bus”, “3 buses”. */
export const plural = (n: number, one: string, many: string): string => `${n} ${n === 1 ? one : many}`

/** null and −Infinity are −∞. */
export function dB(value: number | null | undefined, digits = 1): string {
  if (value === null || value === undefined || value === -Infinity) return `${MINUS}∞`
  const text = Math.abs(value).toFixed(digits)
  return Number(text) === 0 ? text : `${value < 0 ? MINUS : '+'}${text}`
}

export function time(frames: number, rate: number): string {
  const seconds = Math.max(0, frames / rate)
  return `${Math.floor(seconds / 60)}:${(Math.floor((seconds % 60) * 1000) / 1000).toFixed(3).padStart(6, '0')}`
}

export const shortTime = (frames: number, rate: number): string => {
  const seconds = frames / rate
  return `${Math.floor(seconds / 60)}:${(seconds % 60).toFixed(1).padStart(4, '0')}`
}

/** Bytes in thousands: “312 MB”, “1.4 GB”. */
export function size(bytes: number): string {
  if (!bytes) return ''
  const step =
    bytes >= 1e9 ? ([1e9, 'GB', 1] as const) : bytes >= 1e6 ? ([1e6, 'MB', 0] as const) : ([1e3, 'kB', 0] as const)
  return `${Math.max(bytes / step[0], step[2] ? 0 : 1).toFixed(step[2])} ${step[1]}`
}

const MINUS_SIGN = (text: string) => text.replace('-', MINUS)

/** A parameter's value with its unit. */
export function value(v: number | string | boolean | undefined, unit?: string): string {
  if (typeof v !== 'number') return String(v ?? '')
  if (unit === 'dB') return `${dB(v)} dB`
  if (unit === 'Hz') return v >= 1000 ? `${(v / 1000).toFixed(2)} kHz` : `${v.toFixed(v < 100 ? 1 : 0)} Hz`
  if (unit === 'ms') return `${v.toFixed(v < 10 ? 2 : v < 100 ? 1 : 0)} ms`
  if (unit === ':1') return `${v.toFixed(v < 10 ? 2 : 1)} : 1`
  const digits = Math.abs(v) < 10 ? 2 : 1
  return MINUS_SIGN(`${v.toFixed(unit === '%' ? 0 : digits)}${unit ? ` ${unit}` : ''}`)
}

export const pan = (p: number): string =>
  Math.abs(p) < 0.005 ? 'C' : `${p < 0 ? 'L' : 'R'}${Math.round(Math.abs(p) * 100)}`

/** A pan typed by a hand, −1 … +1: “L30”, “R100”, “C”, “-30”; null when it is not one. */
export function readPan(text: string): number | null {
  const side = /^\s*([lr])?\s*([-−+]?\d+(?:[.,]\d+)?)\s*%?\s*$/i.exec(text)
  if (/^\s*c\s*$/i.test(text)) return 0
  if (!side) return null
  const percent = Number(side[2]!.replace('−', '-').replace(',', '.')) * (/l/i.test(side[1] ?? '') ? -1 : 1)
  return Math.abs(percent) <= 100 ? percent / 100 : null
}

/** Frames since midnight as a clock shows them. */
export const clock = (frames: number, rate: number): string =>
  new Date(Math.round((frames / rate) * 1000)).toISOString().slice(11, 23)

/** When something was done: the time of today, else the day with it. */
export function moment(iso: string, now = new Date()): string {
  const then = new Date(iso),
    clock = then.toLocaleTimeString('en-GB')
  return then.toDateString() === now.toDateString()
    ? clock
    : `${then.toLocaleDateString('en-GB', { day: 'numeric', month: 'short' })} ${clock.slice(0, 5)}`
}

/** A moment that is stored, to the minute: “2026-11-29 11:05”. */
export const whenText = (at: string): string => at.slice(0, 16).replace('T', ' ')
