// The published figures of the units as a table for people.
import { UNITS } from '../rig/units'
import type { UnitModel } from '../rig/unit'

const whole = (hz: number) => (hz < 1000 ? `${hz} Hz` : `${hz / 1000} kHz`)
const percent = (p: number) => (p === 0 ? 'below 0.05 %' : `${p} %`)
const plusMinus = (dbu: number) => `${dbu > 0 ? '+' : ''}${dbu}`

/** Its column, and what is said of a unit there. */
const COLUMNS: readonly [string, (unit: UnitModel) => string][] = [
  ['Unit', u => u.label],
  ['Jacks', u => `${u.inputs.length} → ${u.outputs.length}`],
  ['Power', u => (u.passive ? 'passive' : 'has to be on')],
  ['Nominal, dBu', u => plusMinus(u.figures.nominalDbu)],
  ['Distortion there', u => percent(u.figures.distortion[0])],
  ['10 dB above', u => percent(u.figures.distortion[1])],
  [
    'Band, −3 dB',
    u => (u.figures.bandHz ? u.figures.bandHz.map(whole).join(' to ') : u.plays ? 'as played' : 'a reverb')
  ],
  ['Noise, dBu', u => (u.noiseDbu === -Infinity ? 'none' : String(u.noiseDbu))],
  ['Clips at, dBu', u => (u.clipDbu === Infinity ? 'never' : plusMinus(u.clipDbu))],
  ['Crosstalk', u => (u.figures.crosstalkDb === null ? '' : `${-u.figures.crosstalkDb} dB`)],
  ['Delay, ms', u => String(u.figures.delayMs)]
]

/** docs/units.md. */
export function unitTable(): string {
  const line = (cells: string[]) => `| ${cells.join(' | ')} |`
  return [
    '# The units of the simulated rig',
    '',
    'Measured from port to port with 1 kHz, as each unit comes, at 48 kHz; `core/src/rig/units.test.ts` measures them again. Noise is',
    'unweighted. A level inside the rig is that of a sine whose peak is 1 at 0 dBu.',
    '',
    line(COLUMNS.map(([title]) => title)),
    line(COLUMNS.map(() => '---')),
    ...Object.values(UNITS).map(u => line(COLUMNS.map(([, say]) => say(u)))),
    ''
  ].join('\n')
}
