// Gain curves of feed-forward compressors, two or four detectors at a time.
// Giannoulis, Massberg, Reiss, "Digital Dynamic Range Compressor Design", JAES 60 (2012):
// gain computer (4), smooth branching (17) on the level above the curve, everything in dB.
//   a lane's params: threshold dB, slope 1 − 1/ratio, knee dB, attack and release coefficients, make-up dB, averaging
//     coefficient (0: peak)
//   a lane's state: f64 smoothed reduction dB, f64 mean square, f64 deepest gain of the block, f64 make-up in force,
//     f64 started
//   input: magnitude · output: linear gain · op words after the pointers: params and state of every further lane
// Three passes, so that only the smoothing waits for itself: levels and curve four samples at a time, the smoothing in
// float64 with a detector a lane, gains four at a time.
import { TINY, again, kept, kept4, params, state, inputs, input, output } from './op'
import { log2x4, exp2x4 } from './elementary'
import { isQuiet, isZero } from './quiet'

const DB_PER_LOG2: f64 = 6.020599913279624 // 20 log10 2
const SCRATCH = memory.data(3 * 1024, 16)
/** One block of levels a detector of a pair, then the pairs. */
const LEVELS = SCRATCH, PAIRS = SCRATCH + 1024

@inline function pair(a: usize, b: usize, at: usize): v128 { return f64x2(load<f64>(a + at), load<f64>(b + at)) }

@inline function keep(a: usize, b: usize, at: usize, v: v128): void {
  store<f64>(a + at, f64x2.extract_lane(v, 0))
  store<f64>(b + at, f64x2.extract_lane(v, 1))
}

/** The first make-up is in force at once. */
@inline function begun(p: usize, s: usize): void {
  if (load<f64>(s, 32) == 0) { store<f64>(s, 1, 32); store<f64>(s, load<f64>(p, 40), 24) }
}

/** Squares of a block, or their running mean. */
function levels(x: usize, p: usize, s: usize, to: usize): void {
  const average = load<f64>(p, 48)
  if (average == 0) {
    for (let at: usize = 0; at < 512; at += 16) {
      const v = v128.load(x + at)
      v128.store(to + at, f32x4.mul(v, v))
    }
    const last = <f64>load<f32>(x + 508)
    store<f64>(s, last * last, 8)
    return
  }
  const fresh = 1 - average
  let square = load<f64>(s, 8)
  for (let at: usize = 0; at < 512; at += 4) {
    const v = <f64>load<f32>(x + at)
    square = average * square + fresh * (v * v)
    store<f32>(to + at, <f32>square)
  }
  store<f64>(s, square < 1e-30 ? 0 : square, 8)
}

/** dB above the curve: 0 below the knee, a parabola inside it, a straight line above. */
@inline function curve(
  at: usize, threshold: v128, slope: v128, halfKnee: v128, bend: v128, least: v128, half: v128, none: v128
): v128 {
  // A level is a square: its logarithm counts half. The exponent meets the threshold before the fraction is added.
  const over = f32x4.mul(log2x4(f32x4.pmax(v128.load(at), least), threshold), half)
  const inKnee = f32x4.pmax(f32x4.add(over, halfKnee), none)
  return v128.bitselect(f32x4.mul(slope, over), f32x4.mul(bend, f32x4.mul(inKnee, inKnee)), f32x4.gt(over, halfKnee))
}

/** The curves of two detectors, in pairs of both. */
function curves(xa: usize, xb: usize, pa: usize, pb: usize, sa: usize, sb: usize, to: usize): void {
  levels(xa, pa, sa, LEVELS)
  levels(xb, pb, sb, LEVELS + 512)
  const kneeA = max(load<f64>(pa, 16), 1e-6), kneeB = max(load<f64>(pb, 16), 1e-6)
  const thresholdA = kept4(0, <f32>(load<f64>(pa) * 2 / DB_PER_LOG2))
  const thresholdB = kept4(1, <f32>(load<f64>(pb) * 2 / DB_PER_LOG2))
  const slopeA = kept4(2, <f32>load<f64>(pa, 8)), slopeB = kept4(3, <f32>load<f64>(pb, 8))
  const halfA = kept4(4, <f32>(kneeA * 0.5)), halfB = kept4(5, <f32>(kneeB * 0.5))
  const bendA = kept4(6, <f32>(load<f64>(pa, 8) / (2 * kneeA))), bendB = kept4(7, <f32>(load<f64>(pb, 8) / (2 * kneeB)))
  const least = kept4(8, 1e-20), half = kept4(9, <f32>(0.5 * DB_PER_LOG2)), none = kept4(10, 0)
  for (let at: usize = 0; at < 512; at += 16) {
    const a = curve(LEVELS + at, thresholdA, slopeA, halfA, bendA, least, half, none)
    const b = curve(LEVELS + 512 + at, thresholdB, slopeB, halfB, bendB, least, half, none)
    v128.store(to + (at << 1), v128.shuffle<f32>(a, b, 0, 4, 1, 5))
    v128.store(to + (at << 1) + 16, v128.shuffle<f32>(a, b, 2, 6, 3, 7))
  }
}

