// Cascades of second-order sections, transposed direct form II in float64, two legs in the two lanes of a vector.
// The legs may belong to different channels: each brings its own params and state.
//   a lane's params: sections, then b0 b1 b2 a1 a2 a section (a0 = 1), then what it is set to, of which those are made
//   here where it moves: angle of its frequency, Q, dB, kind (0 where they are given, below 0 where they are made)
//   a lane's state: s1 s2 a section, then f64 started, then the coefficients in force
// New coefficients are reached in a straight line over a block: between two stable sections every section is stable.
//   op words after the pointers: second lane's params, second lane's state
import { TINY, again, kept, keptVector, params, state, input, output } from './op'
import { band } from './band'
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
@inline function rests(x: usize, s: usize, sections: i32, way: u64): bool {
  return isQuiet(x) && !(way & MOVING) && isZero(s, <usize>sections << 4)
}

/** Makes the coefficients of bands that are set to something else. */
@inline function settle(p: usize, sections: i32): void {
  const settings = p + 8 + <usize>sections * 40
  for (let k = 0; k < sections; k++) {
    const set = settings + (<usize>k << 5), kind = load<f64>(set, 24)
    if (kind <= 0) continue
    band(<i32>kind, load<f64>(set), load<f64>(set, 8), load<f64>(set, 16), p + 8 + <usize>k * 40)
    store<f64>(set, -kind, 24)
  }
}

export function equaliser(op: usize): void {
  const pa = params(op), sa = state(op)
  const pb = load<usize>(op + 36), sb = load<usize>(op + 40)
  const sections = <i32>load<f64>(pa), tail = <usize>sections << 4
  settle(pa, sections)
  settle(pb, sections)
  // A lane without a partner computes the first one's work twice.
  const pastA = sa + tail, pastB = pa == pb ? pastA : sb + tail
  const way = wayOf(pa, pastA, sections), way2 = pa == pb ? way : wayOf(pb, pastB, sections)
  if (rests(input(op, 0), sa, sections, way) && (pa == pb || rests(input(op, 1), sb, sections, way2))) {
    hush(output(op, 0))
    hush(output(op, 1))
  } else if (way == way2) together(way, op, pa, pb, sa, sb, pastA, pastB, sections)
  else {
    lone(way, op, 0, pa, sa, sections)
    lone(way2, op, 1, pb, sb, sections)
  }
}

/** Bits of sections that move; where those of bells among them begin; nothing moves, and all can be divided. */
const MOVING: u64 = (1 << 20) - 1, BELLS: u64 = 20, DIVIDED: u64 = 1 << 40

/**
 * What is done to a lane of twenty sections at most: the same to both, or they are computed one by one, so that neither
 * depends on the other.
 */
function wayOf(p: usize, past: usize, sections: i32): u64 {
  // The first coefficients are in force at once.
  if (load<f64>(past) == 0) {
    store<f64>(past, 1)
    memory.copy(past + 8, p + 8, <usize>sections * 40)
  }
  let moving: u64 = 0, bells: u64 = 0, divides: u64 = DIVIDED, bit: u64 = 1
  let at = p + 8, was = past + 8
  for (let k = 0; k < sections; k++, bit <<= 1, at += 40, was += 40) {
    if (!(load<f64>(at) > 0)) divides = 0
    const differ = v128.or(
      v128.or(f64x2.ne(v128.load(at), v128.load(was)), f64x2.ne(v128.load(at, 16), v128.load(was, 16))),
      f64x2.ne(v128.load64_splat(at, 32), v128.load64_splat(was, 32)))
    if (!v128.any_true(differ)) continue
    moving |= bit
    // In bells and notches b1 is a1: one product less, and one coefficient less on its way.
    if (load<f64>(at, 8) == load<f64>(at, 24) && load<f64>(was, 8) == load<f64>(was, 24)) bells |= bit
  }
  return moving ? moving | (bells << BELLS) : divides
}

/** An operation of one lane, and a state for the other. */
const LONE = memory.data(44, 16), SPARE = memory.data(16 * 64, 16), DROPPED = memory.data(512, 16)

function lone(way: u64, op: usize, lane: i32, p: usize, s: usize, sections: i32): void {
  store<usize>(LONE, 2, 12)
  store<usize>(LONE, 2, 16)
  store<usize>(LONE, input(op, lane), 20)
  store<usize>(LONE, input(op, lane), 24)
  store<usize>(LONE, output(op, lane), 28)
  store<usize>(LONE, DROPPED, 32)
  const past = s + (<usize>sections << 4)
  together(way, LONE, p, p, s, SPARE, past, past, sections)
}

