// What happens outside the computer: noise, clipping, a stage that bends.
import { BLOCK, params, param, state, input, output } from './op'
import { clock } from './clock'
import { hush, isQuiet, isZero } from './quiet'

/** splitmix64's finaliser: the same number for the same seed and frame, in any order. */
@inline function hash(x: i64): i64 {
  let z: u64 = <u64>x * 0x9E3779B97F4A7C15
  z = (z ^ (z >> 30)) * 0xBF58476D1CE4E5B9
  z = (z ^ (z >> 27)) * 0x94D049BB133111EB
  return z ^ (z >> 31)
}

/** Adds near-Gaussian white noise. params: RMS, seed, latency (noise belongs to source time) */
export function noise(op: usize): void {
  const x = input(op, 0), out = output(op, 0)
  const seed = hash(<i64>param(op, 1))
  const first = clock.frame - <i64>param(op, 2)
  // Four 16-bit uniforms of variance 1/12 each: their sum has variance 1/3.
  const scale = param(op, 0) * 1.7320508075688772 / 65536
  for (let i = 0; i < BLOCK; i++) {
    const h = hash(seed + first + i)
    const sum = <i32>(h & 0xFFFF) + <i32>((h >> 16) & 0xFFFF) + <i32>((h >> 32) & 0xFFFF) + <i32>((h >> 48) & 0xFFFF)
    store<f32>(out + (<usize>i << 2), <f32>(<f64>load<f32>(x + (<usize>i << 2)) + (<f64>sum - 131070) * scale))
  }
}

/** Hard limit of a converter. params: ceiling · state: i32 samples clipped in the block */
export function clip(op: usize): void {
  const x = input(op, 0), out = output(op, 0)
  const ceiling = <f32>param(op, 0)
  let over = 0
  for (let i = 0; i < BLOCK; i++) {
    const v = load<f32>(x + (<usize>i << 2))
    const y = max(-ceiling, min(ceiling, v))
    over += i32(y != v)
    store<f32>(out + (<usize>i << 2), y)
  }
  store<i32>(state(op), over)
}

/**
 * A stage that bends: y = s(drive·x + bias) − s(bias) with s(v) = v / √(1 + v²), over drive, at four times the rate.
 * params: drive, bias, output gain, 64 taps of the lowpass (gain 1 at 0 Hz, cut at a quarter of Nyquist at 4 × rate)
 * state: 16 f32 of input history + 128, then 64 f64 of shaped history + 512. Delay 63 quarter samples.
 */
export function bend(op: usize): void {
  const drive = param(op, 0), bias = param(op, 1), level = param(op, 2)
  const taps = params(op) + 24
  const line = state(op)
  const shaped = line + (16 + 128) * 4
  const x = input(op, 0), out = output(op, 0)
  // Without bias the curve goes through 0.
  if (bias == 0 && isQuiet(x) && isZero(line, 64) && isZero(shaped, 512)) { hush(out); return }
  const rest = bias / Math.sqrt(1 + bias * bias)
  memory.copy(line + 64, x, 512)
  for (let i = 0; i < BLOCK; i++) {
    const newest = line + (<usize>(16 + i) << 2)
    for (let phase = 0; phase < 4; phase++) {
      let up: f64 = 0
      for (let k = 0; k < 16; k++) {
        up += <f64>load<f32>(newest - (<usize>k << 2)) * load<f64>(taps + (<usize>(k * 4 + phase) << 3))
      }
      const v = drive * up * 4 + bias
      store<f64>(shaped + (<usize>(64 + i * 4 + phase) << 3), v / Math.sqrt(1 + v * v) - rest)
    }
    const last = shaped + (<usize>(64 + i * 4 + 3) << 3)
    let y: f64 = 0
    for (let k = 0; k < 64; k++) y += load<f64>(last - (<usize>k << 3)) * load<f64>(taps + (<usize>k << 3))
    store<f32>(out + (<usize>i << 2), <f32>(y * level / drive))
  }
  memory.copy(line, line + 512, 64)
  memory.copy(shaped, shaped + 4096, 512)
}
