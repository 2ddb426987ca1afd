// Repeats: a delay line a leg with feedback, own low and high cut in the loop, and cross feedback to the next leg.
//   params: delay samples, ring size (power of two), feedback, cross 0…1, high-cut coefficient, low-cut coefficient
// Another delay is reached by fading from one place in the line to the other over a block.
//   state: i32 write position, i32 delay in force, i32 blocks for which the rings still sound, 4 spare · a leg: f64
//     high-cut state, f64 low-cut state · then the rings
import { BLOCK, param, state, inputs, input, output, flush, flush32 } from './op'
import { areQuiet, countDown, hushAll, isZero } from './quiet'

/** With nothing in rings and filters, and the delay in force, 0 gives +0: what goes into a ring has no sign. */
@inline function rests(op: usize, legs: i32, samples: i32): bool {
  const s = state(op)
  if (!areQuiet(op) || load<i32>(s, 8) != 0 || !isZero(s + 16, <usize>legs * 16)) return false
  if (load<i32>(s, 4) != samples) return false
  hushAll(op)
  store<i32>(s, (load<i32>(s) + BLOCK) & (<i32>param(op, 1) - 1))
  return true
}

/** Is a block of all rings nothing but zeros? */
function isSilent(rings: usize, legs: i32, size: i32, write: i32): bool {
  for (let leg = 0; leg < legs; leg++) if (!isZero(rings + (<usize>(leg * size + write) << 2), 512)) return false
  return true
}

export function echo(op: usize): void {
  const legs = inputs(op)
  const samples = <i32>param(op, 0), size = <i32>param(op, 1)
  if (rests(op, legs, samples)) return
  const mask = size - 1
  const feedback = param(op, 2), cross = param(op, 3)
  const high = param(op, 4), low = param(op, 5)
  const filters = state(op) + 16
  const rings = filters + <usize>legs * 16
  const start = load<i32>(state(op))
  const before = load<i32>(state(op), 4) || samples

  for (let i = 0; i < BLOCK; i++) {
    const at = <usize>i << 2
    const write = (start + i) & mask
    const read = (write - samples) & mask
    for (let leg = 0; leg < legs; leg++) {
      let v = load<f32>(rings + (<usize>(leg * size + read) << 2))
      if (before != samples) {
        const old = load<f32>(rings + (<usize>(leg * size + ((write - before) & mask)) << 2))
        v = old + (v - old) * <f32>(i + 1) / 128
      }
      store<f32>(output(op, leg) + at, v)
    }
    for (let leg = 0; leg < legs; leg++) {
      const next = leg + 1 == legs ? 0 : leg + 1
      const own = <f64>load<f32>(output(op, leg) + at)
      const other = <f64>load<f32>(output(op, next) + at)
      const cell = filters + <usize>leg * 16
      let tone = own + (other - own) * cross
      tone = load<f64>(cell) + (tone - load<f64>(cell)) * high
      store<f64>(cell, tone)
      const slow = load<f64>(cell, 8) + (tone - load<f64>(cell, 8)) * low
      store<f64>(cell, slow, 8)
      const into = <f64>load<f32>(input(op, leg) + at) + feedback * (tone - slow)
      store<f32>(rings + (<usize>(leg * size + write) << 2), flush32(<f32>into))
    }
  }
  countDown(state(op) + 8, !areQuiet(op) || !isSilent(rings, legs, size, start), size)
  store<i32>(state(op), (start + BLOCK) & mask)
  store<i32>(state(op), samples, 4)
  for (let leg = 0; leg < legs; leg++) {
    const cell = filters + <usize>leg * 16
    store<f64>(cell, flush(load<f64>(cell)))
    store<f64>(cell, flush(load<f64>(cell, 8)), 8)
  }
}
