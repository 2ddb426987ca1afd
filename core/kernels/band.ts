// Coefficients of a second-order section, a0 = 1: b0 b1 b2 a1 a2, for a band whose settings move; the same formulas as
// core/src/processors/biquad.ts.
// R. Bristow-Johnson, "Cookbook formulae for audio EQ biquad filter coefficients".

const BELL: i32 = 1, LOW_SHELF: i32 = 2, HIGH_SHELF: i32 = 3
/** ln 10 / 40: the root of a gain from its dB. */
const ROOT_OF_DB: f64 = 0.05756462732485115

/** @param angle of its frequency, 0 … π · @param q quality · @param db gain · @param to where five numbers go */
export function band(kind: i32, angle: f64, q: f64, db: f64, to: usize): void {
  NativeMath.sincos(angle)
  const c = NativeMath.sincos_cos, alpha = NativeMath.sincos_sin / (2 * q)
  if (kind == BELL) {
    const a = Math.exp(db * ROOT_OF_DB)
    put(to, 1 + alpha * a, -2 * c, 1 - alpha * a, 1 + alpha / a, -2 * c, 1 - alpha / a)
  } else if (kind == LOW_SHELF || kind == HIGH_SHELF) {
    // A high shelf is a low one with the spectrum the other way round.
    const a = Math.exp(db * ROOT_OF_DB), root = 2 * Math.sqrt(a) * alpha, side: f64 = kind == LOW_SHELF ? 1 : -1
    const d = side * c, up = a + 1, down = a - 1
    put(to,
      a * (up - down * d + root), side * 2 * a * (down - up * d), a * (up - down * d - root),
      up + down * d + root, side * -2 * (down + up * d), up + down * d - root)
  } else put(to, 1, -2 * c, 1, 1 + alpha, -2 * c, 1 - alpha)
}

@inline function put(to: usize, b0: f64, b1: f64, b2: f64, a0: f64, a1: f64, a2: f64): void {
  store<f64>(to, b0 / a0)
  store<f64>(to, b1 / a0, 8)
  store<f64>(to, b2 / a0, 16)
  store<f64>(to, a1 / a0, 24)
  store<f64>(to, a2 / a0, 32)
}
