// One leg as the weighted sum of many legs. Gains move linearly over a block, and jump on the very first one. A block
// in which a number is none (NaN, ±∞) goes no further: it becomes silence and is counted.
//   params: one target gain an input · state: i32 started, i32 blocks silenced, then one f64 gain in force an input
import { BYTES, kept4, params, state, inputs, input, output } from './op'
import { hush, isQuiet } from './quiet'

export function mix(op: usize): void {
  const n = inputs(op), target = params(op), s = state(op), out = output(op, 0)
  if (n == 1 && !isQuiet(input(op, 0))) { mixOne(input(op, 0), target, s, out); return }
  if (isMoving(n, target, s)) {
    ramp(op + 20, n, target, s + 8, out)
    silenceFaults(s, out)
  } else if (!steady(op, n, s + 8, out)) silence(s, out)
}

/** Are the gains on their way? The first ones are in force at once. */
@inline function isMoving(n: i32, target: usize, s: usize): bool {
  const now = s + 8
  if (load<i32>(s) == 0) {
    store<i32>(s, 1)
    memory.copy(now, target, <usize>n << 3)
    return false
  }
  for (let at: usize = 0; at < <usize>n << 3; at += 8) if (load<f64>(target + at) != load<f64>(now + at)) return true
  return false
}

const ONE = memory.data(4)
/** A mix of one input. */
export function mixOne(x: usize, target: usize, s: usize, out: usize): void {
  if (isMoving(1, target, s)) {
    store<usize>(ONE, x)
    ramp(ONE, 1, target, s + 8, out)
    silenceFaults(s, out)
  } else if (!alone(x, <f32>load<f64>(s, 8), out)) silence(s, out)
}

/** Does a mix of one input stand? */
@inline export function stands(target: usize, s: usize): bool {
  return load<i32>(s) != 0 && load<f64>(target) == load<f64>(s, 8)
}

/** x · 0 is 0 for every number but those that are none. Four sums, so that none waits for another. */
export function isSound(out: usize): bool {
  const none = kept4(0, 0)
  let a = none, b = none, c = none, d = none
  for (let at = out; at < out + BYTES; at += 64) {
    a = f32x4.add(a, f32x4.mul(v128.load(at), none))
    b = f32x4.add(b, f32x4.mul(v128.load(at, 16), none))
    c = f32x4.add(c, f32x4.mul(v128.load(at, 32), none))
    d = f32x4.add(d, f32x4.mul(v128.load(at, 48), none))
  }
  return i32x4.all_true(f32x4.eq(f32x4.add(f32x4.add(a, b), f32x4.add(c, d)), none))
}

export function silenceFaults(s: usize, out: usize): void {
  if (!isSound(out)) silence(s, out)
}

/** The count lies in the second word of a state. */
function silence(s: usize, out: usize): void {
  store<i32>(s, load<i32>(s, 4) + 1, 4)
  memory.fill(out, 0, BYTES)
}

/** Gains in float32, for so many inputs at a time. */
const MOST = 1024
const GAINS = memory.data(4 * 1024, 16)
/** Where the inputs that are not silent lie. */
const HEARD = memory.data(4 * 1024, 16)

/** Of none, of one that is silent, or of many. @returns are all numbers of the block numbers? */
function steady(op: usize, n: i32, now: usize, out: usize): bool {
  if (n < 2) { hush(out); return true }
  let sound = true
  for (let from = 0; from < n; from += MOST) {
    const to = min(n, from + MOST)
    let heard = 0
    for (let i = from; i < to; i++) {
      const x = input(op, i)
      if (isQuiet(x)) continue
      store<f32>(GAINS + (<usize>heard << 2), <f32>load<f64>(now + (<usize>i << 3)))
      store<usize>(HEARD + (<usize>heard << 2), x)
      heard++
    }
    // Sums begin with +0, to which ±0 adds nothing.
    if (heard) sound = add(heard, from > 0, out)
    else if (from == 0) hush(out)
  }
  return sound
}

