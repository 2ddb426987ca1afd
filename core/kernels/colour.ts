// A curve at twelve times the rate, and a level that swings.
import { BLOCK, TINY, flush32x4, kept4, params, param, state, input, output } from './op'
import { clock } from './clock'
import { turn } from './elementary'
import { hush, isQuiet, isZero } from './quiet'

/** Taps in float32: the way up by tap, its twelve phases beside one another; the way down as it is. */
const UP = memory.data(32 * 12 * 4, 16)
const DOWN = memory.data(384 * 4, 16)
/** Output gains of a block. */
const LEVELS = memory.data(512, 16)

/** Are they there? They are the same for every saturation. It lies beside them: memory may be copied over another's. */
const BROUGHT = memory.data(4)
function bringTaps(taps: usize): void {
  if (load<i32>(BROUGHT)) return
  for (let k: usize = 0; k < 32; k++)
    for (let phase: usize = 0; phase < 12; phase++)
      store<f32>(UP + ((k * 12 + phase) << 2), <f32>(12 * load<f64>(taps + ((12 * (31 - k) + phase) << 3))))
  for (let k: usize = 0; k < 384; k++) store<f32>(DOWN + (k << 2), <f32>load<f64>(taps + ((384 + k) << 3)))
  store<i32>(BROUGHT, 1)
}

/** Without bias the curve goes through 0: with nothing in its filters, and no setting on its way, 0 gives +0. */
@inline function saturateRests(op: usize): bool {
  if (!isQuiet(input(op, 0))) return false
  const line = state(op), shaped = line + 640, past = shaped + 7680
  const isStill = load<f64>(past, 24) != 0 && memory.compare(past, params(op), 24) == 0 && param(op, 1) == 0
  if (!isStill || !isZero(line, 128) || !isZero(shaped, 1536) || !isZero(past + 32, 16)) return false
  hush(output(op, 0))
  return true
}

/**
 * y = (s(drive·x + bias) − s(bias)) / drive, s(v) = v / √(1 + v²), at twelve times the rate. Between two samples a and
 * b the curve is averaged, (S(b) − S(a)) / (b − a) with S(v) = √(1 + v²), which is (a + b) / (S(a) + S(b)): what would
 * fold back is lower (J. D. Parker, V. Zavalishin, E. Le Bivic, "Reducing the aliasing of nonlinear waveshaping using
 * continuous-time convolution", DAFx 2016). The half sample that this is late is made up for by the even filter down.
 * params: drive, bias, output gain, 384 taps up (gain 1 at 0 Hz), 384 taps down · late by 32 samples
 * state: 32 f32 of input history + 128, then 384 f32 of shaped history + 1536,
 *        then f64 drive, bias, output gain in force, started, then f32 the last a and S(a) in lanes 3 of two vectors
 */
export function saturate(op: usize): void {
  if (saturateRests(op)) return
  const line = state(op), shaped = line + 640, past = shaped + 7680
  bringTaps(params(op) + 24)
  memory.copy(line + 128, input(op, 0), 512)
  up(line, shaped + 1536)
  bendAll(op, past, shaped + 1536)
  down(shaped, output(op, 0))
  memory.copy(line, line + 512, 128)
  memory.copy(shaped, shaped + 6144, 1536)
  memory.copy(past, params(op), 24)
}

/** Twelve values a frame. Two frames at a time share the loads of the taps. */
function up(line: usize, to: usize): void {
  for (let i: usize = 0; i < 128; i += 2) {
    // The oldest of the 32 samples that reach around the first frame.
    const oldest = line + ((i + 1) << 2), at = to + i * 48
    let a = f32x4.splat(0), b = a, c = a, d = a, e = a, f = a
    for (let k: usize = 0; k < 32; k++) {
      const x = v128.load32_splat(oldest + (k << 2)), y = v128.load32_splat(oldest + (k << 2) + 4)
      const h = UP + k * 48
      const h0 = v128.load(h), h1 = v128.load(h, 16), h2 = v128.load(h, 32)
      a = f32x4.add(a, f32x4.mul(x, h0))
      b = f32x4.add(b, f32x4.mul(x, h1))
      c = f32x4.add(c, f32x4.mul(x, h2))
      d = f32x4.add(d, f32x4.mul(y, h0))
      e = f32x4.add(e, f32x4.mul(y, h1))
      f = f32x4.add(f, f32x4.mul(y, h2))
    }
    v128.store(at, a); v128.store(at, b, 16); v128.store(at, c, 32)
    v128.store(at, d, 48); v128.store(at, e, 64); v128.store(at, f, 80)
  }
}

