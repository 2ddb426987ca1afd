// Gain curves beside the compressor's: a switch with hysteresis (gates and duckers), and the two halves of a limiter.
import { BLOCK, params, param, state, inputs, input, output } from './op'
import { exp2x4 } from './elementary'
import { hush, isQuiet, isZero } from './quiet'

const PER_DB: f64 = 0.16609640474436813 // log2(10) / 20
const SCRATCH = memory.data(512, 16)

/** dB to gain for a block in SCRATCH; keeps the deepest for meters. */
function toGain(out: usize, s: usize): void {
  let deepest = f32x4.splat(<f32>1e9)
  for (let at: usize = 0; at < 512; at += 16) {
    const g = exp2x4(v128.load(SCRATCH + at))
    deepest = f32x4.min(deepest, g)
    v128.store(out + at, g)
  }
  store<f64>(s, <f64>min(min(f32x4.extract_lane(deepest, 0), f32x4.extract_lane(deepest, 1)),
    min(f32x4.extract_lane(deepest, 2), f32x4.extract_lane(deepest, 3))), 16)
}

/** Off, and all the way down: it stays there. */
@inline function gateRests(op: usize): bool {
  const s = state(op), now = load<f64>(s)
  const isOff = load<i32>(s, 24) != 0 && load<i32>(s, 8) == 0 && now == param(op, 3)
  if (!isQuiet(input(op, 0)) || !isOff || param(op, 0) <= 0) return false
  const g = exp2x4(f32x4.splat(<f32>(now * PER_DB)))
  const out = output(op, 0)
  for (let at: usize = 0; at < 512; at += 16) v128.store(out + at, g)
  store<f64>(s, <f64>f32x4.extract_lane(g, 0), 16)
  return true
}

/**
 * A gain between two values in dB, moved by whether the level is over a threshold. It switches on at one magnitude and
 * off below another, after a hold.
 * params: on at, off below (magnitudes), dB when on, dB when off, coefficients towards on and towards off, hold in
 * samples
 * state: f64 gain dB, i32 on, i32 samples left to hold, f64 deepest gain, i32 started · input: magnitude · output:
 * linear gain
 */
export function gate(op: usize): void {
  if (gateRests(op)) return
  const s = state(op), x = input(op, 0)
  const onAt = <f32>param(op, 0), offBelow = <f32>param(op, 1)
  const onDb = param(op, 2), offDb = param(op, 3), towardsOn = param(op, 4), towardsOff = param(op, 5)
  const hold = <i32>param(op, 6)
  let now = load<f64>(s), on = load<i32>(s, 8), left = load<i32>(s, 12)
  if (!load<i32>(s, 24)) { store<i32>(s, 1, 24); now = offDb }
  for (let i = 0; i < BLOCK; i++) {
    const m = load<f32>(x + (<usize>i << 2))
    if (m >= onAt) { on = 1; left = hold }
    else if (on && m < offBelow) { if (left > 0) left--; else on = 0 }
    else if (on) left = hold
    const target = on ? onDb : offDb
    const a = on ? towardsOn : towardsOff
    now = a * now + (1 - a) * target
    if (abs(now - target) < 1e-9) now = target
    store<f32>(SCRATCH + (<usize>i << 2), <f32>(now * PER_DB))
  }
  store<f64>(s, now)
  store<i32>(s, on, 8)
  store<i32>(s, left, 12)
  toGain(output(op, 0), s)
}

@inline function highestOf(v: v128): f32 {
  return max(max(f32x4.extract_lane(v, 0), f32x4.extract_lane(v, 1)),
    max(f32x4.extract_lane(v, 2), f32x4.extract_lane(v, 3)))
}

// Places p and 16 − p sixteenths after a sample see the 32 around it mirrored: with A from the sums of what lies as far
// before as behind, and B from the differences, one gets A + B and the other A − B. The higher magnitude of both is
// |A| + |B|. So eight places do for fifteen, and the sixteenth is the sample itself.
/** For each of sixteen distances: taps of eight places for sums, then for differences; a lane is a place. */
const PEAK_TAPS = memory.data(16 * 16 * 4, 16)

