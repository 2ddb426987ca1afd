// Delays: whole samples for alignment, an FIR for fractions and converters.
import { BLOCK, BYTES, params, param, state, input, output, flush32 } from './op'
import { clock } from './clock'
import { turn } from './elementary'
import { countDown, hush, isQuiet, isZero } from './quiet'

/** params: delay in samples, ring size (power of two ≥ delay + 128) · state: i32 write position, 4 spare, ring f32 */
export function delay(op: usize): void {
  const samples = <i32>param(op, 0)
  const mask = <i32>param(op, 1) - 1
  const ring = state(op) + 8
  const x = input(op, 0), out = output(op, 0)
  const write = load<i32>(state(op))
  // Positions move by whole blocks and rings are multiples of a block, so a write never wraps.
  memory.copy(ring + (<usize>write << 2), x, BYTES)
  const read = (write - samples) & mask
  const run = min(BLOCK, mask + 1 - read)
  memory.copy(out, ring + (<usize>read << 2), <usize>run << 2)
  if (run < BLOCK) memory.copy(out + (<usize>run << 2), ring, <usize>(BLOCK - run) << 2)
  store<i32>(state(op), (write + BLOCK) & mask)
}

/**
 * params: number of taps (a multiple of 4), then the taps, newest sample first · state: taps f32 of history, then 128
 * f32
 */
export function fir(op: usize): void {
  const taps = <i32>param(op, 0)
  const h = params(op) + 8
  const line = state(op)
  const x = input(op, 0), out = output(op, 0)
  if (isQuiet(x) && isZero(line, <usize>taps << 2)) { hush(out); return }
  memory.copy(line + (<usize>taps << 2), x, BYTES)
  for (let i = 0; i < BLOCK; i += 2) {
    let sum = f64x2.splat(0)
    const newest = line + (<usize>(taps + i) << 2)
    for (let k = 0; k < taps; k++) {
      const at = newest - (<usize>k << 2)
      sum = f64x2.add(sum, f64x2.mul(f64x2.splat(load<f64>(h + (<usize>k << 3))),
        f64x2.promote_low_f32x4(v128.load64_zero(at))))
    }
    const y = f32x4.demote_f64x2_zero(sum)
    store<f32>(out + (<usize>i << 2), flush32(f32x4.extract_lane(y, 0)))
    store<f32>(out + (<usize>i << 2), flush32(f32x4.extract_lane(y, 1)), 4)
  }
  memory.copy(line, line + BYTES, <usize>taps << 2)
}

/** Third-order Lagrange between the four samples around a place of a ring, `d` frames before `at`. */
@inline function between(ring: usize, mask: i32, at: i32, d: f64): f64 {
  const a = <f64>load<f32>(ring + (<usize>((at + 1) & mask) << 2))
  const b = <f64>load<f32>(ring + (<usize>(at & mask) << 2))
  const c = <f64>load<f32>(ring + (<usize>((at - 1) & mask) << 2))
  const e = <f64>load<f32>(ring + (<usize>((at - 2) & mask) << 2))
  return a * (-d * (d - 1) * (d - 2) / 6) + b * ((d + 1) * (d - 1) * (d - 2) / 2)
    + c * (-(d + 1) * d * (d - 2) / 2) + e * ((d + 1) * d * (d - 1) / 6)
}

/** Of silence and with nothing in its ring a line gives +0: what comes out of it has no sign. */
@inline function lineRests(op: usize, mask: i32): bool {
  const s = state(op), isHeard = !isQuiet(input(op, 0))
  const rests = !isHeard && load<i32>(s, 4) == 0
  countDown(s + 4, isHeard, mask + 1)
  if (!rests) return false
  hush(output(op, 0))
  store<i32>(s, (load<i32>(s) + BLOCK) & mask)
  return true
}

/** Frames that a device with a clock of its own keeps in hand before it skips or repeats as many. */
const SLIP: f64 = 256

/**
 * A clock that runs free: the delay grows with time, and slips back when the device's buffer is through.
 * params: drift in parts per million · state: i32 write position, i32 blocks for which the ring still sounds, ring of
 * 1024 f32
 */
export function drift(op: usize): void {
  if (lineRests(op, 1023)) return
  const ring = state(op) + 8
  const x = input(op, 0), out = output(op, 0)
  const write = load<i32>(state(op))
  memory.copy(ring + (<usize>write << 2), x, BYTES)
  const rate = param(op, 0) * 1e-6
  for (let i = 0; i < BLOCK; i++) {
    const run = (<f64>(clock.frame + i) * rate) % SLIP
    const late = SLIP + (run < 0 ? run + SLIP : run)
    const whole = <i32>floor(late), d = late - <f64>whole
    const y = between(ring, 1023, write + i - whole, d)
    store<f32>(out + (<usize>i << 2), flush32(<f32>y))
  }
  store<i32>(state(op), (write + BLOCK) & 1023)
}

/**
 * A tape whose speed wanders: the way between its heads takes longer and shorter, by two sines of slow and fast.
 * params: delay in samples, ring size (power of two > delay + both swings + 128), then for each sine its swing in
 * samples (0 < swing < delay), turns a frame, and where it begins in turns
 * state: i32 write position, i32 blocks for which the ring still sounds, ring f32
 */
export function wow(op: usize): void {
  const mask = <i32>param(op, 1) - 1
  if (lineRests(op, mask)) return
  const ring = state(op) + 8
  const x = input(op, 0), out = output(op, 0)
  const write = load<i32>(state(op))
  memory.copy(ring + (<usize>write << 2), x, BYTES)
  for (let i = 0; i < BLOCK; i++) {
    const n = <f64>(clock.frame + i)
    const slow = param(op, 3) * n + param(op, 4), fast = param(op, 6) * n + param(op, 7)
    const late = param(op, 0) + param(op, 2) * turn(slow) + param(op, 5) * turn(fast)
    const whole = <i32>floor(late)
    const y = between(ring, mask, write + i - whole, late - <f64>whole)
    store<f32>(out + (<usize>i << 2), flush32(<f32>y))
  }
  store<i32>(state(op), (write + BLOCK) & mask)
}
