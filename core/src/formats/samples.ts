// Samples as files hold them, by kind of number: a loop each, over one leg of interleaved frames.

/**
 * @param at byte of the leg's first sample
 * @param step bytes from frame to frame
 */
type Decode = (view: DataView, at: number, step: number, out: Float32Array) => void

const integers = (bits: 8 | 16 | 24 | 32, little: boolean): Decode => {
  const scale = 1 / 2 ** (bits - 1)
  switch (bits) {
    case 8:
      return (v, at, step, out) => {
        for (let n = 0; n < out.length; n++, at += step) out[n] = v.getInt8(at) * scale
      }
    case 16:
      return (v, at, step, out) => {
        for (let n = 0; n < out.length; n++, at += step) out[n] = v.getInt16(at, little) * scale
      }
    case 24: {
      const [high, low] = little ? [2, 0] : [0, 1]
      return (v, at, step, out) => {
        for (let n = 0; n < out.length; n++, at += step)
          out[n] = ((v.getInt8(at + high) << 16) | v.getUint16(at + low, little)) * scale
      }
    }
    case 32:
      return (v, at, step, out) => {
        for (let n = 0; n < out.length; n++, at += step) out[n] = v.getInt32(at, little) * scale
      }
  }
}
/** As they lie in memory, where a float may begin at every fourth byte alone. Little-endian, as every machine here. */
const floatsInMemory: Decode = (v, at, step, out) => {
  const from = v.byteOffset + at,
    bytes = (out.length - 1) * step + 4
  const all =
    from % 4 ? new Float32Array(v.buffer.slice(from, from + bytes)) : new Float32Array(v.buffer, from, bytes / 4)
  for (let n = 0, i = 0, stride = step / 4; n < out.length; n++, i += stride) out[n] = all[i]!
}
const floats = (bits: 32 | 64, little: boolean): Decode =>
  bits === 64
    ? (v, at, step, out) => {
        for (let n = 0; n < out.length; n++, at += step) out[n] = v.getFloat64(at, little)
      }
    : little
      ? floatsInMemory
      : (v, at, step, out) => {
          for (let n = 0; n < out.length; n++, at += step) out[n] = v.getFloat32(at, false)
        }
const unsigned: Decode = (v, at, step, out) => {
  for (let n = 0; n < out.length; n++, at += step) out[n] = (v.getUint8(at) - 128) / 128
}

export interface SampleKind {
  bytes: number
  float: boolean
  decode: Decode
}
const kind = (bytes: number, float: boolean, decode: Decode): SampleKind => ({ bytes, float, decode })

/** By “u”, “i” or “f”, bits and byte order. */
export const SAMPLE_KINDS: Record<string, SampleKind> = {
  u8: kind(1, false, unsigned),
  i8: kind(1, false, integers(8, true)),
  i16le: kind(2, false, integers(16, true)),
  i24le: kind(3, false, integers(24, true)),
  i32le: kind(4, false, integers(32, true)),
  f32le: kind(4, true, floats(32, true)),
  f64le: kind(8, true, floats(64, true)),
  i16be: kind(2, false, integers(16, false)),
  i24be: kind(3, false, integers(24, false)),
  i32be: kind(4, false, integers(32, false)),
  f32be: kind(4, true, floats(32, false)),
  f64be: kind(8, true, floats(64, false))
}
