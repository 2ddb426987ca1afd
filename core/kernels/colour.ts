// A curve at eight times the rate, and a level that swings.
import { BLOCK, params, param, state, input, output } from './op'
import { clock } from './clock'

/**
 * y = (s(drive·x + bias) − s(bias)) / drive, s(v) = v / √(1 + v²), at eight times the rate.
 * params: drive, bias, output gain, 257 taps (gain 1 at 0 Hz, cut at the old Nyquist) · late by 32 samples
 * state: 32 f32 of input history + 128 (and one spare), then 256 f64 of shaped history + 1024
 */
export function saturate(op: usize): void {
  const drive = param(op, 0), bias = param(op, 1), level = param(op, 2) / drive
  const taps = params(op) + 24
  const line = state(op)
  const shaped = line + (32 + 128 + 2) * 4 + 8
  const x = input(op, 0), out = output(op, 0)
  const rest = bias / Math.sqrt(1 + bias * bias)
  memory.copy(line + 128, x, 512)
  for (let i = 0; i < BLOCK; i++) {
    const newest = line + (<usize>(32 + i) << 2)
    for (let phase = 0; phase < 8; phase++) {
      // Every eighth tap meets a sample; between them lie zeros. The last phase of tap 256 is the oldest sample alone.
      let up: f64 = 0
      for (let k = 0; k < 32; k++) up += <f64>load<f32>(newest - (<usize>k << 2)) * load<f64>(taps + (<usize>(k * 8 + phase) << 3))
      if (phase == 0) up += <f64>load<f32>(newest - 128) * load<f64>(taps + 2048)
      const v = drive * up * 8 + bias
      store<f64>(shaped + (<usize>(256 + i * 8 + phase) << 3), v / Math.sqrt(1 + v * v) - rest)
    }
    // The output falls on the first of the eight.
    const last = shaped + (<usize>(256 + i * 8) << 3)
    let y = load<f64>(last) * load<f64>(taps)
    let sum = f64x2.splat(0)
    for (let k = 1; k < 257; k += 2) {
      const pair = v128.load(last - (<usize>(k + 1) << 3))
      sum = f64x2.add(sum, f64x2.mul(v128.shuffle<f64>(pair, pair, 1, 0), v128.load(taps + (<usize>k << 3))))
    }
    y += f64x2.extract_lane(sum, 0) + f64x2.extract_lane(sum, 1)
    store<f32>(out + (<usize>i << 2), <f32>(y * level))
  }
  memory.copy(line, line + 512, 128)
  memory.copy(shaped, shaped + 8192, 2048)
}

/** sin(2πx) by its series about the nearest quarter, from the four operations alone. */
function turn(x: f64): f64 {
  let p = x - floor(x)
  let sign: f64 = 1
  if (p >= 0.5) { p -= 0.5; sign = -1 }
  if (p > 0.25) p = 0.5 - p
  const v = p * 6.283185307179586
  const u = v * v
  return sign * v * (1 - u / 6 * (1 - u / 20 * (1 - u / 42 * (1 - u / 72 * (1 - u / 110 * (1 - u / 156))))))
}

/**
 * A level that swings between 1 and 1 − depth. Its phase counts from frame 0 of the source.
 * params: Hz / rate, depth, 0 sine or 1 triangle, phase in turns, latency of the signal
 */
export function swing(op: usize): void {
  const x = input(op, 0), out = output(op, 0)
  const step = param(op, 0), depth = param(op, 1), triangle = param(op, 2) != 0, phase = param(op, 3)
  const first = <f64>(clock.frame - <i64>param(op, 4))
  for (let i = 0; i < BLOCK; i++) {
    const at = (first + i) * step + phase
    const p = at - floor(at)
    const down = triangle ? (p < 0.5 ? 2 * p : 2 - 2 * p) : 0.5 - 0.5 * turn(p + 0.25)
    store<f32>(out + (<usize>i << 2), <f32>(<f64>load<f32>(x + (<usize>i << 2)) * (1 - depth * down)))
  }
}
