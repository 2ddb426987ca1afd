// Numbers typed by a hand, with units and simple sums: “20 ms”, “2.5 kHz”, “-3dB”, “-20+3”, “1/8”, “+1.5”, “2,5”.
export interface Range {
  unit?: string
  min?: number
  max?: number
  /** −∞ is a value too. */
  silence?: boolean
}
/** The value in the field's unit (null for −∞), or what is wrong in a sentence. */
export type Read = { value: number | null } | { fault: string }

/** Other units of the same kind, as factors of the field's own. */
const FACTORS: Record<string, Record<string, number>> = {
  'Hz': { hz: 1, khz: 1000 },
  'ms': { ms: 1, s: 1000, µs: 0.001, us: 0.001 },
  's': { s: 1, ms: 0.001, min: 60 },
  'dB': { db: 1 },
  'dB/oct': { 'db/oct': 1, 'db': 1 },
  '%': { '%': 1 },
  ':1': { ':1': 1 }
}
const TERM = /^([+-]?)(\d+(?:\.\d*)?|\.\d+)(?:\/(\d+(?:\.\d*)?))?(k?)(hz|khz|ms|µs|us|min|s|db\/oct|db|%|:1)?/

const plain = (text: string): string =>
  text
    .trim()
    .replace(/[−–]/g, '-')
    .replace(/(\d),(\d)/g, '$1.$2')
    .replace(/\s+/g, '')
    .toLowerCase()

const written = (v: number): string => String(v).replace('-', '−')

export function readNumber(text: string, { unit, min, max, silence }: Range = {}): Read {
  if (/\d\s+\d/.test(text)) return { fault: notRead(text, unit) }
  const typed = plain(text)
  if (silence && /^[+-]?(inf|infinity|∞|oo)(db)?$/.test(typed)) return { value: null }
  const factors = FACTORS[unit ?? ''] ?? {}
  let rest = typed,
    sum = 0
  while (rest !== '') {
    const term = TERM.exec(rest)
    if (!term || (rest !== typed && term[1] === '')) return { fault: notRead(text, unit) }
    const [whole, sign, over, under, thousand, own] = term
    const factor = own ? factors[thousand + own] : thousand ? 1000 : 1
    if (factor === undefined)
      return {
        fault: unit ? `“${text.trim()}” is not in ${unit}` : `“${text.trim()}” has a unit; this is a plain number`
      }
    sum += (((sign === '-' ? -1 : 1) * Number(over)) / (under === undefined ? 1 : Number(under))) * factor
    rest = rest.slice(whole.length)
  }
  if (typed === '' || !Number.isFinite(sum)) return { fault: notRead(text, unit) }
  if ((min !== undefined && sum < min) || (max !== undefined && sum > max))
    return { fault: `${written(min ?? -Infinity)} to ${written(max ?? Infinity)}${unit ? ` ${unit}` : ''}` }
  return { value: Number(sum.toPrecision(12)) }
}

const notRead = (text: string, unit?: string): string =>
  text.trim() ? `“${text.trim()}” is not a number${unit ? ` in ${unit}` : ''}` : 'Type a number'

/** What keeps a typed number from being taken; null when it can be. */
export const numberFault =
  (range: Range) =>
  (text: string): string | null => {
    const read = readNumber(text, range)
    return 'fault' in read ? read.fault : null
  }
