// Elementary functions from the four operations alone, so that every runtime agrees on the last bit: log2 and exp2 of
// four float32 lanes, e^x and the sine of a turn in float64.

/** Constants of the series, four lanes each; what stays in memory is not built anew in a loop, see op.ts. */
const C = memory.data<f32>([
  1, 1, 1, 1,
  0.3333333432674408, 0.3333333432674408, 0.3333333432674408, 0.3333333432674408,
  0.20000000298023224, 0.20000000298023224, 0.20000000298023224, 0.20000000298023224,
  0.1428571492433548, 0.1428571492433548, 0.1428571492433548, 0.1428571492433548,
  0.1111111119389534, 0.1111111119389534, 0.1111111119389534, 0.1111111119389534,
  2.885390043258667, 2.885390043258667, 2.885390043258667, 2.885390043258667,
  12582912, 12582912, 12582912, 12582912,
  0.6931471824645996, 0.6931471824645996, 0.6931471824645996, 0.6931471824645996,
  0.5, 0.5, 0.5, 0.5,
  0.1666666716337204, 0.1666666716337204, 0.1666666716337204, 0.1666666716337204,
  0.0416666679084301, 0.0416666679084301, 0.0416666679084301, 0.0416666679084301,
  0.008333333767950535, 0.008333333767950535, 0.008333333767950535, 0.008333333767950535,
  0.0013888889225199819, 0.0013888889225199819, 0.0013888889225199819, 0.0013888889225199819,
  0.00019841270113829523, 0.00019841270113829523, 0.00019841270113829523, 0.00019841270113829523
], 16)
/** Their places: 1, 1/3, 1/5, 1/7, 1/9, 2/ln 2; 1.5 · 2²³, ln 2, 1/2!, 1/3!, 1/4!, 1/5!, 1/6!, 1/7!. */
const ONE: usize = 0, THIRD: usize = 16, FIFTH: usize = 32
const SEVENTH: usize = 48, NINTH: usize = 64, TWO_BY_LN2: usize = 80
const WHOLE: usize = 96, LN2: usize = 112
const F2: usize = 128, F3: usize = 144, F4: usize = 160, F5: usize = 176, F6: usize = 192, F7: usize = 208
/** √½ as bits: keeps m in [√½, √2). */
const ROOT = memory.data<i32>([0x3F3504F3, 0x3F3504F3, 0x3F3504F3, 0x3F3504F3], 16)

/**
 * log2(x) − from, of positive normal numbers. Splits off the exponent; the rest is atanh's series in t = (m−1)/(m+1),
 * |t| ≤ 0.172. What is taken off meets the exponent first: near it the result keeps all its digits.
 */
@inline export function log2x4(x: v128, from: v128): v128 {
  const shifted = i32x4.sub(x, v128.load(ROOT))
  const e = i32x4.shr_s(shifted, 23)
  const m = i32x4.sub(x, i32x4.shl(e, 23))
  const one = v128.load(C, ONE)
  const t = f32x4.div(f32x4.sub(m, one), f32x4.add(m, one))
  const u = f32x4.mul(t, t), u2 = f32x4.mul(u, u)
  const low = f32x4.add(one, f32x4.mul(u, v128.load(C, THIRD)))
  const high = f32x4.add(v128.load(C, FIFTH), f32x4.mul(u, v128.load(C, SEVENTH)))
  const series = f32x4.add(low, f32x4.mul(u2, f32x4.add(high, f32x4.mul(u2, v128.load(C, NINTH)))))
  return f32x4.add(f32x4.sub(f32x4.convert_i32x4_s(e), from), f32x4.mul(f32x4.mul(t, v128.load(C, TWO_BY_LN2)), series))
}

/**
 * 2^x for |x| < 126. Taylor's series of e^(f ln 2) on |f| ≤ ½, the whole part goes into the exponent: what is added to
 * 1.5 · 2²³ is rounded, and stands in the last bits as an integer.
 */
@inline export function exp2x4(x: v128): v128 {
  const whole = v128.load(C, WHOLE)
  const s = f32x4.add(x, whole), n = f32x4.sub(s, whole)
  const f = f32x4.mul(f32x4.sub(x, n), v128.load(C, LN2))
  const f2 = f32x4.mul(f, f), f4 = f32x4.mul(f2, f2)
  const p01 = f32x4.add(v128.load(C, ONE), f)
  const p23 = f32x4.add(v128.load(C, F2), f32x4.mul(f, v128.load(C, F3)))
  const p45 = f32x4.add(v128.load(C, F4), f32x4.mul(f, v128.load(C, F5)))
  const p67 = f32x4.add(v128.load(C, F6), f32x4.mul(f, v128.load(C, F7)))
  const series = f32x4.add(f32x4.add(p01, f32x4.mul(f2, p23)), f32x4.mul(f4, f32x4.add(p45, f32x4.mul(f2, p67))))
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
