// Gain curves of feed-forward compressors, two or four detectors at a time.
// Giannoulis, Massberg, Reiss, "Digital Dynamic Range Compressor Design", JAES 60 (2012):
// gain computer (4), smooth branching (17) on the level above the curve. Reductions are powers of two, 1 being 6.02 dB.
//   a lane's params: threshold dB, slope 1 − 1/ratio, knee dB, attack and release coefficients, make-up dB, averaging
//     coefficient (0: peak)
//   a lane's state: f64 smoothed reduction, f64 mean square, f64 deepest gain of the block, f64 make-up dB in force,
//     f64 started
//   input: magnitude · output: linear gain · op words after the pointers: params and state of every further lane
// Three passes, so that only the smoothing waits for itself: curves, eight frames of two detectors at a time; the
// smoothing in float64, a detector a lane; gains, four frames of four. Where there are two, the last passes compute
// both twice.
import { again, flush, kept, kept4, params, state, inputs, input, output } from './op'
import { log2x4, exp2x4 } from './elementary'
import { isQuiet, isZero } from './quiet'

const DB_PER_LOG2: f64 = 6.020599913279624 // 20 log10 2
/** One block of levels a detector of a pair, the curves of two pairs, frames of four. */
const LEVELS = memory.data(1024, 16), PAIRS = memory.data(2048, 16), FRAMES = memory.data(2048, 16)

@inline function further(op: usize, lane: i32): usize { return op + 12 + (<usize>(inputs(op) + lane) << 3) }
@inline function paramsOf(op: usize, lane: i32): usize { return lane ? load<usize>(further(op, lane)) : params(op) }
@inline function stateOf(op: usize, lane: i32): usize { return lane ? load<usize>(further(op, lane), 4) : state(op) }

// ── curves ──

/** Running means of the squares of a block; the squares themselves where nothing is averaged. */
function means(x: usize, p: usize, s: usize, to: usize): void {
  const average = load<f64>(p, 48), fresh = 1 - average
  let square = load<f64>(s, 8)
  for (let at: usize = 0; at < 512; at += 4) {
    const v = <f64>load<f32>(x + at)
    square = average * square + fresh * (v * v)
    store<f32>(to + at, <f32>square)
  }
  store<f64>(s, square < 1e-30 ? 0 : square, 8)
}

/** A mean that is asked for later begins with the last square. */
function remember(x: usize, s: usize): void {
  const last = <f64>load<f32>(x + 508)
  store<f64>(s, last * last, 8)
}

/**
 * Reduction at a square. Over the foot of the knee everything counts, less what lies in the knee, k of its width w, of
 * which k/2w counts: a parabola that goes over into the straight line. Levels are powers of two of the square here; the
 * exponent meets the foot before the fraction is added.
 */
@inline function curve(
  square: v128, foot: v128, knee: v128, half: v128, slope: v128, one: v128, least: v128, none: v128
): v128 {
  const over = f32x4.pmax(log2x4(f32x4.pmax(square, least), foot), none)
  const inside = f32x4.pmin(over, knee)
  return f32x4.mul(slope, f32x4.add(over, f32x4.mul(inside, f32x4.sub(f32x4.mul(inside, half), one))))
}

/**
 * Two detectors at once, and eight frames: one chain alone is so long that the processor would stand still.
 * @param areMagnitudes known where it is called: what comes in is not squared yet
 */
