// Parametric equaliser: up to eight bands between a low and a high cut.
import type { Params } from '../session/rows'
import { latest } from '../foundation/latest'
import { amplitudeOf, band, bandOf, cut, turnAt, type BandKind } from './biquad'
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

/** A band is one section: five numbers behind how many there are. */
function standsIn(setting: string, params: Params, sampleRate: number): Standing[] {
  const band = NAMES.findIndex(({ hz, db, q }) => [hz, db, q].includes(setting))
  if (band < 0 || params[NAMES[band]!.kind] === 'off') return []
  const { kind, hz, db, q } = NAMES[band]!,
    turn = latest((hz: number) => turnAt(hz, sampleRate)),
    amplitude = latest(amplitudeOf)
  const before = NAMES.slice(0, band).filter(({ kind }) => params[kind] !== 'off').length
  return [
    {
      kind: 'equaliser',
      at: 1 + 5 * (cutSections(params.lowCutSlope) + before),
      values: now =>
        bandOf(params[kind] as BandKind, turn(now[hz] as number), amplitude(now[db] as number), now[q] as number)
    }
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
    builder.filter(key, signal, equaliserSections(params, sampleRate))
}