function together(
  way: u64, op: usize, pa: usize, pb: usize, sa: usize, sb: usize, pastA: usize, pastB: usize, sections: i32
): void {
  if (way == DIVIDED) {
    standing(op, pa, pb, sa, sb, sections)
    return
  }
  // A sample of a section waits for the one before: three sections side by side fill that time.
  widen(op)
  for (let k = 0; k < sections; k += 3) threeOnTheirWay(way >> k, pa, pb, sa, sb, pastA, pastB, k, sections - k)
  narrow(op)
  memory.copy(pastA + 8, pa + 8, <usize>sections * 40)
  memory.copy(pastB + 8, pb + 8, <usize>sections * 40)
}

/** A frame of both legs. */
@inline function bothAt(xa: usize, xb: usize, at: usize): v128 {
  return f64x2.promote_low_f32x4(v128.load32_lane(xb + at, v128.load32_zero(xa + at), 1))
}

@inline function putBoth(ya: usize, yb: usize, at: usize, v: v128): void {
  const both = f32x4.demote_f64x2_zero(v)
  v128.store32_lane(ya + at, both, 0)
  v128.store32_lane(yb + at, both, 1)
}

/** Both legs as pairs in float64. */
function widen(op: usize): void {
  const xa = input(op, 0), xb = input(op, 1)
  for (let at: usize = 0; at < 512; at += 16) {
    const a = v128.load(xa + at), b = v128.load(xb + at)
    const low = v128.shuffle<f32>(a, b, 0, 4, 1, 5), high = v128.shuffle<f32>(a, b, 2, 6, 3, 7)
    const to = scratch + (at << 2)
    v128.store(to, f64x2.promote_low_f32x4(low))
    v128.store(to, f64x2.promote_low_f32x4(v128.shuffle<f64>(low, low, 1, 0)), 16)
    v128.store(to, f64x2.promote_low_f32x4(high), 32)
    v128.store(to, f64x2.promote_low_f32x4(v128.shuffle<f64>(high, high, 1, 0)), 48)
  }
}