/** What the smoothing of two detectors needs; the second pair of a loop lies ten places further. */
@inline function coefficients(pa: usize, pb: usize, sa: usize, sb: usize, place: usize): void {
  begun(pa, sa); begun(pb, sb)
  const attackA = load<f64>(pa, 24), attackB = load<f64>(pb, 24)
  const releaseA = load<f64>(pa, 32), releaseB = load<f64>(pb, 32)
  kept(place, attackA, attackB); kept(place + 1, releaseA, releaseB)
  kept(place + 2, 1 - attackA, 1 - attackB); kept(place + 3, 1 - releaseA, 1 - releaseB)
  const makeupA = load<f64>(sa, 24) * (1 / DB_PER_LOG2), makeupB = load<f64>(sb, 24) * (1 / DB_PER_LOG2)
  kept(place + 4, makeupA, makeupB)
  kept(place + 5, (load<f64>(pa, 40) * (1 / DB_PER_LOG2) - makeupA) * (1.0 / 128),
    (load<f64>(pb, 40) * (1 / DB_PER_LOG2) - makeupB) * (1.0 / 128))
}

function finish(pa: usize, pb: usize, sa: usize, sb: usize, held: v128): void {
  store<f64>(sa, load<f64>(pa, 40), 24)
  store<f64>(sb, load<f64>(pb, 40), 24)
  keep(sa, sb, 0, v128.and(held, f64x2.ge(f64x2.abs(held), f64x2.splat(TINY))))
}

/** Both ways are computed before it is known which one it is: the next sample waits less. */
@inline function smoothed(
  wanted: v128, held: v128, attack: v128, release: v128, attackFresh: v128, releaseFresh: v128
): v128 {
  const up = f64x2.add(f64x2.mul(attack, held), f64x2.mul(attackFresh, wanted))
  const down = f64x2.add(f64x2.mul(release, held), f64x2.mul(releaseFresh, wanted))
  return v128.bitselect(up, down, f64x2.gt(wanted, held))
}

/** From pairs of curves to gains, in dB over 6.02, in place. */
function smooth(pa: usize, pb: usize, sa: usize, sb: usize, pairs: usize): void {
  coefficients(pa, pb, sa, sb, 0)
  const perDb = kept(20, 1 / DB_PER_LOG2, 1 / DB_PER_LOG2)
  const attack = again(0), release = again(1), attackFresh = again(2), releaseFresh = again(3), step = again(5)
  let makeup = again(4), held = pair(sa, sb, 0)
  for (let at = pairs; at < pairs + 1024; at += 8) {
    held = smoothed(f64x2.promote_low_f32x4(v128.load64_zero(at)), held, attack, release, attackFresh, releaseFresh)
    makeup = f64x2.add(makeup, step)
    v128.store64_lane(at, f32x4.demote_f64x2_zero(f64x2.sub(makeup, f64x2.mul(held, perDb))), 0)
  }
  finish(pa, pb, sa, sb, held)
}

/** Two pairs at once: one waits while the other is computed. */
function smoothBoth(pa: usize, pb: usize, sa: usize, sb: usize, pc: usize, pd: usize, sc: usize, sd: usize): void {
  coefficients(pa, pb, sa, sb, 0)
  coefficients(pc, pd, sc, sd, 10)
  const perDb = kept(20, 1 / DB_PER_LOG2, 1 / DB_PER_LOG2)
  const attack = again(0), release = again(1), attackFresh = again(2), releaseFresh = again(3), step = again(5)
  const attack2 = again(10), release2 = again(11), attackFresh2 = again(12)
  const releaseFresh2 = again(13), step2 = again(15)
  let makeup = again(4), held = pair(sa, sb, 0), makeup2 = again(14), held2 = pair(sc, sd, 0)
  for (let at = PAIRS; at < PAIRS + 1024; at += 8) {
    held = smoothed(f64x2.promote_low_f32x4(v128.load64_zero(at)), held, attack, release, attackFresh, releaseFresh)
    held2 = smoothed(f64x2.promote_low_f32x4(v128.load64_zero(at, 1024)), held2, attack2, release2, attackFresh2,
      releaseFresh2)
    makeup = f64x2.add(makeup, step)
    makeup2 = f64x2.add(makeup2, step2)
    v128.store64_lane(at, f32x4.demote_f64x2_zero(f64x2.sub(makeup, f64x2.mul(held, perDb))), 0)
    v128.store64_lane(at, f32x4.demote_f64x2_zero(f64x2.sub(makeup2, f64x2.mul(held2, perDb))), 0, 1024)
  }
  finish(pa, pb, sa, sb, held)
  finish(pc, pd, sc, sd, held2)
}