/** Are they there? They are the same for every limiter. It lies beside them: memory may be copied over another's. */
const BROUGHT = memory.data(4)
function bringTaps(taps: usize): void {
  if (load<i32>(BROUGHT)) return
  for (let k: usize = 0; k < 16; k++)
    for (let place: usize = 0; place < 8; place++) {
      const row = taps + ((place + 1) << 8), near = load<f64>(row + (k << 3)), far = load<f64>(row + ((31 - k) << 3))
      const to = PEAK_TAPS + (k << 6) + (place << 2)
      store<f32>(to, <f32>((near + far) / 2))
      store<f32>(to, <f32>((near - far) / 2), 32)
    }
  store<i32>(BROUGHT, 1)
}

/** The highest of eight places and of those that mirror them. */
@inline function highestOfPlaces(a: v128, b: v128, c: v128, d: v128): f32 {
  return highestOf(f32x4.pmax(f32x4.add(f32x4.abs(a), f32x4.abs(c)), f32x4.add(f32x4.abs(b), f32x4.abs(d))))
}

/**
 * For each of 160 samples the highest magnitude of the 33 that begin there; those that reach past the end are not used.
 */
const TOPS = memory.data((160 + 36) * 4, 16)
function tops(line: usize): void {
  const end = TOPS + 640
  for (let at: usize = 0; at < 640; at += 16) v128.store(TOPS + at, f32x4.abs(v128.load(line + at)))
  memory.fill(end, 0, 144)
  // Of two, four, … thirty-two: each from two of the ones before, front to back.
  for (let reach: usize = 4; reach <= 64; reach <<= 1) {
    for (let at = TOPS; at < end; at += 16) v128.store(at, f32x4.pmax(v128.load(at), v128.load(at + reach)))
  }
  // And the one after.
  for (let at: usize = 0; at < 512; at += 16) {
    v128.store(TOPS + at, f32x4.pmax(v128.load(TOPS + at), f32x4.abs(v128.load(line + at + 128))))
  }
}

/**
 * Highest magnitude of a leg between this sample and the next, by interpolation at sixteen places. Late by 16 samples.
 * params: the highest gain that the interpolation can have, the magnitude under which nobody asks, 16 × 32 taps
 * state: 32 f32 of history and 128 f32
 */
export function peaks(op: usize): void {
  const most = <f32>param(op, 0), floor = <f32>param(op, 1)
  const out = output(op, 0), line = state(op)
  if (isQuiet(input(op, 0)) && isZero(line, 128)) { hush(out); return }
  bringTaps(params(op) + 16)
  memory.copy(line + 128, input(op, 0), 512)
  tops(line)
  // Two places at a time share the loads of the taps.
  for (let i = 0; i < BLOCK; i += 2) {
    // The oldest of the 32 samples around the first place.
    const first = line + (<usize>(i + 1) << 2), cell = out + (<usize>i << 2)
    if (load<f32>(TOPS + (<usize>(i + 1) << 2)) * most < floor) { store<u64>(cell, 0); continue }
    let a = f32x4.splat(0), b = a, c = a, d = a, e = a, f = a, g = a, h = a
    for (let k: usize = 0; k < 16; k++) {
      const near = first + (k << 2), far = first + ((31 - k) << 2)
      const x = v128.load32_splat(near), z = v128.load32_splat(far)
      const x2 = v128.load32_splat(near, 4), z2 = v128.load32_splat(far, 4)
      const t = PEAK_TAPS + (k << 6)
      const t0 = v128.load(t), t1 = v128.load(t, 16), t2 = v128.load(t, 32), t3 = v128.load(t, 48)
      const sum = f32x4.add(x, z), gap = f32x4.sub(x, z), sum2 = f32x4.add(x2, z2), gap2 = f32x4.sub(x2, z2)
      a = f32x4.add(a, f32x4.mul(sum, t0))
      b = f32x4.add(b, f32x4.mul(sum, t1))
      c = f32x4.add(c, f32x4.mul(gap, t2))
      d = f32x4.add(d, f32x4.mul(gap, t3))
      e = f32x4.add(e, f32x4.mul(sum2, t0))
      f = f32x4.add(f, f32x4.mul(sum2, t1))
      g = f32x4.add(g, f32x4.mul(gap2, t2))
      h = f32x4.add(h, f32x4.mul(gap2, t3))
    }
    store<f32>(cell, max(abs(load<f32>(first, 60)), highestOfPlaces(a, b, c, d)))
    store<f32>(cell, max(abs(load<f32>(first, 64)), highestOfPlaces(e, f, g, h)), 4)
  }
  memory.copy(line, line + 512, 128)
}

