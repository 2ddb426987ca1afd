// Elementary functions from the four operations alone, so that every runtime agrees on the last bit: log2 and exp2 of
// four float32 lanes, e^x and the sine of a turn in float64.

// Polynomials for log2 and exp2 are those that err least in their range (Remez' exchange, found in float64); what they
// err by is far below a float32's last bit.

/** Constants, four lanes each; what stays in memory is not built anew in a loop, see op.ts. */
const C = memory.data<f32>([
  1, 1, 1, 1,
  2.88539008, 2.88539008, 2.88539008, 2.88539008,
  0.961798854, 0.961798854, 0.961798854, 0.961798854,
  0.576713834, 0.576713834, 0.576713834, 0.576713834,
  0.43174834, 0.43174834, 0.43174834, 0.43174834,
  12582912, 12582912, 12582912, 12582912,
  0.693147206, 0.693147206, 0.693147206, 0.693147206,
  0.240226469, 0.240226469, 0.240226469, 0.240226469,
  0.0555032878, 0.0555032878, 0.0555032878, 0.0555032878,
  0.00961848896, 0.00961848896, 0.00961848896, 0.00961848896,
  0.00133999312, 0.00133999312, 0.00133999312, 0.00133999312,
  0.000153458120, 0.000153458120, 0.000153458120, 0.000153458120
], 16)
/** Their places: 1 · log2, by powers of u · 1.5 · 2²³ · 2^f, by powers of f. */
const ONE: usize = 0, L0: usize = 16, L1: usize = 32, L2: usize = 48, L3: usize = 64
const WHOLE: usize = 80
const E1: usize = 96, E2: usize = 112, E3: usize = 128, E4: usize = 144, E5: usize = 160, E6: usize = 176
/** √½ as bits: keeps m in [√½, √2). */
const ROOT = memory.data<i32>([0x3F3504F3, 0x3F3504F3, 0x3F3504F3, 0x3F3504F3], 16)

/**
 * log2(x) − from, of positive normal numbers. Splits off the exponent; the rest is t·q(t²), t = (m−1)/(m+1),
 * |t| ≤ 0.172. What is taken off meets the exponent first: near it the result keeps all its digits.
 */
@inline export function log2x4(x: v128, from: v128): v128 {
  const shifted = i32x4.sub(x, v128.load(ROOT))
  const e = i32x4.shr_s(shifted, 23)
  const m = i32x4.sub(x, i32x4.shl(e, 23))
  const one = v128.load(C, ONE)
  const t = f32x4.div(f32x4.sub(m, one), f32x4.add(m, one))
  const u = f32x4.mul(t, t), u2 = f32x4.mul(u, u)
  const low = f32x4.add(v128.load(C, L0), f32x4.mul(u, v128.load(C, L1)))
  const high = f32x4.add(v128.load(C, L2), f32x4.mul(u, v128.load(C, L3)))
  return f32x4.add(f32x4.sub(f32x4.convert_i32x4_s(e), from), f32x4.mul(t, f32x4.add(low, f32x4.mul(u2, high))))
}

/**
 * 2^x for |x| < 126. A polynomial on |f| ≤ ½, the whole part goes into the exponent: what is added to 1.5 · 2²³ is
 * rounded, and stands in the last bits as an integer.
 */
@inline export function exp2x4(x: v128): v128 {
  const whole = v128.load(C, WHOLE)
  const s = f32x4.add(x, whole)
  const f = f32x4.sub(x, f32x4.sub(s, whole))
  const f2 = f32x4.mul(f, f)
  const p01 = f32x4.add(v128.load(C, ONE), f32x4.mul(f, v128.load(C, E1)))
  const p23 = f32x4.add(v128.load(C, E2), f32x4.mul(f, v128.load(C, E3)))
  const p45 = f32x4.add(v128.load(C, E4), f32x4.mul(f, v128.load(C, E5)))
  const p46 = f32x4.add(p45, f32x4.mul(f2, v128.load(C, E6)))
  const series = f32x4.add(f32x4.add(p01, f32x4.mul(f2, p23)), f32x4.mul(f32x4.mul(f2, f2), p46))
  return i32x4.add(series, i32x4.shl(s, 23))
}

/** sin(2πx) by its series about the nearest quarter, from the four operations alone. */
export function turn(x: f64): f64 {
  let p = x - floor(x)
  let sign: f64 = 1
  if (p >= 0.5) { p -= 0.5; sign = -1 }
  if (p > 0.25) p = 0.5 - p
  const v = p * 6.283185307179586
  const u = v * v
  return sign * v * (1 - u / 6 * (1 - u / 20 * (1 - u / 42 * (1 - u / 72 * (1 - u / 110 * (1 - u / 156))))))
}

/** 1/14!, 1/12!, … 1 and 1/15!, 1/13!, … 1: even and odd powers beside one another, so that neither waits. */
const EVEN = memory.data<f64>([
  1 / 87178291200.0, 1 / 479001600.0, 1 / 3628800.0, 1 / 40320.0, 1 / 720.0, 1 / 24.0, 1 / 2.0, 1
])
const UNEVEN = memory.data<f64>([
  1 / 1307674368000.0, 1 / 6227020800.0, 1 / 39916800.0, 1 / 362880.0, 1 / 5040.0, 1 / 120.0, 1 / 6.0, 1
])

/** e^x by halving to |x| ≤ ½ ln 2 and Taylor's series, from the four operations alone. */
export function exp(x: f64): f64 {
  const n = Math.round(x / 0.6931471805599453)
  const r = x - n * 0.6931471803691238 - n * 1.9082149292705877e-10
  const u = r * r
  let even: f64 = 0, uneven: f64 = 0
  for (let at: usize = 0; at < 64; at += 8) {
    even = even * u + load<f64>(EVEN + at)
    uneven = uneven * u + load<f64>(UNEVEN + at)
  }
  return (even + r * uneven) * reinterpret<f64>((<i64>n + 1023) << 52)
}
