// Third-octave centres at which a response is told.
import { exp2 } from '../foundation/elementary'

/** Hz, from 25 Hz to 0.44 of the rate. */
export const centresFor = (sampleRate: number): number[] =>
  Array.from({ length: 31 }, (_, i) => 1000 * exp2((i - 17) / 3)).filter(hz => hz > 25 && hz < 0.44 * sampleRate)
