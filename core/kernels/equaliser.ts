// Cascades of second-order sections, transposed direct form II in float64, two legs in the two lanes of a vector.
// The legs may belong to different channels: each brings its own params and state.
//   a lane's params: sections, then b0 b1 b2 a1 a2 a section (a0 = 1)
//   a lane's state: s1 s2 a section, then f64 started, then the coefficients in force
// New coefficients are reached in a straight line over a block: between two stable sections every section is stable.
//   op words after the pointers: second lane's params, second lane's state
import { TINY, again, kept, params, state, input, output } from './op'
import { hush, isQuiet, isZero } from './quiet'

const scratch = memory.data(128 * 16, 16)

@inline function pair(a: usize, b: usize, at: usize): v128 { return f64x2(load<f64>(a + at), load<f64>(b + at)) }

function keep(a: usize, b: usize, at: usize, v: v128): void {
  // Any state this small is inaudible and would soon be a denormal.
  const alive = v128.and(v, f64x2.ge(f64x2.abs(v), f64x2.splat(TINY)))
  store<f64>(a + at, f64x2.extract_lane(alive, 0))
  store<f64>(b + at, f64x2.extract_lane(alive, 1))
}

/** With nothing in its sections and the coefficients in force, 0 gives +0: what is kept has no sign. */
@inline function rests(op: usize): bool {
  if (!isQuiet(input(op, 0)) || !isQuiet(input(op, 1))) return false
  const pa = params(op), sa = state(op)
  const pb = load<usize>(op + 36), sb = load<usize>(op + 40)
  const sections = <usize>load<f64>(pa), tail = sections << 4
  if (!isZero(sa, tail) || !isInForce(pa, sa + tail, sections * 40)) return false
  if (pa != pb && (!isZero(sb, tail) || !isInForce(pb, sb + tail, sections * 40))) return false
  hush(output(op, 0))
  hush(output(op, 1))
  return true
}

@inline function isInForce(p: usize, past: usize, size: usize): bool {
  return load<f64>(past) != 0 && memory.compare(p + 8, past + 8, size) == 0
}

export function equaliser(op: usize): void {
  if (rests(op)) return
  const pa = params(op), sa = state(op)
  const pb = load<usize>(op + 36), sb = load<usize>(op + 40)
  const xa = input(op, 0), xb = input(op, 1)
  const ya = output(op, 0), yb = output(op, 1)
  const sections = <i32>load<f64>(pa)

  for (let at: usize = 0; at < 512; at += 16) {
    const a = v128.load(xa + at), b = v128.load(xb + at)
    const low = v128.shuffle<f32>(a, b, 0, 4, 1, 5), high = v128.shuffle<f32>(a, b, 2, 6, 3, 7)
    const to = scratch + (at << 2)
    v128.store(to, f64x2.promote_low_f32x4(low))
    v128.store(to, f64x2.promote_low_f32x4(v128.shuffle<f64>(low, low, 1, 0)), 16)
    v128.store(to, f64x2.promote_low_f32x4(high), 32)
    v128.store(to, f64x2.promote_low_f32x4(v128.shuffle<f64>(high, high, 1, 0)), 48)
  }
  const tail = <usize>sections << 4, size = <usize>sections * 40
  // A lane without a partner computes the first one's work twice.
  const pastA = sa + tail, pastB = pa == pb ? pastA : sb + tail
  const moves = moved(pa, pastA, size), moves2 = moved(pb, pastB, size)
  let k = 0
  if (moves || moves2) {
    for (; k < sections; k++) {
      if (stands(pa, pastA, k) && stands(pb, pastB, k)) one(pa, pb, sa, sb, k)
      else gliding(pa, pb, sa, sb, pastA + 8, pastB + 8, k)
    }
    memory.copy(pastA + 8, pa + 8, size)
    memory.copy(pastB + 8, pb + 8, size)
  } else {
    // A sample of a section waits for the one before: three sections side by side fill that time.
    for (; k + 2 < sections; k += 3) three(pa, pb, sa, sb, k)
    if (k + 1 < sections) two(pa, pb, sa, sb, k)
    else if (k < sections) one(pa, pb, sa, sb, k)
  }
  for (let at: usize = 0; at < 512; at += 16) {
    const from = scratch + (at << 2)
    const low = v128.shuffle<f64>(f32x4.demote_f64x2_zero(v128.load(from)),
      f32x4.demote_f64x2_zero(v128.load(from, 16)), 0, 2)
    const high = v128.shuffle<f64>(f32x4.demote_f64x2_zero(v128.load(from, 32)),
      f32x4.demote_f64x2_zero(v128.load(from, 48)), 0, 2)
    v128.store(ya + at, v128.shuffle<f32>(low, high, 0, 2, 4, 6))
    v128.store(yb + at, v128.shuffle<f32>(low, high, 1, 3, 5, 7))
  }
}

