/**
 * How many times something generated is tried: on an ordinary day, with `--long`, and where it is repeated for every
 * change that `npm run mutants` plants.
 */
export const times = (ordinary: number, long: number): number =>
  process.env.NULLET_LONG ? long : process.env.NULLET_PLANTED ? Math.ceil(ordinary / 10) : ordinary