/** One input: a copy, or a gain. */
function alone(x: usize, by: f32, out: usize): bool {
  const gain = kept4(1, by), none = kept4(0, 0)
  let faults = none
  for (let at: usize = 0; at < BYTES; at += 128) {
    const from = x + at, o = out + at
    const a = f32x4.add(none, f32x4.mul(v128.load(from), gain))
    const b = f32x4.add(none, f32x4.mul(v128.load(from, 16), gain))
    const c = f32x4.add(none, f32x4.mul(v128.load(from, 32), gain))
    const d = f32x4.add(none, f32x4.mul(v128.load(from, 48), gain))
    const e = f32x4.add(none, f32x4.mul(v128.load(from, 64), gain))
    const f = f32x4.add(none, f32x4.mul(v128.load(from, 80), gain))
    const g = f32x4.add(none, f32x4.mul(v128.load(from, 96), gain))
    const h = f32x4.add(none, f32x4.mul(v128.load(from, 112), gain))
    v128.store(o, a); v128.store(o, b, 16); v128.store(o, c, 32); v128.store(o, d, 48)
    v128.store(o, e, 64); v128.store(o, f, 80); v128.store(o, g, 96); v128.store(o, h, 112)
    const sum = f32x4.add(f32x4.add(f32x4.add(a, b), f32x4.add(c, d)), f32x4.add(f32x4.add(e, f), f32x4.add(g, h)))
    faults = f32x4.add(faults, f32x4.mul(sum, none))
  }
  return i32x4.all_true(f32x4.eq(faults, none)) || isSound(out)
}

/**
 * Adds inputs that are heard to what came before the first of them. Thirty-two frames stay in registers while the
 * inputs go by, and are looked at before they leave.
 */
function add(heard: i32, isMore: bool, out: usize): bool {
  const none = kept4(0, 0)
  let faults = none, more = none
  for (let at: usize = 0; at < BYTES; at += 128) {
    const o = out + at
    let a = none, b = none, c = none, d = none, e = none, f = none, g = none, h = none
    if (isMore) {
      a = v128.load(o); b = v128.load(o, 16); c = v128.load(o, 32); d = v128.load(o, 48)
      e = v128.load(o, 64); f = v128.load(o, 80); g = v128.load(o, 96); h = v128.load(o, 112)
    }
    for (let i: usize = 0; i < <usize>heard << 2; i += 4) {
      const x = load<usize>(HEARD + i) + at, gain = v128.load32_splat(GAINS + i)
      a = f32x4.add(a, f32x4.mul(v128.load(x), gain))
      b = f32x4.add(b, f32x4.mul(v128.load(x, 16), gain))
      c = f32x4.add(c, f32x4.mul(v128.load(x, 32), gain))
      d = f32x4.add(d, f32x4.mul(v128.load(x, 48), gain))
      e = f32x4.add(e, f32x4.mul(v128.load(x, 64), gain))
      f = f32x4.add(f, f32x4.mul(v128.load(x, 80), gain))
      g = f32x4.add(g, f32x4.mul(v128.load(x, 96), gain))
      h = f32x4.add(h, f32x4.mul(v128.load(x, 112), gain))
    }
    v128.store(o, a); v128.store(o, b, 16); v128.store(o, c, 32); v128.store(o, d, 48)
    v128.store(o, e, 64); v128.store(o, f, 80); v128.store(o, g, 96); v128.store(o, h, 112)
    faults = f32x4.add(faults, f32x4.mul(f32x4.add(f32x4.add(a, b), f32x4.add(c, d)), none))
    more = f32x4.add(more, f32x4.mul(f32x4.add(f32x4.add(e, f), f32x4.add(g, h)), none))
  }
  return i32x4.all_true(f32x4.eq(f32x4.add(faults, more), none)) || isSound(out)
}

/** `xs`: where the inputs' pointers lie. */
function ramp(xs: usize, n: i32, target: usize, now: usize, out: usize): void {
  for (let at: usize = 0; at < BYTES; at += 16) {
    let sum = f32x4.splat(0)
    const first = <f64>(at >> 2)
    for (let i = 0; i < n; i++) {
      const from = load<f64>(now + (<usize>i << 3))
      const step = (load<f64>(target + (<usize>i << 3)) - from) / 128
      const g = f32x4(
        <f32>(from + step * (first + 1)), <f32>(from + step * (first + 2)),
        <f32>(from + step * (first + 3)), <f32>(from + step * (first + 4)))
      sum = f32x4.add(sum, f32x4.mul(v128.load(load<usize>(xs + (<usize>i << 2)) + at), g))
    }
    v128.store(out + at, sum)
  }
  memory.copy(now, target, <usize>n << 3)
}

/** One leg times a curve. */
export function multiply(op: usize): void { multiplied(input(op, 0), input(op, 1), output(op, 0)) }

export function multiplied(x: usize, g: usize, out: usize): void {
  for (let at: usize = 0; at < BYTES; at += 16) {
    v128.store(out + at, f32x4.mul(v128.load(x + at), v128.load(g + at)))
  }
}
