// Where the module meets its host: staging areas for audio coming in and going out, and meters.
// A staging area holds legs × 512 frames of a source, legs × 4096 of a sink; the block at absolute frame f lies at f mod
// as many.
import { BLOCK, BYTES, kept4, params, param, state, inputs, outputs, input, output } from './op'
import { clock } from './clock'
import { isSound } from './mix'

const IN: usize = 512, OUT: usize = 4096

/** Where the block of now lies. */
@inline function at(op: usize, frames: usize): usize {
  return <usize>param(op, 0) + ((<usize>clock.frame & (frames - 1)) << 2)
}

/**
 * params: staging pointer, then a gain a leg · state: i32 started, i32 blocks with faults in them, then an f64 gain in
 * force a leg
 */
export function source(op: usize): void {
  const staging = at(op, IN)
  const started = load<i32>(state(op))
  store<i32>(state(op), 1)
  for (let leg = 0; leg < outputs(op); leg++) {
    const from = staging + <usize>leg * IN * 4
    const out = output(op, leg)
    const cell = state(op) + 8 + (<usize>leg << 3)
    const target = param(op, 1 + leg)
    const now = started ? load<f64>(cell) : target
    if (now == target) {
      if (scaled(from, out, <f32>now)) { store<f64>(cell, target); continue }
    } else {
      const step = (target - now) / 128
      for (let i = 0; i < BLOCK; i++) {
        const at = <usize>i << 2
        store<f32>(out + at, load<f32>(from + at) * <f32>(now + step * (<f64>i + 1)))
      }
    }
    store<f64>(cell, target)
    if (!isSound(out)) {
      // Audio that came with numbers that are none: those alone are silent.
      store<i32>(state(op), load<i32>(state(op), 4) + 1, 4)
      for (let at = out; at < out + BYTES; at += 4) { const v = load<f32>(at); if (v - v != 0) store<f32>(at, 0) }
    }
  }
}

/** A block times a gain. @returns are all its numbers numbers? False also where their sums are none. */
function scaled(from: usize, out: usize, by: f32): bool {
  const gain = kept4(0, by), none = kept4(1, 0)
  let faults = none
  for (let at: usize = 0; at < BYTES; at += 64) {
    const a = f32x4.mul(v128.load(from + at), gain), b = f32x4.mul(v128.load(from + at, 16), gain)
    const c = f32x4.mul(v128.load(from + at, 32), gain), d = f32x4.mul(v128.load(from + at, 48), gain)
    v128.store(out + at, a); v128.store(out + at, b, 16); v128.store(out + at, c, 32); v128.store(out + at, d, 48)
    faults = f32x4.add(faults, f32x4.mul(f32x4.add(f32x4.add(a, b), f32x4.add(c, d)), none))
  }
  return i32x4.all_true(f32x4.eq(faults, none))
}

/** params: staging pointer */
export function sink(op: usize): void {
  const staging = at(op, OUT)
  for (let leg = 0; leg < inputs(op); leg++) memory.copy(staging + <usize>leg * OUT * 4, input(op, leg), BYTES)
}

/** state: for every leg an f32 peak and an f32 mean square of the last block */
export function meter(op: usize): void {
  for (let leg = 0; leg < inputs(op); leg++) {
    const x = input(op, leg)
    let peak = f32x4.splat(0), power = f32x4.splat(0)
    for (let at: usize = 0; at < BYTES; at += 16) {
      const v = v128.load(x + at)
      peak = f32x4.pmax(peak, f32x4.abs(v))
      power = f32x4.add(power, f32x4.mul(v, v))
    }
    const cell = state(op) + (<usize>leg << 3)
    store<f32>(cell, max(
      max(f32x4.extract_lane(peak, 0), f32x4.extract_lane(peak, 1)),
      max(f32x4.extract_lane(peak, 2), f32x4.extract_lane(peak, 3))))
    store<f32>(cell, (f32x4.extract_lane(power, 0) + f32x4.extract_lane(power, 1) +
      f32x4.extract_lane(power, 2) + f32x4.extract_lane(power, 3)) / 128, 4)
  }
}

/** Largest magnitude over linked legs, the input of a detector. */
export function magnitude(op: usize): void {
  const n = inputs(op), out = output(op, 0)
  for (let at: usize = 0; at < BYTES; at += 16) {
    let top = f32x4.splat(0)
    for (let leg = 0; leg < n; leg++) top = f32x4.pmax(top, f32x4.abs(v128.load(input(op, leg) + at)))
    v128.store(out + at, top)
  }
}
