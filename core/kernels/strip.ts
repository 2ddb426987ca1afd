// What a strip does at its end in one go: the product with a gain curve, where there is one, and two mixes of one input
// each, the guard after a slot and the fader. In between nothing goes by way of memory.
//   inputs: a leg, and its curve if there is one · op words after the pointers: params and state of each further
//   operation, as they would have them by themselves
// The samples are those of the three one after the other; and so it is done where a gain is on its way, or where a
// number is none.
import { BYTES, inputs, input, kept4, output, params, state } from './op'
import { isSound, mixOne, multiplied, stands } from './mix'
import { hush, isQuiet } from './quiet'

const PRODUCT = memory.data(512, 16), GUARDED = memory.data(512, 16)

export function strip(op: usize): void {
  const hasCurve = inputs(op) == 2, x = input(op, 0), out = output(op, 0)
  // Of three operations the product's come first, which needs none.
  const more = op + 24 + (<usize>inputs(op) << 2), last = hasCurve ? more + 8 : more
  const guard = hasCurve ? load<usize>(more) : params(op), s = hasCurve ? load<usize>(more, 4) : state(op)
  const fader = load<usize>(last), t = load<usize>(last, 4)
  if (stands(guard, s) && stands(fader, t)) {
    if (isQuiet(x)) { hush(out); return }
    const a = <f32>load<f64>(s, 8), b = <f32>load<f64>(t, 8)
    if (hasCurve ? together(true, x, input(op, 1), a, b, out) : together(false, x, x, a, b, out)) return
  }
  if (hasCurve) multiplied(x, input(op, 1), PRODUCT)
  mixOne(hasCurve ? PRODUCT : x, guard, s, GUARDED)
  mixOne(GUARDED, fader, t, out)
}

@inline function leg(hasCurve: bool, x: usize, curve: usize, a: v128, b: v128, none: v128): v128 {
  const v = hasCurve ? f32x4.mul(v128.load(x), v128.load(curve)) : v128.load(x)
  return f32x4.add(none, f32x4.mul(f32x4.mul(v, a), b))
}

/** @returns are all numbers numbers? What is none on the way is none in the end. */
@inline function together(hasCurve: bool, x: usize, curve: usize, guard: f32, fader: f32, out: usize): bool {
  const a = kept4(0, guard), b = kept4(1, fader), none = kept4(2, 0)
  let faults = none
  for (let at: usize = 0; at < BYTES; at += 64) {
    const from = x + at, by = curve + at, to = out + at
    const c = leg(hasCurve, from, by, a, b, none), d = leg(hasCurve, from + 16, by + 16, a, b, none)
    const e = leg(hasCurve, from + 32, by + 32, a, b, none), f = leg(hasCurve, from + 48, by + 48, a, b, none)
    v128.store(to, c); v128.store(to, d, 16); v128.store(to, e, 32); v128.store(to, f, 48)
    faults = f32x4.add(faults, f32x4.mul(f32x4.add(f32x4.add(c, d), f32x4.add(e, f)), none))
  }
  return i32x4.all_true(f32x4.eq(faults, none)) || isSound(out)
}
