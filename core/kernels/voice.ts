// Small voices: notes turned into sound by formulas of the time since each began. No state.
//   params: voice, notes, frames that ring on after a note's end, sample rate, frames from a note's start to its last
//     sound
//   at most, then start, end, Hz, gain a note in order of start · output: one leg
import { BLOCK, BYTES, params, param, output } from './op'
import { clock } from './clock'
import { exp, turn } from './elementary'

const SUM = memory.data(128 * 8, 16)

export function voice(op: usize): void {
  const kind = <i32>param(op, 0), count = <i32>param(op, 1)
  const tail = param(op, 2), rate = param(op, 3), longest = param(op, 4)
  const notes = params(op) + 40
  const first = <f64>clock.frame
  memory.fill(SUM, 0, 1024)
  // The first note that may still sound.
  let low = 0, high = count
  while (low < high) {
    const mid = (low + high) >> 1
    if (load<f64>(notes + (<usize>mid << 5)) + longest < first) low = mid + 1
    else high = mid
  }
  let sounds = false
  for (let i = low; i < count; i++) {
    const note = notes + (<usize>i << 5)
    const start = load<f64>(note), end = load<f64>(note, 8)
    if (start >= first + <f64>BLOCK) break
    if (end + tail <= first) continue
    sounds = true
    const hz = load<f64>(note, 16), gain = load<f64>(note, 24)
    if (kind == 0) pad(first - start, end - start, tail, hz, gain, rate)
    else if (kind == 1) pluck(first - start, end - start, tail, hz, gain, rate)
    else drum(first - start, tail, hz, gain, rate, start)
  }
  if (!sounds) { memory.fill(output(op, 0), 0, BYTES); return }
  for (let i: usize = 0; i < 128; i++) store<f32>(output(op, 0) + (i << 2), <f32>load<f64>(SUM + (i << 3)))
}

@inline function put(i: i32, y: f64): void {
  const at = SUM + (<usize>i << 3)
  store<f64>(at, load<f64>(at) + y)
}

/**
 * A sine of which the phase counts from the note's start, for the part of the block in which it has begun. t0: frame 0
 * of the block in the note's time.
 */
@inline function begin(t0: f64): i32 { return <i32>max(0, -t0) }

/** Rises in a quarter of a second, falls over the tail: a smooth step of x from 0 to 1. */
@inline function smooth(x: f64): f64 { const c = min(1, max(0, x)); return c * c * (3 - 2 * c) }

function pad(t0: f64, length: f64, tail: f64, hz: f64, gain: f64, rate: f64): void {
  const rise = 0.25 * rate
  for (let side = 0; side < 2; side++) {
    const base = hz * (side == 0 ? 0.9991 : 1.0011)
    for (let k = 1; k <= 6; k++) {
      const step = base * k / rate
      if (step > 0.45) break
      let c = begin(t0)
      const level = gain * 0.13 / (k * sqrt(<f64>k))
      let s = turn((t0 + <f64>c) * step), q = turn((t0 + <f64>c) * step + 0.25)
      const ds = turn(step), dq = turn(step + 0.25)
      for (; c < BLOCK; c++) {
        const t = t0 + <f64>c
        put(c, s * level * smooth(t / rise) * (1 - smooth((t - length) / tail)))
        const next = s * dq + q * ds
        q = q * dq - s * ds
        s = next
      }
    }
  }
}

function pluck(t0: f64, length: f64, tail: f64, hz: f64, gain: f64, rate: f64): void {
  const rise = 0.002 * rate
  for (let k = 1; k <= 10; k++) {
    const step = hz * k / rate
    if (step > 0.45) break
    let c = begin(t0)
    // Higher keys and higher partials die sooner.
    const decay = (1.2 + 0.8 * k) * sqrt(hz / 220) / rate
    let level = gain * 0.5 / (k * sqrt(<f64>k)) * exp(-decay * (t0 + <f64>c))
    const fall = exp(-decay)
    let s = turn((t0 + <f64>c) * step), q = turn((t0 + <f64>c) * step + 0.25)
    const ds = turn(step), dq = turn(step + 0.25)
    for (; c < BLOCK; c++) {
      const t = t0 + <f64>c
      put(c, s * level * min(1, t / rise) * (1 - smooth((t - length) / tail)))
      level *= fall
      const next = s * dq + q * ds
      q = q * dq - s * ds
      s = next
    }
  }
}

/** A skin whose pitch falls by two octaves in some 20 ms, and the stick: noise that lasts 15 ms. */
function drum(t0: f64, tail: f64, hz: f64, gain: f64, rate: f64, seed: f64): void {
  const bend = 0.02 * rate, body = 0.16 * rate, stick = 0.015 * rate
  let c = begin(t0)
  const t = t0 + <f64>c
  let b = exp(-t / bend), e = exp(-t / body), n = exp(-t / stick)
  const fb = exp(-1 / bend), fe = exp(-1 / body), fn = exp(-1 / stick)
  for (; c < BLOCK; c++) {
    const at = t0 + <f64>c
    const phase = hz / rate * (at + 3 * bend * (1 - b))
    const noise = <f64>(hash(<u32>(<i64>seed) * 2654435761 + <u32>(<i64>at)) >> 8) / 8388608 - 1
    put(c, gain * (0.7 * turn(phase) * e + 0.25 * noise * n) * min(1, at / (0.001 * rate))
      * (1 - smooth((at - 0.7 * tail) / (0.3 * tail))))
    b *= fb; e *= fe; n *= fn
  }
}

@inline function hash(x: u32): u32 {
  let h = x
  h ^= h >> 16; h *= 0x7feb352d; h ^= h >> 15; h *= 0x846ca68b; h ^= h >> 16
  return h
}