@inline function reductions(areMagnitudes: bool, xa: usize, xb: usize, pa: usize, pb: usize, to: usize): void {
  const wideA = max(load<f64>(pa, 16), 1e-6) * 2 / DB_PER_LOG2, wideB = max(load<f64>(pb, 16), 1e-6) * 2 / DB_PER_LOG2
  const footA = kept4(0, <f32>(load<f64>(pa) * 2 / DB_PER_LOG2 - wideA / 2))
  const footB = kept4(1, <f32>(load<f64>(pb) * 2 / DB_PER_LOG2 - wideB / 2))
  const kneeA = kept4(2, <f32>wideA), kneeB = kept4(3, <f32>wideB)
  const halfA = kept4(4, <f32>(0.5 / wideA)), halfB = kept4(5, <f32>(0.5 / wideB))
  const slopeA = kept4(6, <f32>(load<f64>(pa, 8) / 2)), slopeB = kept4(7, <f32>(load<f64>(pb, 8) / 2))
  const least = kept4(8, 1e-20), none = kept4(9, 0), one = kept4(10, 1)
  for (let at: usize = 0; at < 512; at += 32) {
    const x = v128.load(xa + at), z = v128.load(xb + at), x2 = v128.load(xa + at, 16), z2 = v128.load(xb + at, 16)
    const a = curve(areMagnitudes ? f32x4.mul(x, x) : x, footA, kneeA, halfA, slopeA, one, least, none)
    const b = curve(areMagnitudes ? f32x4.mul(z, z) : z, footB, kneeB, halfB, slopeB, one, least, none)
    const c = curve(areMagnitudes ? f32x4.mul(x2, x2) : x2, footA, kneeA, halfA, slopeA, one, least, none)
    const d = curve(areMagnitudes ? f32x4.mul(z2, z2) : z2, footB, kneeB, halfB, slopeB, one, least, none)
    v128.store(to + (at << 1), v128.shuffle<f32>(a, b, 0, 4, 1, 5))
    v128.store(to + (at << 1) + 16, v128.shuffle<f32>(a, b, 2, 6, 3, 7))
    v128.store(to + (at << 1) + 32, v128.shuffle<f32>(c, d, 0, 4, 1, 5))
    v128.store(to + (at << 1) + 48, v128.shuffle<f32>(c, d, 2, 6, 3, 7))
  }
}

/** The curves of a lane and the next, in pairs of both. */
function curves(op: usize, lane: i32, to: usize): void {
  const xa = input(op, lane), xb = input(op, lane + 1)
  const pa = paramsOf(op, lane), pb = paramsOf(op, lane + 1), sa = stateOf(op, lane), sb = stateOf(op, lane + 1)
  if (load<f64>(pa, 48) == 0 && load<f64>(pb, 48) == 0) {
    reductions(true, xa, xb, pa, pb, to)
    remember(xa, sa)
    remember(xb, sb)
  } else {
    means(xa, pa, sa, LEVELS)
    means(xb, pb, sb, LEVELS + 512)
    reductions(false, LEVELS, LEVELS + 512, pa, pb, to)
  }
}

// ── smoothing and gains ──

/** Does a detector take hold at least as fast as it lets go? */
@inline function isQuick(p: usize): bool { return load<f64>(p, 24) <= load<f64>(p, 32) }

/** What the smoothing of two detectors needs; the other two have theirs five places further. */
@inline function coefficients(pa: usize, pb: usize, place: usize): void {
  const attackA = load<f64>(pa, 24), attackB = load<f64>(pb, 24)
  const releaseA = load<f64>(pa, 32), releaseB = load<f64>(pb, 32)
  kept(place, attackA, attackB)
  kept(place + 1, 1 - attackA, 1 - attackB)
  kept(place + 2, releaseA, releaseB)
  kept(place + 3, 1 - releaseA, 1 - releaseB)
  kept(place + 4, f64(!isQuick(pa)), f64(!isQuick(pb)))
}

/**
 * Attack where more is wanted than is held, release where less is. The right one of both is the greater where the
 * attack is quick, the lesser where it is not: so the next frame waits for no comparison.
 * @param at where two wanted reductions lie
 * @param areQuick known where it is called: is every attack quick?
 */