/** Are there other coefficients than those in force? The first ones are in force at once. */
function moved(p: usize, past: usize, size: usize): bool {
  if (load<f64>(past) == 0) {
    store<f64>(past, 1)
    memory.copy(past + 8, p + 8, size)
    return false
  }
  return memory.compare(p + 8, past + 8, size) != 0
}

/** Has a section the coefficients that are in force? */
@inline function stands(p: usize, past: usize, k: i32): bool {
  const at = <usize>8 + <usize>k * 40
  return memory.compare(p + at, past + at, 40) == 0
}

/** What a coefficient of both lanes has to go, as a vector that stays; the one in force stays five places before. */
@inline function way(place: usize, pa: usize, pb: usize, at: usize, oa: usize, ob: usize, from: usize): v128 {
  const v = f64x2.sub(pair(pa, pb, at), held(place - 5, oa, ob, from))
  return kept(place, f64x2.extract_lane(v, 0), f64x2.extract_lane(v, 1))
}
@inline function on(past: v128, by: v128, share: v128): v128 { return f64x2.add(past, f64x2.mul(by, share)) }

/** One section whose coefficients move. */
function gliding(pa: usize, pb: usize, sa: usize, sb: usize, oa: usize, ob: usize, k: i32): void {
  const p = <usize>8 + <usize>k * 40, o = <usize>k * 40, s = <usize>k * 16
  const w0 = way(5, pa, pb, p, oa, ob, o), w1 = way(6, pa, pb, p + 8, oa, ob, o + 8)
  const w2 = way(7, pa, pb, p + 16, oa, ob, o + 16), v1 = way(8, pa, pb, p + 24, oa, ob, o + 24)
  const v2 = way(9, pa, pb, p + 32, oa, ob, o + 32)
  const f0 = again(0), f1 = again(1), f2 = again(2), e1 = again(3), e2 = again(4)
  let s1 = pair(sa, sb, s), s2 = pair(sa, sb, s + 8)
  for (let i: usize = 0; i < 128; i++) {
    const share = f64x2.splat(<f64>(i + 1) / 128)
    const b0 = on(f0, w0, share), b1 = on(f1, w1, share), b2 = on(f2, w2, share)
    const a1 = on(e1, v1, share), a2 = on(e2, v2, share)
    const x = v128.load(scratch + (i << 4))
    const y = f64x2.add(f64x2.mul(b0, x), s1)
    s1 = f64x2.sub(f64x2.add(f64x2.mul(b1, x), s2), f64x2.mul(a1, y))
    s2 = f64x2.sub(f64x2.mul(b2, x), f64x2.mul(a2, y))
    v128.store(scratch + (i << 4), y)
  }
  keep(sa, sb, s, s1)
  keep(sa, sb, s + 8, s2)
}

/** A coefficient of both lanes, as a vector that stays. */
@inline function held(place: usize, pa: usize, pb: usize, at: usize): v128 {
  return kept(place, load<f64>(pa + at), load<f64>(pb + at))
}

function one(pa: usize, pb: usize, sa: usize, sb: usize, k: i32): void {
  const p = <usize>8 + <usize>k * 40, s = <usize>k * 16
  const b0 = held(0, pa, pb, p), b1 = held(1, pa, pb, p + 8), b2 = held(2, pa, pb, p + 16)
  const a1 = held(3, pa, pb, p + 24), a2 = held(4, pa, pb, p + 32)
  let s1 = pair(sa, sb, s), s2 = pair(sa, sb, s + 8)
  for (let at = scratch; at < scratch + 2048; at += 16) {
    const x = v128.load(at)
    const y = f64x2.add(f64x2.mul(b0, x), s1)
    s1 = f64x2.sub(f64x2.add(f64x2.mul(b1, x), s2), f64x2.mul(a1, y))
    s2 = f64x2.sub(f64x2.mul(b2, x), f64x2.mul(a2, y))
    v128.store(at, y)
  }
  keep(sa, sb, s, s1)
  keep(sa, sb, s + 8, s2)
}

