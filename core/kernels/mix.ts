// One leg as the weighted sum of many legs. Gains move linearly over a block, and jump on the very first one. A block in
// which a number is none (NaN, ±∞) goes no further: it becomes silence and is counted.
//   params: one target gain an input · state: i32 started, i32 blocks silenced, then one f64 gain in force an input
import { BYTES, params, state, inputs, input, output } from './op'

export function mix(op: usize): void {
  const n = inputs(op)
  const target = params(op)
  const now = state(op) + 8
  const out = output(op, 0)
  let moving = false
  if (load<i32>(state(op)) == 0) {
    store<i32>(state(op), 1)
    memory.copy(now, target, <usize>n << 3)
  } else {
    for (let i = 0; i < n; i++) {
      const at = <usize>i << 3
      if (load<f64>(target + at) != load<f64>(now + at)) { moving = true; break }
    }
  }
  if (moving) ramp(op, n, target, now, out)
  else steady(op, n, now, out)
  silenceFaults(state(op), out)
}

/** x · 0 is 0 for every number but those that are none. */
@inline export function isSound(out: usize): bool {
  let faults = f32x4.splat(0)
  for (let at: usize = 0; at < BYTES; at += 16) faults = f32x4.add(faults, f32x4.mul(v128.load(out + at), f32x4.splat(0)))
  return i32x4.all_true(f32x4.eq(faults, f32x4.splat(0)))
}

/** The count lies in the second word of a state. */
export function silenceFaults(s: usize, out: usize): void {
  if (isSound(out)) return
  store<i32>(s, load<i32>(s, 4) + 1, 4)
  memory.fill(out, 0, BYTES)
}

function steady(op: usize, n: i32, now: usize, out: usize): void {
  if (n == 0) { memory.fill(out, 0, BYTES); return }
  // Sixteen frames at a time stay in registers while the inputs go by.
  for (let at: usize = 0; at < BYTES; at += 64) {
    let a = f32x4.splat(0), b = a, c = a, d = a
    for (let i = 0; i < n; i++) {
      const g = f32x4.splat(<f32>load<f64>(now + (<usize>i << 3)))
      const x = input(op, i) + at
      a = f32x4.add(a, f32x4.mul(v128.load(x), g))
      b = f32x4.add(b, f32x4.mul(v128.load(x, 16), g))
      c = f32x4.add(c, f32x4.mul(v128.load(x, 32), g))
      d = f32x4.add(d, f32x4.mul(v128.load(x, 48), g))
    }
    v128.store(out + at, a)
    v128.store(out + at, b, 16)
    v128.store(out + at, c, 32)
    v128.store(out + at, d, 48)
  }
}

function ramp(op: usize, n: i32, target: usize, now: usize, out: usize): void {
  for (let at: usize = 0; at < BYTES; at += 16) {
    let sum = f32x4.splat(0)
    const first = <f64>(at >> 2)
    for (let i = 0; i < n; i++) {
      const from = load<f64>(now + (<usize>i << 3))
      const step = (load<f64>(target + (<usize>i << 3)) - from) / 128
      const g = f32x4(
        <f32>(from + step * (first + 1)), <f32>(from + step * (first + 2)),
        <f32>(from + step * (first + 3)), <f32>(from + step * (first + 4)))
      sum = f32x4.add(sum, f32x4.mul(v128.load(input(op, i) + at), g))
    }
    v128.store(out + at, sum)
  }
  memory.copy(now, target, <usize>n << 3)
}

/** One leg times a curve. */
export function multiply(op: usize): void {
  const x = input(op, 0), g = input(op, 1), out = output(op, 0)
  for (let at: usize = 0; at < BYTES; at += 16) {
    v128.store(out + at, f32x4.mul(v128.load(x + at), v128.load(g + at)))
  }
}
