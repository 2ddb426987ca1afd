// Looks at a slot while it sounds: spectra in bands of equal ratios and the highest levels, some twenty times a second.
import { BLOCK, CHUNK } from '@nullet/core/plan/operations'
import { spectrum } from '@nullet/core/measure/spectrum'
import type { PlanStream } from '@nullet/core/run/stream'
import type { Probe } from './messages'

export const BANDS = 96
export const LOW_HZ = 20,
  HIGH_HZ = 20000
/** Blocks from one look to the next. */
const EVERY = 16

/** Middle of a band in Hz. */
export const bandHz = (i: number) => LOW_HZ * (HIGH_HZ / LOW_HZ) ** ((i + 0.5) / BANDS)

const WINDOW = Float64Array.from({ length: CHUNK }, (_, n) => 0.5 - 0.5 * Math.cos((2 * Math.PI * n) / CHUNK))
/** A sine at full scale reads 0 dB: half its amplitude, half of the window's sum. */
const FULL = (CHUNK / 4) ** 2

/** The last 4096 frames of a staging area, the oldest first, all legs added. */
function latest(legs: Float32Array[], frame: number): Float64Array {
  const out = new Float64Array(CHUNK)
  for (const leg of legs) for (let n = 0; n < CHUNK; n++) out[n] += leg[(frame + n) % CHUNK] / legs.length
  return out
}

export function bandsOf(x: Float64Array, rate: number): Float32Array {
  const h = spectrum(
    x.map((v, n) => v * WINDOW[n]),
    CHUNK
  )
  const out = new Float32Array(BANDS)
  const ratio = (HIGH_HZ / LOW_HZ) ** (1 / BANDS)
  for (let i = 0; i < BANDS; i++) {
    const from = ((LOW_HZ * ratio ** i) / rate) * CHUNK,
      to = Math.min(CHUNK / 2 - 1, from * ratio)
    let top = 0
    // Narrow bands at the bottom hold less than a bin: then the nearest one counts.
    for (let k = Math.round(from); k <= Math.max(Math.round(from), Math.floor(to)); k++)
      top = Math.max(top, h[2 * k] ** 2 + h[2 * k + 1] ** 2)
    out[i] = 10 * Math.log10(Math.max(top / FULL, 1e-12))
  }
  return out
}

const peakDb = (x: Float64Array, blocks: number) => {
  let top = 0
  for (let n = CHUNK - blocks * BLOCK; n < CHUNK; n++) top = Math.max(top, Math.abs(x[n]))
  return 20 * Math.log10(Math.max(top, 1e-6))
}

export class Looker {
  private blocks = 0

  /** After a block; null when it is not time yet. @param at ring position of what was just written */
  look(stream: PlanStream, slot: string | null, rate: number, at: number): Probe | null {
    if (!slot || !stream.plan.sinks.has('probe/in') || ++this.blocks % EVERY) return null
    const [i, o, k] = ['in', 'out', 'key'].map(name =>
      latest(stream.machine.stagingOf(`sink/probe/${name}`), stream.machine.frame)
    )
    return {
      at,
      slot,
      in: bandsOf(i, rate),
      out: bandsOf(o, rate),
      key: bandsOf(k, rate),
      inDb: peakDb(i, EVERY),
      outDb: peakDb(o, EVERY),
      keyDb: peakDb(k, EVERY)
    }
  }
}
