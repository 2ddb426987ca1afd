// Where a value lies in its lane, 0 at the bottom to 1 at the top, and back. Levels use the scale of the faders.
import type { Law } from '@nullet/core/movement/envelope'
import { FLOOR_DB } from '@nullet/core/foundation/elementary'
import type { Moving } from '@nullet/core/movement/targets'
import { dB, pan, value as written } from '~/words/format'
import { levelAt, place } from '../scale'

type Range = Pick<Moving, 'law' | 'min' | 'max'>

export function heightOf(value: number | null, { law, min, max }: Range): number {
  if (law === 'db') return value === null || value <= FLOOR_DB ? 0 : place(value)
  const v = value ?? min
  return law === 'ratio' ? Math.log(v / min) / Math.log(max / min) : (v - min) / (max - min)
}

export function valueOf(height: number, { law, min, max }: Range): number | null {
  const h = Math.max(0, Math.min(1, height))
  if (law === 'db') return levelAt(h)
  const v = law === 'ratio' ? min * (max / min) ** h : min + h * (max - min)
  return Number(v.toPrecision(4))
}

/** How far an arrow key moves a value. */
export function stepOf(value: number | null, up: boolean, { law, min, max }: Range): number | null {
  const sign = up ? 1 : -1
  if (law === 'db') {
    const next = (value ?? min) + sign * 0.5
    return next < min ? null : Math.min(max, next)
  }
  const next = law === 'ratio' ? (value ?? min) * 1.03 ** sign : (value ?? min) + (sign * (max - min)) / 100
  return Math.max(min, Math.min(max, Number(next.toPrecision(5))))
}

export const shownValue = (value: number | null, field: string, moving: { law: Law; unit: string }): string =>
  moving.law === 'db'
    ? `${dB(value)} dB`
    : field === 'pan'
      ? pan(value ?? 0)
      : field === 'mix'
        ? `${Math.round((value ?? 0) * 100)} %`
        : written(value ?? 0, moving.unit)
