// Elementary functions from the four operations alone, so that every runtime agrees on the last bit: log2 and exp2 of four
// float32 lanes, e^x and the sine of a turn in float64.

/**
 * log2(x) − from, of positive normal numbers. Splits off the exponent; the rest is atanh's series in t = (m−1)/(m+1),
 * |t| ≤ 0.172. What is taken off meets the exponent first: near it the result keeps all its digits.
 */
@inline export function log2x4(x: v128, from: v128): v128 {
  const shifted = i32x4.sub(x, i32x4.splat(0x3F3504F3)) // √½: keeps m in [√½, √2)
  const e = i32x4.shr_s(shifted, 23)
  const m = i32x4.sub(x, i32x4.shl(e, 23))
  const t = f32x4.div(f32x4.sub(m, f32x4.splat(1)), f32x4.add(m, f32x4.splat(1)))
  const u = f32x4.mul(t, t), u2 = f32x4.mul(u, u)
  const low = f32x4.add(f32x4.splat(1), f32x4.mul(u, f32x4.splat(<f32>(1.0 / 3))))
  const high = f32x4.add(f32x4.splat(<f32>(1.0 / 5)), f32x4.mul(u, f32x4.splat(<f32>(1.0 / 7))))
  const series = f32x4.add(low, f32x4.mul(u2, f32x4.add(high, f32x4.mul(u2, f32x4.splat(<f32>(1.0 / 9))))))
  return f32x4.add(f32x4.sub(f32x4.convert_i32x4_s(e), from), f32x4.mul(f32x4.mul(t, f32x4.splat(<f32>2.8853900817779268)), series)) // 2 / ln 2
}

/** 2^x for |x| < 126. Taylor's series of e^(f ln 2) on |f| ≤ ½, the whole part goes into the exponent. */
@inline export function exp2x4(x: v128): v128 {
  const n = f32x4.nearest(x)
  const f = f32x4.mul(f32x4.sub(x, n), f32x4.splat(<f32>0.6931471805599453))
  const f2 = f32x4.mul(f, f), f4 = f32x4.mul(f2, f2)
  const p01 = f32x4.add(f32x4.splat(1), f)
  const p23 = f32x4.add(f32x4.splat(0.5), f32x4.mul(f, f32x4.splat(<f32>(1.0 / 6))))
  const p45 = f32x4.add(f32x4.splat(<f32>(1.0 / 24)), f32x4.mul(f, f32x4.splat(<f32>(1.0 / 120))))
  const p67 = f32x4.add(f32x4.splat(<f32>(1.0 / 720)), f32x4.mul(f, f32x4.splat(<f32>(1.0 / 5040))))
  const series = f32x4.add(f32x4.add(p01, f32x4.mul(f2, p23)), f32x4.mul(f4, f32x4.add(p45, f32x4.mul(f2, p67))))
  return i32x4.add(series, i32x4.shl(i32x4.trunc_sat_f32x4_s(n), 23))
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

/** e^x by halving to |x| ≤ ½ ln 2 and Taylor's series, from the four operations alone. */
export function exp(x: f64): f64 {
  const n = Math.round(x / 0.6931471805599453)
  const r = x - n * 0.6931471803691238 - n * 1.9082149292705877e-10
  let sum: f64 = 1
  for (let k = 14; k >= 1; k--) sum = 1 + sum * r / <f64>k
  return sum * reinterpret<f64>((<i64>n + 1023) << 52)
}