function narrow(op: usize): void {
  const ya = output(op, 0), yb = output(op, 1)
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

// ── coefficients that stand: each section is divided by its b0, and all of them are made up for at the end. Where one
//    is negative that would make −0 of silence ──

function standing(op: usize, pa: usize, pb: usize, sa: usize, sb: usize, sections: i32): void {
  if (sections == 3) cascade(3, true, op, pa, pb, sa, sb, 0)
  else if (sections == 2) cascade(2, true, op, pa, pb, sa, sb, 0)
  else if (sections == 1) cascade(1, true, op, pa, pb, sa, sb, 0)
  else {
    widen(op)
    let k = 0
    for (; k + 2 < sections; k += 3) cascade(3, false, op, pa, pb, sa, sb, k)
    if (k + 1 < sections) cascade(2, false, op, pa, pb, sa, sb, k)
    else if (k < sections) cascade(1, false, op, pa, pb, sa, sb, k)
    narrow(op)
  }
}

/** Five places a section: b1/b0, b2/b0, a1, a2, the product of all b0 so far. */
@inline function divided(place: usize, k: i32, pa: usize, pb: usize): void {
  const at = <usize>8 + <usize>k * 40
  const b0 = pair(pa, pb, at), one = f64x2.div(f64x2.splat(1), b0)
  keptVector(place, f64x2.mul(pair(pa, pb, at + 8), one))
  keptVector(place + 1, f64x2.mul(pair(pa, pb, at + 16), one))
  keptVector(place + 2, pair(pa, pb, at + 24))
  keptVector(place + 3, pair(pa, pb, at + 32))
  keptVector(place + 4, place ? f64x2.mul(again(place - 1), b0) : b0)
}

/**
 * So many sections in one loop: their recurrences overlap in the processor.
 * @param count 1 to 3, known where it is called, like the next
 * @param isWhole these are all: from the input to the output, without going by way of scratch
 */
@inline function cascade(
  count: i32, isWhole: bool, op: usize, pa: usize, pb: usize, sa: usize, sb: usize, k: i32
): void {
  const xa = input(op, 0), xb = input(op, 1), ya = output(op, 0), yb = output(op, 1)
  const s = <usize>k * 16, t = s + 16, u = s + 32
  divided(0, k, pa, pb)
  if (count > 1) divided(5, k + 1, pa, pb)
  if (count > 2) divided(10, k + 2, pa, pb)
  const b1 = again(0), b2 = again(1), a1 = again(2), a2 = again(3)
  const d1 = again(5), d2 = again(6), c1 = again(7), c2 = again(8)
  const f1 = again(10), f2 = again(11), e1 = again(12), e2 = again(13)
  const by = again(4), by2 = again(9), by3 = again(14), gain = count > 2 ? by3 : count > 1 ? by2 : by
  let s1 = f64x2.div(pair(sa, sb, s), by), s2 = f64x2.div(pair(sa, sb, s + 8), by), t1 = s1, t2 = s1, u1 = s1, u2 = s1
  if (count > 1) { t1 = f64x2.div(pair(sa, sb, t), by2); t2 = f64x2.div(pair(sa, sb, t + 8), by2) }
  if (count > 2) { u1 = f64x2.div(pair(sa, sb, u), by3); u2 = f64x2.div(pair(sa, sb, u + 8), by3) }
  for (let at: usize = 0; at < 512; at += 4) {
    const x = isWhole ? bothAt(xa, xb, at) : v128.load(scratch + (at << 2))
    let y = f64x2.add(x, s1)
    s1 = f64x2.sub(f64x2.add(f64x2.mul(b1, x), s2), f64x2.mul(a1, y))
    s2 = f64x2.sub(f64x2.mul(b2, x), f64x2.mul(a2, y))
    if (count > 1) {
      const z = f64x2.add(y, t1)
      t1 = f64x2.sub(f64x2.add(f64x2.mul(d1, y), t2), f64x2.mul(c1, z))
      t2 = f64x2.sub(f64x2.mul(d2, y), f64x2.mul(c2, z))
      y = z
    }
    if (count > 2) {
      const w = f64x2.add(y, u1)
      u1 = f64x2.sub(f64x2.add(f64x2.mul(f1, y), u2), f64x2.mul(e1, w))
      u2 = f64x2.sub(f64x2.mul(f2, y), f64x2.mul(e2, w))
      y = w
    }
    y = f64x2.mul(y, gain)
    if (isWhole) putBoth(ya, yb, at, y)
    else v128.store(scratch + (at << 2), y)
  }
  keep(sa, sb, s, f64x2.mul(s1, by))
  keep(sa, sb, s + 8, f64x2.mul(s2, by))
  if (count > 1) { keep(sa, sb, t, f64x2.mul(t1, by2)); keep(sa, sb, t + 8, f64x2.mul(t2, by2)) }
  if (count > 2) { keep(sa, sb, u, f64x2.mul(u1, by3)); keep(sa, sb, u + 8, f64x2.mul(u2, by3)) }
}

// ── coefficients on their way to others ──

/** A coefficient of both lanes, as a vector that stays. */
@inline function held(place: usize, pa: usize, pb: usize, at: usize): v128 {
  return kept(place, load<f64>(pa + at), load<f64>(pb + at))
}

/** A coefficient a frame further. */
@inline function on(now: v128, place: usize): v128 { return f64x2.add(now, again(place)) }

/** What passes everything on as it is stands in for sections that are not there. */
const NEUTRAL = memory.data<f64>([0, 1, 0, 0, 0, 0])
const NOTHING = memory.data(16)

/** Which of three sections move: any of these, or all. */
const FIRST = 1, SECOND = 2, THIRD = 4, ALL = 7

/** Three sections side by side, of which some are not there or move. `way`: from the first of them on. */
function threeOnTheirWay(
  way: u64, pa: usize, pb: usize, sa: usize, sb: usize, pastA: usize, pastB: usize, k: i32, there: i32
): void {
  const moving = <i32>(way & ALL), bell = ((way >> BELLS) & ALL) == <u64>moving
  if (moving == FIRST && bell) three(FIRST, true, pa, pb, sa, sb, pastA, pastB, k, there)
  else if (moving == FIRST) three(FIRST, false, pa, pb, sa, sb, pastA, pastB, k, there)
  else if (moving == SECOND && bell) three(SECOND, true, pa, pb, sa, sb, pastA, pastB, k, there)
  else if (moving == SECOND) three(SECOND, false, pa, pb, sa, sb, pastA, pastB, k, there)
  else if (moving == THIRD && bell) three(THIRD, true, pa, pb, sa, sb, pastA, pastB, k, there)
  else if (moving == THIRD) three(THIRD, false, pa, pb, sa, sb, pastA, pastB, k, there)
  else three(ALL, false, pa, pb, sa, sb, pastA, pastB, k, there)
}

/** What a coefficient of both lanes goes in a frame, as a vector that stays. */
@inline function step(place: usize, pa: usize, pb: usize, pastA: usize, pastB: usize, at: usize): v128 {
  const a = load<f64>(pa + at) - load<f64>(pastA + at), b = load<f64>(pb + at) - load<f64>(pastB + at)
  return kept(place, a / 128, b / 128)
}

/** The coefficient of the first frame: one on its way has gone a step. */
@inline function first(
  moves: i32, place: usize, pa: usize, pb: usize, pastA: usize, pastB: usize, at: usize
): v128 {
  return moves
    ? f64x2.add(step(place, pa, pb, pastA, pastB, at), pair(pastA, pastB, at))
    : held(place, pa, pb, at)
}

/** What the first state of a section becomes: b1·x − a1·y and the second. */
@inline function later(bell: bool, b1: v128, a1: v128, x: v128, y: v128, s2: v128): v128 {
  return bell
    ? f64x2.add(f64x2.mul(a1, f64x2.sub(x, y)), s2)
    : f64x2.sub(f64x2.add(f64x2.mul(b1, x), s2), f64x2.mul(a1, y))
}

/**
 * @param moving known where it is called, so that nothing asks in the loop; so is the next
 * @param bell is what moves a bell or a notch?
 */
@inline function three(
  moving: i32, bell: bool, pa: usize, pb: usize, sa: usize, sb: usize, pastA: usize, pastB: usize, k: i32, there: i32
): void {
  const p = <usize>8 + <usize>k * 40, s = <usize>k * 16
  const qa = there > 1 ? pa + p + 40 : NEUTRAL + 8, qb = there > 1 ? pb + p + 40 : NEUTRAL + 8
  const ra = there > 2 ? pa + p + 80 : NEUTRAL + 8, rb = there > 2 ? pb + p + 80 : NEUTRAL + 8
  const oa = there > 1 ? pastA + p + 40 : NEUTRAL + 8, ob = there > 1 ? pastB + p + 40 : NEUTRAL + 8
  const na = there > 2 ? pastA + p + 80 : NEUTRAL + 8, nb = there > 2 ? pastB + p + 80 : NEUTRAL + 8
  const ta = there > 1 ? sa + s + 16 : NOTHING, tb = there > 1 ? sb + s + 16 : NOTHING
  const ua = there > 2 ? sa + s + 32 : NOTHING, ub = there > 2 ? sb + s + 32 : NOTHING
  const moves = moving & FIRST, moves2 = moving & SECOND, moves3 = moving & THIRD
  let b0 = first(moves, 0, pa, pb, pastA, pastB, p), b1 = first(moves, 1, pa, pb, pastA, pastB, p + 8)
  let b2 = first(moves, 2, pa, pb, pastA, pastB, p + 16), a1 = first(moves, 3, pa, pb, pastA, pastB, p + 24)
  let a2 = first(moves, 4, pa, pb, pastA, pastB, p + 32)
  let d0 = first(moves2, 5, qa, qb, oa, ob, 0), d1 = first(moves2, 6, qa, qb, oa, ob, 8)
  let d2 = first(moves2, 7, qa, qb, oa, ob, 16), c1 = first(moves2, 8, qa, qb, oa, ob, 24)
  let c2 = first(moves2, 9, qa, qb, oa, ob, 32)
  let f0 = first(moves3, 10, ra, rb, na, nb, 0), f1 = first(moves3, 11, ra, rb, na, nb, 8)
  let f2 = first(moves3, 12, ra, rb, na, nb, 16), e1 = first(moves3, 13, ra, rb, na, nb, 24)
  let e2 = first(moves3, 14, ra, rb, na, nb, 32)
  let s1 = pair(sa, sb, s), s2 = pair(sa, sb, s + 8), t1 = pair(ta, tb, 0), t2 = pair(ta, tb, 8)
  let u1 = pair(ua, ub, 0), u2 = pair(ua, ub, 8)
  for (let at = scratch; at < scratch + 2048; at += 16) {
    const x = v128.load(at)
    const y = f64x2.add(f64x2.mul(b0, x), s1)
    s1 = later(bell && moves != 0, b1, a1, x, y, s2)
    s2 = f64x2.sub(f64x2.mul(b2, x), f64x2.mul(a2, y))
    const z = f64x2.add(f64x2.mul(d0, y), t1)
    t1 = later(bell && moves2 != 0, d1, c1, y, z, t2)
    t2 = f64x2.sub(f64x2.mul(d2, y), f64x2.mul(c2, z))
    const w = f64x2.add(f64x2.mul(f0, z), u1)
    u1 = later(bell && moves3 != 0, f1, e1, z, w, u2)
    u2 = f64x2.sub(f64x2.mul(f2, z), f64x2.mul(e2, w))
    v128.store(at, w)
    if (moves) {
      b0 = on(b0, 0); b2 = on(b2, 2); a1 = on(a1, 3); a2 = on(a2, 4)
      if (!bell) b1 = on(b1, 1)
    }
    if (moves2) {
      d0 = on(d0, 5); d2 = on(d2, 7); c1 = on(c1, 8); c2 = on(c2, 9)
      if (!bell) d1 = on(d1, 6)
    }
    if (moves3) {
      f0 = on(f0, 10); f2 = on(f2, 12); e1 = on(e1, 13); e2 = on(e2, 14)
      if (!bell) f1 = on(f1, 11)
    }
  }
  keep(sa, sb, s, s1)
  keep(sa, sb, s + 8, s2)
  keep(ta, tb, 0, t1)
  keep(ta, tb, 8, t2)
  keep(ua, ub, 0, u1)
  keep(ua, ub, 8, u2)
}
