// How displayed levels move: peaks rise at once and fall slowly, RMS is a mean over time, gain is as it is.
import { isGain, isRms } from '~/audio/meterKeys'

/** dB a second that a peak falls back. */
const FALL = 24
/** Below it nothing shows. */
const LOWEST = -90
const RMS_MS = 300
const inDb = (value: number) => (value > 0 ? 20 * Math.log10(value) : -Infinity)

export class Ballistics {
  /** dB by key. */
  readonly levels = new Map<string, number>()
  /** dB by key of a peak, since they were let go. */
  readonly highest = new Map<string, number>()
  private readonly powers = new Map<string, number>()

  /**
   * @param heard linear values since the step before: peaks by key, RMS by `rms/…`, gain by `gain/…`; null where
   * nothing plays @param ms since the step before @param over is told of every peak over 0 dBFS
   * @returns whether anything is left that falls
   */
  step(heard: ReadonlyMap<string, number> | null, ms: number, over: (key: string, db: number) => void): boolean {
    const falls = this.fall((FALL * ms) / 1000)
    if (!heard) this.powers.clear()
    else for (const [key, value] of heard) this.hear(key, value, ms, over)
    return falls
  }

  private fall(by: number): boolean {
    let falls = false
    for (const [key, value] of this.levels) {
      if (isGain(key)) continue
      const next = value - by
      this.levels.set(key, next < LOWEST ? -Infinity : next)
      falls ||= next > LOWEST
    }
    return falls
  }

  private hear(key: string, value: number, ms: number, over: (key: string, db: number) => void): void {
    if (isRms(key)) return this.mean(key, value, ms)
    const db = inDb(value)
    if (isGain(key)) return void this.levels.set(key, db)
    if (db > (this.levels.get(key) ?? -Infinity)) this.levels.set(key, db)
    if (db > (this.highest.get(key) ?? -Infinity)) this.highest.set(key, db)
    if (db > 0) over(key, db)
  }

  /** RMS over the last 300 ms: a running mean of the power. */
  private mean(key: string, value: number, ms: number): void {
    const before = this.powers.get(key) ?? 0,
      now = before + (value * value - before) * Math.min(1, ms / RMS_MS)
    this.powers.set(key, now)
    this.levels.set(key, now > 1e-12 ? 10 * Math.log10(now) : -Infinity)
  }
}
