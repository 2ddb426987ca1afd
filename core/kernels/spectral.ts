// A carrier shaped by the rhythm and spectrum of a key: pairs of band-passes, the level of one in each band sets the
// gain of the other. Two bands at a time, a lane each.
//   params: pairs of bands, attack and release coefficients, then for every pair, both lanes interleaved:
//     analysis b0, a1, a2, synthesis b0, a1, a2, gain (two equal sections each: y = b0·(x − x″) − a1·y′ − a2·y″)
//   state: for every pair 5 + 4 × legs vectors of two f64: analysis 4, level 1, synthesis 4 a leg
//   inputs: key, then carriers · outputs: one a carrier
import { BLOCK, TINY, params, param, state, outputs, input, output } from './op'
import { areQuiet, hushAll, isZero } from './quiet'

const BANDS = memory.data(128 * 16, 16), LEVELS = memory.data(128 * 16, 16)
const SUMS = memory.data(8 * 128 * 8, 16)

@inline function flushed(v: v128): v128 { return v128.and(v, f64x2.ge(f64x2.abs(v), f64x2.splat(TINY))) }

/**
 * A block through two equal sections of both lanes' band-passes, into BANDS. `c`: b0, a1, a2 · `s`: four vectors of
 * state
 */
function bandPass(from: usize, c: usize, s: usize): void {
  const b = v128.load(c), a1 = v128.load(c, 16), a2 = v128.load(c, 32)
  let u1 = v128.load(s), u2 = v128.load(s, 16), w1 = v128.load(s, 32), w2 = v128.load(s, 48)
  for (let i: usize = 0; i < 128; i++) {
    const x = f64x2.mul(b, f64x2.splat(<f64>load<f32>(from + (i << 2))))
    const y = f64x2.add(x, u1)
    u1 = f64x2.sub(u2, f64x2.mul(a1, y))
    u2 = f64x2.sub(f64x2.neg(x), f64x2.mul(a2, y))
    const v = f64x2.mul(b, y)
    const z = f64x2.add(v, w1)
    w1 = f64x2.sub(w2, f64x2.mul(a1, z))
    w2 = f64x2.sub(f64x2.neg(v), f64x2.mul(a2, z))
    v128.store(BANDS + (i << 4), z)
  }
  v128.store(s, flushed(u1))
  v128.store(s, flushed(u2), 16)
  v128.store(s, flushed(w1), 32)
  v128.store(s, flushed(w2), 48)
}

export function spectral(op: usize): void {
  const pairs = <i32>param(op, 0), legs = outputs(op)
  // Nothing of a key and nothing in any section: 0 gives +0.
  if (areQuiet(op) && isZero(state(op), <usize>(pairs * (5 + 4 * legs)) << 4)) { hushAll(op); return }
  const attack = f64x2.splat(param(op, 1)), release = f64x2.splat(param(op, 2)), one = f64x2.splat(1)
  memory.fill(SUMS, 0, <usize>legs * 1024)
  for (let p = 0; p < pairs; p++) {
    const c = params(op) + 24 + <usize>p * 112
    const s = state(op) + <usize>(p * (5 + 4 * legs)) * 16
    bandPass(input(op, 0), c, s)
    let level = v128.load(s, 64)
    for (let i: usize = 0; i < 128; i++) {
      const m = f64x2.abs(v128.load(BANDS + (i << 4)))
      const a = v128.bitselect(attack, release, f64x2.gt(m, level))
      level = f64x2.add(f64x2.mul(a, level), f64x2.mul(f64x2.sub(one, a), m))
      v128.store(LEVELS + (i << 4), level)
    }
    v128.store(s, flushed(level), 64)
    const gain = v128.load(c, 96)
    for (let leg = 0; leg < legs; leg++) {
      bandPass(input(op, 1 + leg), c + 48, s + 80 + (<usize>leg << 6))
      const sums = SUMS + (<usize>leg << 10)
      for (let i: usize = 0; i < 128; i++) {
        const r = f64x2.mul(f64x2.mul(v128.load(BANDS + (i << 4)), v128.load(LEVELS + (i << 4))), gain)
        store<f64>(sums + (i << 3), load<f64>(sums + (i << 3)) + f64x2.extract_lane(r, 0) + f64x2.extract_lane(r, 1))
      }
    }
  }
  for (let leg = 0; leg < legs; leg++) {
    const out = output(op, leg), sums = SUMS + (<usize>leg << 10)
    for (let i = 0; i < BLOCK; i++) {
      const y = load<f64>(sums + (<usize>i << 3))
      store<f32>(out + (<usize>i << 2), abs(y) < TINY ? 0 : <f32>y)
    }
  }
}
