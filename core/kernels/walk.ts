// Walks operations in the order of a table, for one block of 128 frames.
import { clock } from './clock'
import { source, sink, meter, magnitude } from './exchange'
import { mix, multiply } from './mix'
import { strip } from './strip'
import { delay, drift, fir, wow } from './delay'
import { equaliser } from './equaliser'
import { compressor } from './compressor'
import { gate, peaks, ceiling } from './dynamics'
import { saturate, swing } from './colour'
import { spectral } from './spectral'
import { echo } from './echo'
import { reverb } from './reverb'
import { noise, clip, bend } from './analog'
import { envelope, lookup } from './envelope'
import { voice } from './voice'
import { convolve } from './convolve'
import { look } from './quiet'

/** The absolute frame at which the block begins that is computed from now on. */
@inline export function begin(frame: f64): void { clock.frame = <i64>frame }

/** `table` holds `count` pointers to operations in the order in which they are to run. */
export function walk(table: usize, count: i32): void {
  for (let i = 0; i < count; i++) {
    const op = load<usize>(table + (<usize>i << 2))
    switch (load<i32>(op)) {
      case 0: source(op); break
      case 1: sink(op); break
      case 2: mix(op); break
      case 3: multiply(op); break
      case 4: delay(op); break
      case 5: fir(op); break
      case 6: equaliser(op); break
      case 7: magnitude(op); break
      case 8: compressor(op); break
      case 9: echo(op); break
      case 10: reverb(op); break
      case 11: noise(op); break
      case 12: clip(op); break
      case 13: bend(op); break
      case 14: meter(op); break
      case 15: drift(op); break
      case 16: gate(op); break
      case 17: peaks(op); break
      case 18: ceiling(op); break
      case 19: saturate(op); break
      case 20: swing(op); break
      case 21: spectral(op); break
      case 22: envelope(op); break
      case 23: lookup(op); break
      case 24: voice(op); break
      case 25: convolve(op); break
      case 26: wow(op); break
      case 27: strip(op); break
      default: unreachable()
    }
    look(op)
  }
}
