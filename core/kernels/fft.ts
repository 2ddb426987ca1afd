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
  // The first level turns by nothing.
  for (let i: usize = 0; i < <usize>n << 4; i += 32) {
    const a = v128.load(z + i), b = v128.load(z + i, 16)
    v128.store(z + i, f64x2.add(a, b))
    v128.store(z + i, f64x2.sub(a, b), 16)
  }
  const turned = f64x2(-sign, sign)
  for (let level = 2; level <= bits; level++) {
    const half: usize = <usize>16 << (level - 1), stride: usize = <usize>16 << (TOP - level)
    for (let block = z; block < z + (<usize>n << 4); block += half << 1) {
      let w = table
      for (let a = block; a < block + half; a += 16) {
        const x = v128.load(a + half), here = v128.load(a)
        const t = f64x2.add(f64x2.mul(x, v128.load64_splat(w)),
          f64x2.mul(v128.shuffle<f64>(x, x, 1, 0), f64x2.mul(v128.load64_splat(w, 8), turned)))
        v128.store(a + half, f64x2.sub(here, t))
        v128.store(a, f64x2.add(here, t))
        w += stride
      }
    }
  }
}

/**
 * 2^bits real values in `z` (as float64, one after the other) to bins 0 … n/2: float32 real parts at `outRe`,
 * imaginary at `outIm`, both with room for n/2 + 4.
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
