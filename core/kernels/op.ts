// How an operation lies in memory. The host writes it, the kernels read it.
//   word 0 kind · 1 params (f64…) · 2 state · 3 inputs · 4 outputs · then input pointers, then output pointers
// Buffers are one leg of one block: 128 float32 values.

export const BLOCK: i32 = 128
export const BYTES: usize = 512

@inline export function params(op: usize): usize { return load<usize>(op, 4) }
@inline export function state(op: usize): usize { return load<usize>(op, 8) }
@inline export function inputs(op: usize): i32 { return load<i32>(op, 12) }
@inline export function outputs(op: usize): i32 { return load<i32>(op, 16) }
@inline export function input(op: usize, i: i32): usize { return load<usize>(op + 20 + (<usize>i << 2)) }
@inline export function output(op: usize, i: i32): usize {
  return load<usize>(op + 20 + (<usize>(inputs(op) + i) << 2))
}
@inline export function param(op: usize, i: i32): f64 { return load<f64>(params(op) + (<usize>i << 3)) }

/** States below this are set to zero once a block: a denormal costs 24 times a normal number. */
export const TINY: f64 = 1e-15
@inline export function flush(x: f64): f64 { return abs(x) < TINY ? 0 : x }
/** For values on their way into a delay line: what goes round in it comes to an end, and 0 has no sign. */
@inline export function flush32(x: f32): f32 { return abs(x) < <f32>TINY ? 0 : x }
/** Of four; `tiny` is TINY in all lanes. What is no number stays what it is. */
@inline export function flush32x4(x: v128, tiny: v128): v128 { return v128.andnot(x, f32x4.lt(f32x4.abs(x), tiny)) }

// V8 builds a vector that was made in registers, and every constant one, anew at each turn of a loop; one that was
// loaded from memory stays where it is. So vectors that a loop only reads go by way of memory first.
const KEPT = memory.data(32 * 16, 16)

/** Two numbers as a vector that stays; `place` from 0 to 31, each once in a kernel. */
@inline export function kept(place: usize, a: f64, b: f64): v128 {
  store<f64>(KEPT + (place << 4), a)
  store<f64>(KEPT + (place << 4), b, 8)
  return v128.load(KEPT + (place << 4))
}

/** A vector that stays, read by `again`. */
@inline export function keptVector(place: usize, v: v128): void { v128.store(KEPT + (place << 4), v) }

/** What was kept at a place. */
@inline export function again(place: usize): v128 { return v128.load(KEPT + (place << 4)) }

/** One float32 in all four lanes, as a vector that stays. */
@inline export function kept4(place: usize, v: f32): v128 {
  store<f32>(KEPT + (place << 4), v)
  return v128.load32_splat(KEPT + (place << 4))
}
