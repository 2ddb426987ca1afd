// What the meters of a stretch of blocks come to: peaks their highest, gain its deepest, RMS its mean power.
import { isGain, isRms } from './meterKeys'
import { BLOCK, meterSlot, type Meters } from './ring'

/** The first two are the loudness and the true peak of what is heard: the newest counts. */
const HEARD = 2
type Gather = (sofar: number, value: number) => number
const gathers = (key: string, i: number): Gather =>
  i < HEARD
    ? (_, value) => value
    : isGain(key)
      ? Math.min
      : isRms(key)
        ? (sofar, value) => sofar + value * value
        : Math.max

export class MeterReading {
  private readonly rows: { key: string; gather: Gather; rms: boolean }[]

  /** @param keys of the values beside every block, in their order */
  constructor(
    keys: readonly string[],
    private readonly meters: Meters
  ) {
    this.rows = keys.map((key, i) => ({ key, gather: gathers(key, i), rms: isRms(key) }))
  }

  /** @param from block of the ring’s count @param to behind the last @param into linear values by key, only these */
  read(from: number, to: number, into: Map<string, number>): void {
    const { values, width } = this.meters
    into.clear()
    this.rows.forEach(({ key, gather, rms }, i) => {
      let sum = rms ? 0 : values[meterSlot(from * BLOCK, width) + i]!
      for (let block = rms ? from : from + 1; block < to; block++)
        sum = gather(sum, values[meterSlot(block * BLOCK, width) + i]!)
      into.set(key, rms ? Math.sqrt(sum / (to - from)) : sum)
    })
  }
}