@inline function smoothed(
  areQuick: bool, at: usize, held: v128, attack: v128, attackFresh: v128, release: v128, releaseFresh: v128, slow: v128
): v128 {
  const wanted = f64x2.promote_low_f32x4(v128.load64_zero(at))
  const up = f64x2.add(f64x2.mul(attack, held), f64x2.mul(attackFresh, wanted))
  const down = f64x2.add(f64x2.mul(release, held), f64x2.mul(releaseFresh, wanted))
  if (areQuick) return f64x2.pmax(up, down)
  return v128.bitselect(f64x2.pmin(up, down), f64x2.pmax(up, down), f64x2.ne(slow, f64x2.splat(0)))
}

/** What is made up, and what that goes in a frame: four lanes each, in powers of two. */
const MAKE_UP = memory.data(32, 16)

/** The first make-up is in force at once. */
function makeUp(p: usize, s: usize, lane: usize): void {
  const target = load<f64>(p, 40)
  if (load<f64>(s, 32) == 0) { store<f64>(s, 1, 32); store<f64>(s, target, 24) }
  const now = load<f64>(s, 24)
  store<f32>(MAKE_UP + (lane << 2), <f32>(now / DB_PER_LOG2))
  store<f32>(MAKE_UP + (lane << 2), <f32>((target - now) / DB_PER_LOG2 / 128), 16)
}

function finish(p: usize, s: usize, deepest: f32): void {
  store<f64>(s, <f64>deepest, 16)
  store<f64>(s, load<f64>(p, 40), 24)
}

/** What is held, frame by frame, in FRAMES. `first` and `second`: the first lanes of two pairs. */
@inline function smoothAll(areQuick: bool, op: usize, first: i32, second: i32, from: usize, from2: usize): void {
  const sa = stateOf(op, first), sb = stateOf(op, first + 1), sc = stateOf(op, second), sd = stateOf(op, second + 1)
  const a0 = again(0), a1 = again(1), r0 = again(2), r1 = again(3), q = again(4)
  const b0 = again(5), b1 = again(6), t0 = again(7), t1 = again(8), u = again(9)
  let h = f64x2(load<f64>(sa), load<f64>(sb)), g = f64x2(load<f64>(sc), load<f64>(sd))
  for (let at: usize = 0; at < 1024; at += 8) {
    h = smoothed(areQuick, from + at, h, a0, a1, r0, r1, q)
    g = smoothed(areQuick, from2 + at, g, b0, b1, t0, t1, u)
    v128.store(FRAMES + (at << 1), v128.shuffle<f64>(f32x4.demote_f64x2_zero(h), f32x4.demote_f64x2_zero(g), 0, 2))
  }
  store<f64>(sa, flush(f64x2.extract_lane(h, 0)))
  store<f64>(sb, flush(f64x2.extract_lane(h, 1)))
  store<f64>(sc, flush(f64x2.extract_lane(g, 0)))
  store<f64>(sd, flush(f64x2.extract_lane(g, 1)))
}

function gains(op: usize, first: i32, second: i32): void {
  const ya = output(op, first), yb = output(op, first + 1), yc = output(op, second), yd = output(op, second + 1)
  const begin = v128.load(MAKE_UP), step = v128.load(MAKE_UP, 16), turn = kept4(0, 4)
  let deepest = f32x4.splat(<f32>1e9), done = kept4(1, 0)
  for (let at: usize = 0; at < 512; at += 16) {
    const from = FRAMES + (at << 2)
    let makeup = f32x4.add(begin, f32x4.mul(step, done))
    done = f32x4.add(done, turn)
    const c = exp2x4(f32x4.sub((makeup = f32x4.add(makeup, step)), v128.load(from)))
    const d = exp2x4(f32x4.sub((makeup = f32x4.add(makeup, step)), v128.load(from, 16)))
    const e = exp2x4(f32x4.sub((makeup = f32x4.add(makeup, step)), v128.load(from, 32)))
    const f = exp2x4(f32x4.sub((makeup = f32x4.add(makeup, step)), v128.load(from, 48)))
    deepest = f32x4.pmin(deepest, f32x4.pmin(f32x4.pmin(c, d), f32x4.pmin(e, f)))
    const k = v128.shuffle<f32>(c, d, 0, 4, 1, 5), l = v128.shuffle<f32>(c, d, 2, 6, 3, 7)
    const m = v128.shuffle<f32>(e, f, 0, 4, 1, 5), n = v128.shuffle<f32>(e, f, 2, 6, 3, 7)
    v128.store(ya + at, v128.shuffle<f64>(k, m, 0, 2))
    v128.store(yb + at, v128.shuffle<f64>(k, m, 1, 3))
    v128.store(yc + at, v128.shuffle<f64>(l, n, 0, 2))
    v128.store(yd + at, v128.shuffle<f64>(l, n, 1, 3))
  }
  finish(paramsOf(op, first), stateOf(op, first), f32x4.extract_lane(deepest, 0))
  finish(paramsOf(op, first + 1), stateOf(op, first + 1), f32x4.extract_lane(deepest, 1))
  finish(paramsOf(op, second), stateOf(op, second), f32x4.extract_lane(deepest, 2))
  finish(paramsOf(op, second + 1), stateOf(op, second + 1), f32x4.extract_lane(deepest, 3))
}

