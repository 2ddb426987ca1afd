// Which operations are things of the room: converters, cables, units. Noise and clocks run whether something rolls or
// not, and what leads to a port out is still inside the computer.
import type { Op } from '../plan/operations'

const RUNS_ON: readonly Op['kind'][] = ['noise', 'drift', 'meter']

export const isAnalog = ({ key, kind }: Op): boolean =>
  /^(port|unit)\//.test(key) && !/^port\/[^/]+\/align\//.test(key) && !RUNS_ON.includes(kind)
