// Another sample rate, a leg at a time: every output frame is the sum of `taps` input frames with one phase of a low
// pass (R. Crochiere, L. Rabiner, "Multirate digital signal processing", 1983, ch. 3). The table holds phase after
// phase, f32,
// the oldest frame's tap first. Where there are fewer phases than places between two input frames, the neighbours of a
// place are mixed by its distance; the table then has one phase more.
// Four sums of four lanes, so that no addition waits for the one before it.

@inline function across(sum: v128): f32 {
  return (f32x4.extract_lane(sum, 0) + f32x4.extract_lane(sum, 1))
    + (f32x4.extract_lane(sum, 2) + f32x4.extract_lane(sum, 3))
}

/** Input frames from `x` on, each with its tap. */
@inline function dot(x: usize, h: usize, taps: i32): f32 {
  let a = f32x4.splat(0), b = a, c = a, d = a
  const end = x + (<usize>taps << 2)
  for (; x < end; x += 64, h += 64) {
    a = f32x4.add(a, f32x4.mul(v128.load(x), v128.load(h)))
    b = f32x4.add(b, f32x4.mul(v128.load(x, 16), v128.load(h, 16)))
    c = f32x4.add(c, f32x4.mul(v128.load(x, 32), v128.load(h, 32)))
    d = f32x4.add(d, f32x4.mul(v128.load(x, 48), v128.load(h, 48)))
  }
  return across(f32x4.add(f32x4.add(a, b), f32x4.add(c, d)))
}

/** The same for two places at once, `apart` bytes apart, and the same sums: taps are loaded once. */
@inline function dots(x: usize, apart: usize, h: usize, taps: i32, out: usize, outApart: usize): void {
  let a = f32x4.splat(0), b = a, c = a, d = a, e = a, f = a, g = a, k = a
  const end = x + (<usize>taps << 2)
  for (let y = x + apart; x < end; x += 64, y += 64, h += 64) {
    const h0 = v128.load(h), h1 = v128.load(h, 16), h2 = v128.load(h, 32), h3 = v128.load(h, 48)
    a = f32x4.add(a, f32x4.mul(v128.load(x), h0))
    b = f32x4.add(b, f32x4.mul(v128.load(x, 16), h1))
    c = f32x4.add(c, f32x4.mul(v128.load(x, 32), h2))
    d = f32x4.add(d, f32x4.mul(v128.load(x, 48), h3))
    e = f32x4.add(e, f32x4.mul(v128.load(y), h0))
    f = f32x4.add(f, f32x4.mul(v128.load(y, 16), h1))
    g = f32x4.add(g, f32x4.mul(v128.load(y, 32), h2))
    k = f32x4.add(k, f32x4.mul(v128.load(y, 48), h3))
  }
  store<f32>(out, across(f32x4.add(f32x4.add(a, b), f32x4.add(c, d))))
  store<f32>(out + outApart, across(f32x4.add(f32x4.add(e, f), f32x4.add(g, k))))
}

/**
 * `count` output frames to `out`. The first lies `part / parts` of a frame after the frame at `x + taps/2 − 1`; the
 * step is `whole` frames and `rest / parts`. `phases` is `parts`, or less: then places are mixed.
 * Output frames that are `parts` apart have the same phase: they are made one after the other, so that it stays at
 * hand.
 */
export function resample(
  x: usize, out: usize, count: i32, table: usize, taps: i32, phases: i32, parts: i32, part: i32, whole: i32, rest: i32
): void {
  const row = <usize>taps << 2
  const mixed = phases != parts
  const scale = <f64>phases / <f64>parts
  const apart = <usize>(whole * parts + rest) << 2, outApart = <usize>parts << 2
  const first = min(parts, count)
  for (let n = 0; n < first; n++) {
    let from = x, to = out + (<usize>n << 2), left = (count - n + parts - 1) / parts
    if (mixed) {
      const place = <f64>part * scale, phase = <i32>place, by = <f32>(place - <f64>phase)
      const h = table + <usize>phase * row
      for (; left > 0; left--, from += apart, to += outApart) {
        const y = dot(from, h, taps)
        store<f32>(to, y + by * (dot(from, h + row, taps) - y))
      }
    } else {
      const h = table + <usize>part * row
      for (; left > 1; left -= 2, from += apart << 1, to += outApart << 1) dots(from, apart, h, taps, to, outApart)
      if (left > 0) store<f32>(to, dot(from, h, taps))
    }
    part += rest
    x += <usize>whole << 2
    if (part >= parts) { part -= parts; x += 4 }
  }
}
