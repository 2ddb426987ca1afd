// Are frames late? Then what can wait a frame does: sound and hands come first.

/** Share of the newest frame in the mean. */
const NEWEST = 0.1
/** Milliseconds a frame, in the mean, from which on it is late: a drawn one has 16.7. */
export const LATE_MS = 20

export class Hurry {
  private mean = 0

  /** @param ms since the frame before @param goes whether another one follows: the last one is drawn whole */
  step(ms: number, goes: boolean): boolean {
    this.mean += (Math.min(ms, 10 * LATE_MS) - this.mean) * NEWEST
    if (!goes) this.mean = 0
    return this.mean > LATE_MS
  }
}