/** The highest of all inputs, frame by frame, in SCRATCH. */
@inline function highest(op: usize): void {
  memory.copy(SCRATCH, input(op, 0), 512)
  for (let leg = 1; leg < inputs(op); leg++) {
    const x = input(op, leg)
    for (let at: usize = 0; at < 512; at += 16)
      v128.store(SCRATCH + at, f32x4.max(v128.load(SCRATCH + at), v128.load(x + at)))
  }
}

/**
 * The gain that keeps the highest of its inputs under a ceiling, smooth and never too late: the lowest gain asked for
 * within a window, let go slowly, averaged over the same window. Late by the window less one sample.
 * params: ceiling, window in samples, release coefficient, size of the rings (a power of two > window)
 * state: f64 released, f64 sum, f64 deepest gain, i32 position, i32 started, i32 first, i32 last of the queue, then the
 * rings: f64 averaged values, f64 queued gains, i32 (8 bytes each) their positions
 */
export function ceiling(op: usize): void {
  const s = state(op), out = output(op, 0)
  highest(op)
  const limit = param(op, 0), window = <i32>param(op, 1), release = param(op, 2), mask = <i32>param(op, 3) - 1
  const size = <usize>(mask + 1) << 3
  const line = s + 48, queue = line + size, places = queue + size
  let held = load<f64>(s), sum = load<f64>(s, 8), at = load<i32>(s, 24),
    first = load<i32>(s, 32), last = load<i32>(s, 36)
  if (!load<i32>(s, 28)) {
    store<i32>(s, 1, 28)
    held = 1
    sum = <f64>window
    for (let i = 0; i <= mask; i++) store<f64>(line + (<usize>i << 3), 1)
  }
  let deepest: f64 = 1e9
  for (let i = 0; i < BLOCK; i++, at++) {
    const m = <f64>load<f32>(SCRATCH + (<usize>i << 2))
    const asked = m > limit ? limit / m : 1
    // The lowest of the last so many: a queue that only ever rises.
    while (first != last && load<f64>(queue + (<usize>((last - 1) & mask) << 3)) >= asked) last--
    store<f64>(queue + (<usize>(last & mask) << 3), asked)
    store<i32>(places + (<usize>(last & mask) << 3), at)
    last++
    while (at - load<i32>(places + (<usize>(first & mask) << 3)) >= window) first++
    const lowest = load<f64>(queue + (<usize>(first & mask) << 3))
    held = lowest < held ? lowest : release * held + (1 - release) * lowest
    const old = line + (<usize>((at - window) & mask) << 3)
    sum += held - load<f64>(old)
    store<f64>(line + (<usize>(at & mask) << 3), held)
    const g = min(sum / <f64>window, 1)
    deepest = min(deepest, g)
    store<f32>(out + (<usize>i << 2), <f32>g)
  }
  store<f64>(s, held)
  store<f64>(s, sum, 8)
  store<f64>(s, deepest, 16)
  store<i32>(s, at, 24)
  store<i32>(s, first, 32)
  store<i32>(s, last, 36)
}