function smooth(op: usize, first: i32, second: i32, from: usize, from2: usize): void {
  const pa = paramsOf(op, first), pb = paramsOf(op, first + 1)
  const pc = paramsOf(op, second), pd = paramsOf(op, second + 1)
  coefficients(pa, pb, 0)
  coefficients(pc, pd, 5)
  makeUp(pa, stateOf(op, first), 0)
  makeUp(pb, stateOf(op, first + 1), 1)
  makeUp(pc, stateOf(op, second), 2)
  makeUp(pd, stateOf(op, second + 1), 3)
  if (isQuick(pa) && isQuick(pb) && isQuick(pc) && isQuick(pd)) smoothAll(true, op, first, second, from, from2)
  else smoothAll(false, op, first, second, from, from2)
  gains(op, first, second)
}

// ── rest ──

/** No threshold lies so low that the least level is above it. */
const LOWEST_DB: f64 = -150

@inline function isAtRest(p: usize, s: usize): bool {
  return isZero(s, 16) && load<f64>(s, 32) != 0 && load<f64>(s, 24) == load<f64>(p, 40) && load<f64>(p) > LOWEST_DB
}

/** Where nothing is held, silence is far below the curve: the gain is what is made up, block after block. */
@inline function hold(out: usize, s: usize): void {
  const g = exp2x4(f32x4.splat(<f32>(load<f64>(s, 24) / DB_PER_LOG2)))
  for (let at: usize = 0; at < 512; at += 16) v128.store(out + at, g)
  store<f64>(s, <f64>f32x4.extract_lane(g, 0), 16)
}

/** A lane and the next: of silence, and with nothing held, they rest. */
function pairRests(op: usize, lane: i32): bool {
  if (!isQuiet(input(op, lane)) || !isQuiet(input(op, lane + 1))) return false
  const pa = paramsOf(op, lane), pb = paramsOf(op, lane + 1), sa = stateOf(op, lane), sb = stateOf(op, lane + 1)
  // A lane without a partner computes the first one's work twice.
  if (!isAtRest(pa, sa) || (pb != pa && !isAtRest(pb, sb))) return false
  hold(output(op, lane), sa)
  if (pb != pa) hold(output(op, lane + 1), sb)
  return true
}

export function compressor(op: usize): void {
  const first = !pairRests(op, 0), second = inputs(op) == 4 && !pairRests(op, 2)
  if (first) curves(op, 0, PAIRS)
  if (second) curves(op, 2, PAIRS + 1024)
  if (first && second) smooth(op, 0, 2, PAIRS, PAIRS + 1024)
  else if (first) smooth(op, 0, 0, PAIRS, PAIRS)
  else if (second) smooth(op, 2, 2, PAIRS + 1024, PAIRS + 1024)
}
