// Curves that follow points in time, and curves of curves. Both count from frame 0 of the source.
import { BLOCK, params, param, input, output } from './op'
import { clock } from './clock'

const FLOOR_DB: f64 = -120

/** e^x by halving to |x| ≤ ½ ln 2 and Taylor's series, from the four operations alone. */
function exp(x: f64): f64 {
  const n = Math.round(x / 0.6931471805599453)
  const r = x - n * 0.6931471803691238 - n * 1.9082149292705877e-10
  let sum: f64 = 1
  for (let k = 14; k >= 1; k--) sum = 1 + sum * r / <f64>k
  return sum * reinterpret<f64>((<i64>n + 1023) << 52)
}

@inline function gainOf(db: f64): f64 { return db <= FLOOR_DB ? 0 : exp(db * 0.11512925464970228) }

/**
 * Straight lines between points. params: latency of the signal it is for, 1: values are dB and the curve is their gain,
 * 0: it is the value · number of points · then frame and value a point, in order of time · output: the curve
 */
export function envelope(op: usize): void {
  const out = output(op, 0)
  const decibels = param(op, 1) != 0, count = <i32>param(op, 2)
  const points = params(op) + 24
  const first = <f64>clock.frame - param(op, 0)
  // The last point at or before the block's first frame.
  let low = 0, high = count
  while (low < high) { const mid = (low + high) >> 1; if (load<f64>(points + (<usize>mid << 4)) <= first) low = mid + 1; else high = mid }
  let at = low - 1
  let i = 0
  while (i < BLOCK) {
    const here = points + (<usize>max(at, 0) << 4)
    const v = load<f64>(here, 8)
    // How many frames of this block lie before the next point, and how the value moves over them.
    let end = BLOCK, slope: f64 = 0, begin = v
    if (at + 1 < count) {
      const next = here + (at < 0 ? 0 : 16)
      end = <i32>min(<f64>BLOCK, max(<f64>i, load<f64>(next) - first))
      if (at >= 0) {
        slope = (load<f64>(next, 8) - v) / max(1, load<f64>(next) - load<f64>(here))
        begin = v + slope * (first + <f64>i - load<f64>(here))
      }
    }
    if (decibels) {
      // A straight line in dB is a constant ratio from frame to frame.
      let g = gainOf(begin)
      const ratio = slope == 0 ? 1 : exp(slope * 0.11512925464970228)
      if (begin <= FLOOR_DB && slope > 0) g = exp(begin * 0.11512925464970228)
      for (; i < end; i++) { store<f32>(out + (<usize>i << 2), <f32>g); g *= ratio }
    } else for (let n: f64 = 0; i < end; i++, n++) store<f32>(out + (<usize>i << 2), <f32>(begin + slope * n))
    at++
  }
}

/** A curve from −1 to 1 through a table of values at equal distances, straight between them. params: values − 1, values */
export function lookup(op: usize): void {
  const x = input(op, 0), out = output(op, 0)
  const last = param(op, 0), table = params(op) + 8
  for (let i: usize = 0; i < 512; i += 4) {
    const place = min(last, max(0, (<f64>load<f32>(x + i) + 1) * 0.5 * last))
    const k = min(floor(place), last - 1)
    const cell = table + (<usize>k << 3)
    const a = load<f64>(cell)
    store<f32>(out + i, <f32>(a + (load<f64>(cell, 8) - a) * (place - k)))
  }
}
