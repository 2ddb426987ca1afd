// Parametric equaliser: up to eight bands between a low and a high cut.
import type { Params } from '../session/rows'
import { angleAt, band, cut, type BandKind } from './biquad'
import type { Section } from '../plan/operations'
import type { Parameter, Processor, Standing } from './processor'

export const BANDS = 8
const START_HZ = [80, 200, 400, 1000, 2500, 5000, 8000, 12000]
const SLOPES = ['off', '6', '12', '18', '24', '36', '48'] as const

const bandParameters: Parameter[] = START_HZ.flatMap((hz, i) => [
  {
    name: `kind${i + 1}`,
    label: `Band ${i + 1}`,
    choices: ['off', 'bell', 'low shelf', 'high shelf', 'notch'],
    initial: 'off'
  },
  {
    name: `hz${i + 1}`,
    label: `Band ${i + 1} frequency`,
    unit: 'Hz' as const,
    min: 10,
    max: 40000,
    law: 'ratio' as const,
    initial: hz
  },
  { name: `db${i + 1}`, label: `Band ${i + 1} gain`, unit: 'dB' as const, min: -24, max: 24, initial: 0 },
  { name: `q${i + 1}`, label: `Band ${i + 1} Q`, min: 0.1, max: 30, law: 'ratio' as const, initial: 0.71 }
])

/** What the settings of each band are called: a name that is put together is slow to look up. */
const NAMES = START_HZ.map((_, i) => ({ kind: `kind${i + 1}`, hz: `hz${i + 1}`, db: `db${i + 1}`, q: `q${i + 1}` }))

type Names = (typeof NAMES)[number]
const sectionOf = ({ kind, hz, db, q }: Names, params: Params, sampleRate: number): Section =>
  band(params[kind] as BandKind, params[hz] as number, params[db] as number, params[q] as number, sampleRate)

/** Sections of a cut by its slope. */
const cutSections = (slope: unknown): number => (slope === 'off' ? 0 : Math.ceil(Number(slope) / 12))

/** Numbers of the kinds where the kernel makes the coefficients, see kernels/band.ts. */
const KINDS: Record<BandKind, number> = { bell: 1, 'low shelf': 2, 'high shelf': 3, notch: 4 }

const isOn = (params: Params) => (names: Names) => params[names.kind] !== 'off'

/** What sections are set to: nothing is said of cuts, which do not move. Angle, Q, dB, and the kind once it moves. */
function bandSettings(params: Params, sampleRate: number): number[][] {
  const cuts = (slope: unknown) => Array.from({ length: cutSections(slope) }, () => [0, 0, 0, 0])
  const bands = NAMES.filter(isOn(params)).map(({ hz, db, q }) => [
    angleAt(params[hz] as number, sampleRate),
    params[q] as number,
    params[db] as number,
    0
  ])
  return [...cuts(params.lowCutSlope), ...bands, ...cuts(params.highCutSlope)]
}

/** A setting of a band stands behind the coefficients of all sections; with its kind the kernel makes them anew. */
function standsIn(setting: string, params: Params, sampleRate: number): Standing[] {
  const names = NAMES.find(({ hz, db, q }) => [hz, db, q].includes(setting))
  if (!names || !isOn(params)(names)) return []
  const on = NAMES.filter(isOn(params)),
    before = cutSections(params.lowCutSlope) + on.indexOf(names),
    all = cutSections(params.lowCutSlope) + on.length + cutSections(params.highCutSlope),
    number = KINDS[params[names.kind] as BandKind],
    { q, db } = names
  const from: Record<string, Standing['values']> = {
    [names.hz]: (now, hz) => [angleAt(hz, sampleRate), now[q] as number, now[db] as number, number],
    [q]: (now, value) => [value, now[db] as number, number],
    [db]: (_, value) => [value, number]
  }
  return [
    { kind: 'equaliser', at: 1 + 5 * all + 4 * before + [names.hz, q, db].indexOf(setting), values: from[setting]! }
  ]
}

/** The sections that the settings ask for. */
export function equaliserSections(params: Params, sampleRate: number): Section[] {
  const sections: Section[] = []
  if (params.lowCutSlope !== 'off')
    sections.push(...cut('low', params.lowCutHz as number, Number(params.lowCutSlope), sampleRate))
  for (const names of NAMES) if (params[names.kind] !== 'off') sections.push(sectionOf(names, params, sampleRate))
  if (params.highCutSlope !== 'off')
    sections.push(...cut('high', params.highCutHz as number, Number(params.highCutSlope), sampleRate))
  return sections
}

export const equaliser: Processor = {
  standsIn,
  id: 'equaliser',
  label: 'Equaliser',
  version: 1,
  keyed: false,
  linear: true,
  parameters: [
    { name: 'lowCutSlope', label: 'Low cut', unit: 'dB/oct', choices: SLOPES, initial: 'off' },
    {
      name: 'lowCutHz',
      label: 'Low cut frequency',
      unit: 'Hz',
      min: 10,
      max: 2000,
      law: 'ratio',
      counts: p => p.lowCutSlope !== 'off',
      initial: 40
    },
    ...bandParameters,
    { name: 'highCutSlope', label: 'High cut', unit: 'dB/oct', choices: SLOPES, initial: 'off' },
    {
      name: 'highCutHz',
      label: 'High cut frequency',
      unit: 'Hz',
      min: 200,
      max: 40000,
      law: 'ratio',
      counts: p => p.highCutSlope !== 'off',
      initial: 16000
    }
  ],
  build: (signal, { builder, key, params, sampleRate }) =>
    builder.filter(key, signal, equaliserSections(params, sampleRate), bandSettings(params, sampleRate))
}
