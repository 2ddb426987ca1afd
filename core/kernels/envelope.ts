// Curves that follow points in time, and curves of curves. Both count from frame 0 of the source.
import { BLOCK, params, param, state, input, output } from './op'
import { clock } from './clock'
import { exp } from './elementary'

const FLOOR_DB: f64 = -120

@inline function gainOf(db: f64): f64 { return db <= FLOOR_DB ? 0 : exp(db * 0.11512925464970228) }

/**
 * Straight lines between points. params: latency of the signal it is for, 1: values are dB and the curve is their gain,
 * 0: it is the value · number of points · then frame and value a point, in order of time · output: the curve
 * state: f64 started, f64 value that was foreseen for this block's first frame. Where points were changed in between,
 * the curve leaves from there and is where it should be at the block's end.
 */
export function envelope(op: usize): void {
  const out = output(op, 0)
  const decibels = param(op, 1) != 0, count = <i32>param(op, 2)
  const points = params(op) + 24
  const first = <f64>clock.frame - param(op, 0)
  const foreseen = load<f64>(state(op), 8), now = valueAt(points, count, first, decibels)
  draw(points, count, first, decibels, out)
  if (load<f64>(state(op)) != 0 && foreseen != now) {
    for (let i = 0; i < BLOCK; i++) {
      const at = out + (<usize>i << 2)
      store<f32>(at, <f32>(<f64>load<f32>(at) + (foreseen - now) * <f64>(127 - i) / 128))
    }
  }
  store<f64>(state(op), 1)
  store<f64>(state(op), valueAt(points, count, first + 128, decibels), 8)
}

function valueAt(points: usize, count: i32, frame: f64, decibels: bool): f64 {
  const at = before(points, count, frame)
  const here = points + (<usize>max(at, 0) << 4)
  let v = load<f64>(here, 8)
  if (at >= 0 && at + 1 < count)
    v += (load<f64>(here, 24) - v) * (frame - load<f64>(here)) / max(1, load<f64>(here, 16) - load<f64>(here))
  return decibels ? gainOf(v) : v
}

/** The last point at or before a frame; −1 before the first. */
function before(points: usize, count: i32, frame: f64): i32 {
  let low = 0, high = count
  while (low < high) {
    const mid = (low + high) >> 1; if (load<f64>(points + (<usize>mid << 4)) <= frame) low = mid + 1; else high = mid
  }
  return low - 1
}

function draw(points: usize, count: i32, first: f64, decibels: bool, out: usize): void {
  let at = before(points, count, first)
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

/**
 * A curve from −1 to 1 through a table of values at equal distances, straight between them. params: values − 1, values
 */
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