/** Sections one after the other in one loop: their recurrences overlap in the processor. */
function two(pa: usize, pb: usize, sa: usize, sb: usize, k: i32): void {
  const p = <usize>8 + <usize>k * 40, q = p + 40, s = <usize>k * 16
  const b0 = held(0, pa, pb, p), b1 = held(1, pa, pb, p + 8), b2 = held(2, pa, pb, p + 16)
  const a1 = held(3, pa, pb, p + 24), a2 = held(4, pa, pb, p + 32)
  const d0 = held(5, pa, pb, q), d1 = held(6, pa, pb, q + 8), d2 = held(7, pa, pb, q + 16)
  const c1 = held(8, pa, pb, q + 24), c2 = held(9, pa, pb, q + 32)
  let s1 = pair(sa, sb, s), s2 = pair(sa, sb, s + 8), t1 = pair(sa, sb, s + 16), t2 = pair(sa, sb, s + 24)
  for (let at = scratch; at < scratch + 2048; at += 16) {
    const x = v128.load(at)
    const y = f64x2.add(f64x2.mul(b0, x), s1)
    s1 = f64x2.sub(f64x2.add(f64x2.mul(b1, x), s2), f64x2.mul(a1, y))
    s2 = f64x2.sub(f64x2.mul(b2, x), f64x2.mul(a2, y))
    const z = f64x2.add(f64x2.mul(d0, y), t1)
    t1 = f64x2.sub(f64x2.add(f64x2.mul(d1, y), t2), f64x2.mul(c1, z))
    t2 = f64x2.sub(f64x2.mul(d2, y), f64x2.mul(c2, z))
    v128.store(at, z)
  }
  keep(sa, sb, s, s1)
  keep(sa, sb, s + 8, s2)
  keep(sa, sb, s + 16, t1)
  keep(sa, sb, s + 24, t2)
}

function three(pa: usize, pb: usize, sa: usize, sb: usize, k: i32): void {
  const p = <usize>8 + <usize>k * 40, q = p + 40, r = q + 40, s = <usize>k * 16
  const b0 = held(0, pa, pb, p), b1 = held(1, pa, pb, p + 8), b2 = held(2, pa, pb, p + 16)
  const a1 = held(3, pa, pb, p + 24), a2 = held(4, pa, pb, p + 32)
  const d0 = held(5, pa, pb, q), d1 = held(6, pa, pb, q + 8), d2 = held(7, pa, pb, q + 16)
  const c1 = held(8, pa, pb, q + 24), c2 = held(9, pa, pb, q + 32)
  const f0 = held(10, pa, pb, r), f1 = held(11, pa, pb, r + 8), f2 = held(12, pa, pb, r + 16)
  const e1 = held(13, pa, pb, r + 24), e2 = held(14, pa, pb, r + 32)
  let s1 = pair(sa, sb, s), s2 = pair(sa, sb, s + 8), t1 = pair(sa, sb, s + 16), t2 = pair(sa, sb, s + 24)
  let u1 = pair(sa, sb, s + 32), u2 = pair(sa, sb, s + 40)
  for (let at = scratch; at < scratch + 2048; at += 16) {
    const x = v128.load(at)
    const y = f64x2.add(f64x2.mul(b0, x), s1)
    s1 = f64x2.sub(f64x2.add(f64x2.mul(b1, x), s2), f64x2.mul(a1, y))
    s2 = f64x2.sub(f64x2.mul(b2, x), f64x2.mul(a2, y))
    const z = f64x2.add(f64x2.mul(d0, y), t1)
    t1 = f64x2.sub(f64x2.add(f64x2.mul(d1, y), t2), f64x2.mul(c1, z))
    t2 = f64x2.sub(f64x2.mul(d2, y), f64x2.mul(c2, z))
    const w = f64x2.add(f64x2.mul(f0, z), u1)
    u1 = f64x2.sub(f64x2.add(f64x2.mul(f1, z), u2), f64x2.mul(e1, w))
    u2 = f64x2.sub(f64x2.mul(f2, z), f64x2.mul(e2, w))
    v128.store(at, w)
  }
  keep(sa, sb, s, s1)
  keep(sa, sb, s + 8, s2)
  keep(sa, sb, s + 16, t1)
  keep(sa, sb, s + 24, t2)
  keep(sa, sb, s + 32, u1)
  keep(sa, sb, s + 40, u2)
}
