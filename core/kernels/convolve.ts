// Convolution with an impulse response in partitions of three sizes, without latency: the first 1024 samples in pieces
// of 128, up to 8192 in pieces of 1024, the rest in pieces of 8192 (W. Gardner, "Efficient convolution without
// input-output delay", JAES 43, 1995). Pieces are cut by the absolute frame.
//   params: data, pieces of each size (3)
//   data: i32 spectra are there, 12 spare · twiddles, 8193 × 2 f64 · scratch, 16384 f64 · sum, 2 × 8196 f32 · then the
//     response, f32, padded to whole pieces · spectra, piece after piece: re and im of size + 4 bins, f32
//   state: i32 blocks for which it still sounds, 12 spare · ring of input, 8192 f32 · ring of output, 32768 f32 · the
//     last spectra of the input, a size after the other
import { params, param, state, input, output, flush32 } from './op'
import { clock } from './clock'
import { forward, backward } from './fft'
import { countDown, hush, isQuiet } from './quiet'

const TWIDDLES: usize = 16, SCRATCH: usize = TWIDDLES + 8193 * 16
const SUM: usize = SCRATCH + 16384 * 8, RESPONSE: usize = SUM + 2 * 8196 * 4

@inline function sizeOf(level: i32): i32 { return level == 0 ? 128 : level == 1 ? 1024 : 8192 }
@inline function bitsOf(level: i32): i32 { return level == 0 ? 8 : level == 1 ? 11 : 14 }
@inline function piecesOf(op: usize, level: i32): i32 { return <i32>param(op, 1 + level) }
/** Bytes of one spectrum: re and im. */
@inline function bytesOf(level: i32): usize { return <usize>(sizeOf(level) + 4) << 3 }

/** Frames after its input for which anything is left of it: the response, and pieces that are still being gathered. */
@inline function tail(op: usize): i32 {
  return piecesOf(op, 0) * 128 + piecesOf(op, 1) * 1024 + piecesOf(op, 2) * 8192 + 3 * 8192
}

export function convolve(op: usize): void {
  const data = <usize>param(op, 0)
  if (!load<i32>(data)) { prepare(op, data); store<i32>(data, 1) }
  const isHeard = !isQuiet(input(op, 0))
  // All spectra are of silence, and sums begin with +0, to which ±0 adds nothing.
  if (!isHeard && load<i32>(state(op)) == 0) { hush(output(op, 0)); return }
  countDown(state(op), isHeard, tail(op))
  const lineIn = state(op) + 16, lineOut = lineIn + 8192 * 4
  const frame = clock.frame
  const x = input(op, 0)
  const at = lineIn + <usize>((frame & 8191) << 2)
  for (let i: usize = 0; i < 512; i += 4) store<f32>(at + i, flush32(load<f32>(x + i)))

  let spectra = data + RESPONSE + <usize>(piecesOf(op, 0) * 128 + piecesOf(op, 1) * 1024 + piecesOf(op, 2) * 8192) * 4
  let past = lineOut + 32768 * 4
  for (let level = 0; level < 3; level++) {
    const pieces = piecesOf(op, level), size = sizeOf(level)
    const end = frame + 128
    if (pieces > 0 && (end & <i64>(size - 1)) == 0) {
      // What has come in since the last time; its first piece of response is heard at once (128) or from now on.
      piece(data, level, pieces, lineIn + <usize>(((end - size) & 8191) << 2), <i32>(end / size), spectra, past,
        lineOut, level == 0 ? frame : end)
    }
    spectra += <usize>pieces * bytesOf(level)
    past += <usize>pieces * bytesOf(level)
  }
  const from = lineOut + <usize>((frame & 32767) << 2)
  memory.copy(output(op, 0), from, 512)
  memory.fill(from, 0, 512)
}

/** Spectra of the response, piece by piece. */
function prepare(op: usize, data: usize): void {
  let from = data + RESPONSE
  let to = from + <usize>(piecesOf(op, 0) * 128 + piecesOf(op, 1) * 1024 + piecesOf(op, 2) * 8192) * 4
  for (let level = 0; level < 3; level++) {
    for (let k = 0; k < piecesOf(op, level); k++) {
      transform(data, level, from, to)
      from += <usize>sizeOf(level) << 2
      to += bytesOf(level)
    }
  }
}

/** A piece and as many zeros after it. */
function transform(data: usize, level: i32, from: usize, to: usize): void {
  const size = sizeOf(level), z = data + SCRATCH
  for (let i = 0; i < size; i++) store<f64>(z + (<usize>i << 3), <f64>load<f32>(from + (<usize>i << 2)))
  memory.fill(z + (<usize>size << 3), 0, <usize>size << 3)
  forward(z, bitsOf(level), data + TWIDDLES, to, to + (<usize>(size + 4) << 2))
}

function piece(
  data: usize, level: i32, pieces: i32, from: usize, count: i32, spectra: usize, past: usize, lineOut: usize,
  begin: i64
): void {
  const size = sizeOf(level), bins = <usize>(size + 4) << 2, bytes = bytesOf(level)
  const newest = count % pieces
  transform(data, level, from, past + <usize>newest * bytes)
  const sumRe = data + SUM, sumIm = sumRe + 8196 * 4
  memory.fill(sumRe, 0, bins)
  memory.fill(sumIm, 0, bins)
  for (let j = 0; j < pieces; j++) {
    const xr = past + <usize>((newest - j + pieces) % pieces) * bytes, xi = xr + bins
    const hr = spectra + <usize>j * bytes, hi = hr + bins
    for (let k: usize = 0; k < bins; k += 16) {
      const a = v128.load(xr + k), b = v128.load(xi + k), c = v128.load(hr + k), d = v128.load(hi + k)
      v128.store(sumRe + k, f32x4.add(v128.load(sumRe + k), f32x4.sub(f32x4.mul(a, c), f32x4.mul(b, d))))
      v128.store(sumIm + k, f32x4.add(v128.load(sumIm + k), f32x4.add(f32x4.mul(a, d), f32x4.mul(b, c))))
    }
  }
  const z = data + SCRATCH
  backward(sumRe, sumIm, bitsOf(level), data + TWIDDLES, z)
  for (let i = 0; i < size << 1; i++) {
    const to = lineOut + <usize>(((begin + i) & 32767) << 2)
    store<f32>(to, load<f32>(to) + <f32>load<f64>(z + (<usize>i << 3)))
  }
}
