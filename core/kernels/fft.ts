// Fourier transforms of real signals in float64: a complex one of half the size, radix 2 (Cooley & Tukey 1965), and the
// usual packing of evens and odds. Twiddles come from the host: e^(−2πik/16384) for k = 0 … 8192, re and im in turns.

/** Order of the largest transform: 2^14 real values. */
const TOP: i32 = 14

@inline function re(table: usize, k: i32): f64 { return load<f64>(table + (<usize>k << 4)) }
@inline function im(table: usize, k: i32): f64 { return load<f64>(table + (<usize>k << 4), 8) }

/** In place on 2^bits complex values; `sign` −1 turns it back (without the division). */
function complex(z: usize, bits: i32, table: usize, sign: f64): void {
  const n = 1 << bits
  for (let i = 1, j = 0; i < n; i++) {
    let bit = n >> 1
    for (; j & bit; bit >>= 1) j ^= bit
    j ^= bit
    if (i < j) {
      const a = z + (<usize>i << 4), b = z + (<usize>j << 4)
      const t = v128.load(a)
      v128.store(a, v128.load(b))
      v128.store(b, t)
    }
  }
  for (let level = 1; level <= bits; level++) {
    const half = 1 << (level - 1), stride = 1 << (TOP - level)
    for (let k = 0; k < half; k++) {
      const wr = re(table, k * stride), wi = sign * im(table, k * stride)
      for (let i = k; i < n; i += half << 1) {
        const a = z + (<usize>i << 4), b = a + (<usize>half << 4)
        const xr = load<f64>(b), xi = load<f64>(b, 8)
        const tr = xr * wr - xi * wi, ti = xr * wi + xi * wr
        const ar = load<f64>(a), ai = load<f64>(a, 8)
        store<f64>(b, ar - tr); store<f64>(b, ai - ti, 8)
        store<f64>(a, ar + tr); store<f64>(a, ai + ti, 8)
      }
    }
  }
}

/**
 * 2^bits real values in `z` (as float64, one after the other) to bins 0 … n/2: float32 real parts at `outRe`, imaginary at
 * `outIm`, both with room for n/2 + 4.
 */
export function forward(z: usize, bits: i32, table: usize, outRe: usize, outIm: usize): void {
  const m = 1 << (bits - 1), stride = 1 << (TOP - bits)
  complex(z, bits - 1, table, 1)
  for (let k = 0; k <= m; k++) {
    const a = z + (<usize>(k == m ? 0 : k) << 4), b = z + (<usize>(k == 0 ? 0 : m - k) << 4)
    const ar = load<f64>(a), ai = load<f64>(a, 8), br = load<f64>(b), bi = -load<f64>(b, 8)
    const er = 0.5 * (ar + br), ei = 0.5 * (ai + bi), dr = 0.5 * (ar - br), di = 0.5 * (ai - bi)
    const wr = re(table, k * stride), wi = im(table, k * stride)
    // even + e^(−2πik/n) · odd, odd = −i · difference
    store<f32>(outRe + (<usize>k << 2), <f32>(er + wr * di + wi * dr))
    store<f32>(outIm + (<usize>k << 2), <f32>(ei + wi * di - wr * dr))
  }
}

/** Bins back to 2^bits real values in `z`. */
export function backward(inRe: usize, inIm: usize, bits: i32, table: usize, z: usize): void {
  const m = 1 << (bits - 1), stride = 1 << (TOP - bits)
  for (let k = 0; k < m; k++) {
    const ar = <f64>load<f32>(inRe + (<usize>k << 2)), ai = <f64>load<f32>(inIm + (<usize>k << 2))
    const br = <f64>load<f32>(inRe + (<usize>(m - k) << 2)), bi = -<f64>load<f32>(inIm + (<usize>(m - k) << 2))
    const er = ar + br, ei = ai + bi, dr = ar - br, di = ai - bi
    const wr = re(table, k * stride), wi = -im(table, k * stride)
    const or = dr * wr - di * wi, oi = dr * wi + di * wr
    const at = z + (<usize>k << 4)
    store<f64>(at, er - oi); store<f64>(at, ei + or, 8)
  }
  complex(z, bits - 1, table, -1)
  const scale = 0.5 / <f64>m
  for (let i = 0; i < m << 1; i++) { const at = z + (<usize>i << 3); store<f64>(at, load<f64>(at) * scale) }
}