/** Bends them in place. */
function bendAll(op: usize, past: usize, values: usize): void {
  const drive = param(op, 0), bias = param(op, 1), gain = param(op, 2)
  if (load<f64>(past, 24) == 0) {
    memory.copy(past, params(op), 24)
    store<f64>(past, 1, 24)
    v128.store(past, f32x4.splat(<f32>bias), 32)
    v128.store(past, f32x4.splat(<f32>Math.sqrt(1 + bias * bias)), 48)
  }
  // Where each comes from, and what it has to go.
  const drive0 = load<f64>(past), bias0 = load<f64>(past, 8), gain0 = load<f64>(past, 16)
  const driveBy = drive - drive0, biasBy = bias - bias0, gainBy = gain - gain0
  const moves = driveBy != 0 || biasBy != 0 || gainBy != 0, isBiased = bias0 != 0 || bias != 0, one = kept4(0, 1)
  let d = kept4(1, <f32>drive), b = kept4(2, <f32>bias), rest = kept4(3, <f32>(bias / Math.sqrt(1 + bias * bias)))
  let level = <f32>(gain / drive)
  let before = v128.load(past, 32), root = v128.load(past, 48)
  for (let i: usize = 0; i < 128; i++) {
    if (moves) {
      const share = <f64>(i + 1) / 128, driveNow = drive0 + driveBy * share
      d = f32x4.splat(<f32>driveNow)
      level = <f32>((gain0 + gainBy * share) / driveNow)
      if (isBiased) {
        const biasNow = bias0 + biasBy * share
        b = f32x4.splat(<f32>biasNow)
        rest = f32x4.splat(<f32>(biasNow / Math.sqrt(1 + biasNow * biasNow)))
      }
    }
    for (const end = values + 48; values < end; values += 16) {
      const w = f32x4.add(f32x4.mul(d, v128.load(values)), b)
      const r = f32x4.sqrt(f32x4.add(one, f32x4.mul(w, w)))
      const sum = f32x4.add(w, v128.shuffle<f32>(before, w, 3, 4, 5, 6))
      const roots = f32x4.add(r, v128.shuffle<f32>(root, r, 3, 4, 5, 6))
      before = w
      root = r
      v128.store(values, f32x4.sub(f32x4.div(sum, roots), rest))
    }
    store<f32>(LEVELS + (i << 2), level)
  }
  v128.store(past, before, 32)
  v128.store(past, root, 48)
}

/** One value of twelve, the first of a frame's. Four frames at a time share the loads of the taps. */
function down(shaped: usize, out: usize): void {
  const tiny = kept4(0, <f32>TINY)
  for (let i: usize = 0; i < 128; i += 4) {
    const from = shaped + ((i * 12 + 1) << 2)
    let a = f32x4.splat(0), b = a, c = a, d = a
    for (let k: usize = 0; k < 1536; k += 16) {
      const h = v128.load(DOWN + k), x = from + k
      a = f32x4.add(a, f32x4.mul(v128.load(x), h))
      b = f32x4.add(b, f32x4.mul(v128.load(x, 48), h))
      c = f32x4.add(c, f32x4.mul(v128.load(x, 96), h))
      d = f32x4.add(d, f32x4.mul(v128.load(x, 144), h))
    }
    v128.store(out + (i << 2), flush32x4(f32x4.mul(sums(a, b, c, d), v128.load(LEVELS + (i << 2))), tiny))
  }
}

/** The sums of the lanes of four vectors. */
@inline function sums(a: v128, b: v128, c: v128, d: v128): v128 {
  const ab = f32x4.add(v128.shuffle<f32>(a, b, 0, 4, 2, 6), v128.shuffle<f32>(a, b, 1, 5, 3, 7))
  const cd = f32x4.add(v128.shuffle<f32>(c, d, 0, 4, 2, 6), v128.shuffle<f32>(c, d, 1, 5, 3, 7))
  return f32x4.add(v128.shuffle<f32>(ab, cd, 0, 1, 4, 5), v128.shuffle<f32>(ab, cd, 2, 3, 6, 7))
}

/** What is never louder than 1 nor turned makes +0 of 0; its phase is the frame's own. */
@inline function swingRests(op: usize): bool {
  if (!isQuiet(input(op, 0))) return false
  const s = state(op)
  const isStill = load<f64>(s) != 0 && load<f64>(s, 8) == param(op, 0) && load<f64>(s, 16) == param(op, 1) &&
    load<f64>(s, 24) == param(op, 3)
  if (!isStill || param(op, 1) > 1) return false
  hush(output(op, 0))
  return true
}

/**
 * A level that swings between 1 and 1 − depth. Its phase counts from frame 0 of the source.
 * Another speed goes on from the phase that is reached.
 * params: Hz / rate, depth, 0 sine or 1 triangle, phase in turns, latency of the signal
 * state: f64 started, step, depth and phase in force, turns by which earlier speeds are ahead
 */
export function swing(op: usize): void {
  if (swingRests(op)) return
  const x = input(op, 0), out = output(op, 0)
  const step = param(op, 0), depth = param(op, 1), triangle = param(op, 2) != 0, phase = param(op, 3)
  const first = <f64>(clock.frame - <i64>param(op, 4))
  const s = state(op)
  if (load<f64>(s) == 0) {
    store<f64>(s, 1); store<f64>(s, step, 8); store<f64>(s, depth, 16); store<f64>(s, phase, 24)
  }
  const ahead = load<f64>(s, 32) + (load<f64>(s, 8) - step) * first
  const depthNow = load<f64>(s, 16), phaseNow = load<f64>(s, 24)
  for (let i = 0; i < BLOCK; i++) {
    const share = <f64>(i + 1) / 128
    const deep = depthNow + (depth - depthNow) * share
    const at = (first + i) * step + ahead + phaseNow + (phase - phaseNow) * share
    const p = at - floor(at)
    const down = triangle ? (p < 0.5 ? 2 * p : 2 - 2 * p) : 0.5 - 0.5 * turn(p + 0.25)
    store<f32>(out + (<usize>i << 2), <f32>(<f64>load<f32>(x + (<usize>i << 2)) * (1 - deep * down)))
  }
  store<f64>(s, step, 8)
  store<f64>(s, depth, 16)
  store<f64>(s, phase, 24)
  store<f64>(s, ahead, 32)
}