function gains(from: usize, ya: usize, yb: usize, sa: usize, sb: usize): void {
  let deepest = f32x4.splat(<f32>1e9)
  for (let at: usize = 0; at < 512; at += 16) {
    const low = exp2x4(v128.load(from + (at << 1))), high = exp2x4(v128.load(from + (at << 1) + 16))
    deepest = f32x4.pmin(deepest, f32x4.pmin(low, high))
    v128.store(ya + at, v128.shuffle<f32>(low, high, 0, 2, 4, 6))
    v128.store(yb + at, v128.shuffle<f32>(low, high, 1, 3, 5, 7))
  }
  store<f64>(sa, <f64>min(f32x4.extract_lane(deepest, 0), f32x4.extract_lane(deepest, 2)), 16)
  store<f64>(sb, <f64>min(f32x4.extract_lane(deepest, 1), f32x4.extract_lane(deepest, 3)), 16)
}

/** No threshold lies so low that the least level is above it. */
const LOWEST_DB: f64 = -150

@inline function isAtRest(p: usize, s: usize): bool {
  return isZero(s, 16) && load<f64>(s, 32) != 0 && load<f64>(s, 24) == load<f64>(p, 40) && load<f64>(p) > LOWEST_DB
}

/** Where nothing is held, silence is far below the curve: the gain is what is made up, block after block. */
@inline function hold(out: usize, s: usize): void {
  const makeup = f64x2.splat(load<f64>(s, 24) * (1 / DB_PER_LOG2))
  const g = exp2x4(f32x4.splat(f32x4.extract_lane(f32x4.demote_f64x2_zero(makeup), 0)))
  for (let at: usize = 0; at < 512; at += 16) v128.store(out + at, g)
  store<f64>(s, <f64>f32x4.extract_lane(g, 0), 16)
}

/** Two lanes, beginning with `lane`: of silence, and with nothing held, they rest. */
function pairRests(op: usize, lane: i32, pa: usize, sa: usize, pb: usize, sb: usize): bool {
  if (!isQuiet(input(op, lane)) || !isQuiet(input(op, lane + 1))) return false
  // A lane without a partner computes the first one's work twice.
  if (!isAtRest(pa, sa) || (pb != pa && !isAtRest(pb, sb))) return false
  hold(output(op, lane), sa)
  if (pb != pa) hold(output(op, lane + 1), sb)
  return true
}

function twoLanes(op: usize, lane: i32, pa: usize, sa: usize, pb: usize, sb: usize): void {
  curves(input(op, lane), input(op, lane + 1), pa, pb, sa, sb, PAIRS)
  smooth(pa, pb, sa, sb, PAIRS)
  gains(PAIRS, output(op, lane), output(op, lane + 1), sa, sb)
}

export function compressor(op: usize): void {
  const pa = params(op), sa = state(op), lanes = inputs(op)
  const more = op + 20 + (<usize>lanes << 3)
  const pb = load<usize>(more), sb = load<usize>(more, 4)
  const rests = pairRests(op, 0, pa, sa, pb, sb)
  if (lanes == 2) {
    if (!rests) twoLanes(op, 0, pa, sa, pb, sb)
    return
  }
  const pc = load<usize>(more, 8), sc = load<usize>(more, 12), pd = load<usize>(more, 16), sd = load<usize>(more, 20)
  const otherRests = pairRests(op, 2, pc, sc, pd, sd)
  if (rests || otherRests) {
    if (!rests) twoLanes(op, 0, pa, sa, pb, sb)
    if (!otherRests) twoLanes(op, 2, pc, sc, pd, sd)
    return
  }
  curves(input(op, 0), input(op, 1), pa, pb, sa, sb, PAIRS)
  curves(input(op, 2), input(op, 3), pc, pd, sc, sd, PAIRS + 1024)
  smoothBoth(pa, pb, sa, sb, pc, pd, sc, sd)
  gains(PAIRS + 1024, output(op, 2), output(op, 3), sc, sd)
  gains(PAIRS, output(op, 0), output(op, 1), sa, sb)
}
