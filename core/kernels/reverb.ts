// Feedback delay network of sixteen lines (Jot 1992): lines of coprime lengths, an absorbing filter a line,
// a Hadamard matrix between them. Before it, two allpasses a leg spread the attack. What is heard is read from each
// line as many samples before its end as the shortest line is long: the first sound comes when the pre-delay is over.
//   params: legs, pre-delay, line ring size, entry ring size, 2 allpass lengths, allpass gain, output gain,
//           16 line lengths, then 16 each of low shelf b0 b1 a1, high shelf b0 b1 a1, then legs × 16 output signs
// Other lengths are reached by fading from one place in a line to the other over a block.
//   state: i32 line position, i32 entry position, i32 pre-delay in force, i32 started, i32 blocks for which the rings
//     still sound, 12 spare, 16 i32 lengths in force, 16 f32 each of x1 y1 (low) x1 y1 (high),
//          a ring a line (size f32 each), a leg: pre-delay ring and two allpass rings (entry size each)
import { BLOCK, TINY, kept4, params, param, state, input, output, flush32, flush32x4 } from './op'
import { areQuiet, countDown, hushAll, isZero } from './quiet'

const scratch = memory.data(64, 16)        // one f32 a line
const places = memory.data(128, 16)        // 16 i32 where a line is heard now, 16 i32 where it was
const factors = memory.data(6 * 64 + 64, 16) // six coefficient tables as f32, then the line lengths as i32
const weights = memory.data(16 * 64, 16)   // output signs as f32, a row a leg

@inline function vec(base: usize, group: i32): v128 { return v128.load(base + (<usize>group << 4)) }

/** Coefficients arrive as f64; the inner loop wants f32 vectors and whole lengths. */
function unpack(op: usize, legs: i32): void {
  const table = params(op) + <usize>(8 + 16) * 8
  for (let i: usize = 0; i < 96; i++) store<f32>(factors + (i << 2), <f32>load<f64>(table + (i << 3)))
  for (let k: usize = 0; k < 16; k++) store<i32>(factors + 384 + (k << 2), <i32>load<f64>(params(op) + 64 + (k << 3)))
  const signs = table + 96 * 8
  for (let i: usize = 0; i < <usize>legs << 4; i++) store<f32>(weights + (i << 2), <f32>load<f64>(signs + (i << 3)))
}

function shortestOf(lengths: usize): i32 {
  let shortest = load<i32>(lengths)
  for (let k: usize = 4; k < 64; k += 4) shortest = min(shortest, load<i32>(lengths + k))
  return shortest
}

/** Where lines of these lengths are heard: samples behind their entry. Both 16 i32. */
function hear(lengths: usize, into: usize): void {
  const shortest = shortestOf(lengths)
  for (let k: usize = 0; k < 64; k += 4) store<i32>(into + k, load<i32>(lengths + k) - shortest)
}

@inline function factor(table: usize, group: i32): v128 {
  return v128.load(factors + (table << 6) + (<usize>group << 4))
}

@inline function entry(
  first: i32, second: i32, leg: i32, x: f32, position: i32, rings: usize, size: i32, pre: i32, before: i32, share: f32,
  gain: f32
): f32 {
  const mask = size - 1
  let ring = rings + <usize>(leg * 3) * (<usize>size << 2)
  store<f32>(ring + (<usize>position << 2), flush32(x))
  let v = load<f32>(ring + (<usize>((position - pre) & mask) << 2))
  if (before != pre) {
    const old = load<f32>(ring + (<usize>((position - before) & mask) << 2)); v = old + (v - old) * share
  }
  for (let k = 0; k < 2; k++) {
    ring += <usize>size << 2
    const length = (k == 0 ? first : second) + leg * 7
    const old = load<f32>(ring + (<usize>((position - length) & mask) << 2))
    const into = v + gain * old
    store<f32>(ring + (<usize>position << 2), flush32(into))
    v = old - gain * into
  }
  return v
}

/** Have all lines the lengths that are asked for, and the entry its pre-delay? */
function isInForce(op: usize): bool {
  const s = state(op), lengths = params(op) + 64
  for (let k: usize = 0; k < 16; k++)
    if (<f64>load<i32>(s + 32 + (k << 2)) != load<f64>(lengths + (k << 3))) return false
  return load<i32>(s, 8) == <i32>param(op, 1)
}

/** With nothing in rings and filters, 0 gives +0: what goes into a ring or stays in a filter has no sign. */
function rests(op: usize): bool {
  const s = state(op), isStarted = load<i32>(s, 12) != 0
  if (!areQuiet(op) || load<i32>(s, 16) != 0 || !isStarted || !isInForce(op) || !isZero(s + 96, 256)) return false
  hushAll(op)
  store<i32>(s, (load<i32>(s) + BLOCK) & (<i32>param(op, 2) - 1))
  store<i32>(s, (load<i32>(s, 4) + BLOCK) & (<i32>param(op, 3) - 1), 4)
  return true
}

/** Is what a block has put into all rings nothing but zeros? */
function isSilent(op: usize, lines: usize, entries: usize, position: i32, door: i32): bool {
  const line = <usize>param(op, 2) << 2, entry = <usize>param(op, 3) << 2
  for (let k: usize = 0; k < 16; k++) if (!isZero(lines + k * line + (<usize>position << 2), 512)) return false
  for (let k: usize = 0; k < 3 * <usize>param(op, 0); k++)
    if (!isZero(entries + k * entry + (<usize>door << 2), 512)) return false
  return true
}

export function reverb(op: usize): void {
  if (rests(op)) return
  const legs = <i32>param(op, 0), pre = <i32>param(op, 1)
  const size = <i32>param(op, 2), entrySize = <i32>param(op, 3)
  const mask = size - 1, entryMask = entrySize - 1
  const first = <i32>param(op, 4), second = <i32>param(op, 5)
  const gain = <f32>param(op, 6), level = <f32>param(op, 7)
  const past = state(op) + 32
  const filters = past + 64
  const lines = filters + 256
  const entries = lines + (<usize>size << 6)
  unpack(op, legs)
  let position = load<i32>(state(op)), door = load<i32>(state(op), 4)
  if (!load<i32>(state(op), 12)) {
    store<i32>(state(op), pre, 8)
    store<i32>(state(op), 1, 12)
    memory.copy(past, factors + 384, 64)
  }
  const before = load<i32>(state(op), 8)
  const moves = memory.compare(past, factors + 384, 64) != 0
  hear(factors + 384, places)
  hear(past, places + 64)

  if (!moves && before == pre && min(first, second) >= 4 && shortestOf(factors + 384) >= BLOCK) {
    for (let leg = 0; leg < legs; leg++)
      enterWhole(input(op, leg), leg, first, second, door, entries, entrySize, pre, gain)
    wholeBlock(lines, filters, size, position, legs)
    hearWhole(op, lines, size, position, legs, level)
  } else sampleBySample(op, legs, lines, filters, entries, position, door, before, past, moves)
  countDown(state(op) + 16, !areQuiet(op) || !isSilent(op, lines, entries, position, door), max(size, entrySize))
  position = (position + BLOCK) & mask
  door = (door + BLOCK) & entryMask
  store<i32>(state(op), position)
  store<i32>(state(op), door, 4)
  store<i32>(state(op), pre, 8)
  memory.copy(past, factors + 384, 64)
  const tiny = f32x4.splat(<f32>TINY)
  for (let at: usize = 0; at < 256; at += 16) {
    v128.store(filters + at, v128.and(v128.load(filters + at), f32x4.ge(f32x4.abs(v128.load(filters + at)), tiny)))
  }
}

// ── a whole block at a time, where no line is shorter than one and nothing moves ──

/** Sixteen rows of a block, one a line, and what comes in, a row a leg. */
const rows = memory.data(16 * 512, 16)
const entered = memory.data(16 * 512, 16)

/** A block of a ring from a place on. */
@inline function unroll(to: usize, ring: usize, size: i32, at: i32): void {
  const place = at & (size - 1), left = size - place
  if (left >= BLOCK) memory.copy(to, ring + (<usize>place << 2), 512)
  else {
    memory.copy(to, ring + (<usize>place << 2), <usize>left << 2)
    memory.copy(to + (<usize>left << 2), ring, 512 - (<usize>left << 2))
  }
}

/** Positions are multiples of a block: what is written never meets a ring's end. */
function enterWhole(
  x: usize, leg: i32, first: i32, second: i32, position: i32, rings: usize, size: i32, pre: i32, gain: f32
): void {
  const to = entered + (<usize>leg << 9), bytes = <usize>size << 2
  let ring = rings + <usize>(leg * 3) * bytes
  const tiny = kept4(0, <f32>TINY), g = kept4(1, gain)
  const into = ring + (<usize>position << 2)
  for (let at: usize = 0; at < 512; at += 16) v128.store(into + at, flush32x4(v128.load(x + at), tiny))
  unroll(to, ring, size, position - pre)
  for (let k = 0; k < 2; k++) {
    ring += bytes
    const length = (k == 0 ? first : second) + leg * 7
    for (let i = 0; i < BLOCK; i += 4) {
      const at = to + (<usize>i << 2)
      const old = four(ring, size, position + i - length)
      const sum = f32x4.add(v128.load(at), f32x4.mul(g, old))
      v128.store(ring + (<usize>(position + i) << 2), flush32x4(sum, tiny))
      v128.store(at, f32x4.sub(old, f32x4.mul(g, sum)))
    }
  }
}

function wholeBlock(lines: usize, filters: usize, size: i32, position: i32, legs: i32): void {
  const bytes = <usize>size << 2
  for (let k: usize = 0; k < 16; k++)
    unroll(rows + (k << 9), lines + k * bytes, size, position - load<i32>(factors + 384 + (k << 2)))
  absorb(filters, 0)
  absorb(filters, 2)
  spread()
  const tiny = kept4(0, <f32>TINY)
  for (let k: usize = 0; k < 16; k++) {
    const row = rows + (k << 9), x = entered + (<usize>(<i32>k % legs) << 9)
    const to = lines + k * bytes + (<usize>position << 2)
    for (let at: usize = 0; at < 512; at += 16) {
      v128.store(to + at, flush32x4(f32x4.add(v128.load(row + at), v128.load(x + at)), tiny))
    }
  }
}

@inline function shelf(b0: v128, b1: v128, a1: v128, x: v128, x1: v128, y1: v128): v128 {
  return f32x4.sub(f32x4.add(f32x4.mul(b0, x), f32x4.mul(b1, x1)), f32x4.mul(a1, y1))
}

/**
 * Low and high shelves of eight lines side by side: one sample waits for the one before, two groups of four fill the
 * time.
 */
function absorb(filters: usize, group: i32): void {
  const f = filters + (<usize>group << 4), h = f + 16
  let x1 = v128.load(f), low1 = v128.load(f, 64), mid1 = v128.load(f, 128), high1 = v128.load(f, 192)
  let x2 = v128.load(h), low2 = v128.load(h, 64), mid2 = v128.load(h, 128), high2 = v128.load(h, 192)
  const top = rows + (<usize>group << 11)
  for (let at = top; at < top + 512; at += 16) {
    turn4(at)
    turn4(at + 2048)
    for (let i: usize = 0; i < 2048; i += 512) {
      const p = v128.load(at + i), q = v128.load(at + 2048 + i)
      low1 = shelf(factor(0, group), factor(1, group), factor(2, group), p, x1, low1)
      low2 = shelf(factor(0, group + 1), factor(1, group + 1), factor(2, group + 1), q, x2, low2)
      x1 = p
      x2 = q
      high1 = shelf(factor(3, group), factor(4, group), factor(5, group), low1, mid1, high1)
      high2 = shelf(factor(3, group + 1), factor(4, group + 1), factor(5, group + 1), low2, mid2, high2)
      mid1 = low1
      mid2 = low2
      v128.store(at + i, high1)
      v128.store(at + 2048 + i, high2)
    }
    turn4(at)
    turn4(at + 2048)
  }
  v128.store(f, x1); v128.store(f, low1, 64); v128.store(f, mid1, 128); v128.store(f, high1, 192)
  v128.store(h, x2); v128.store(h, low2, 64); v128.store(h, mid2, 128); v128.store(h, high2, 192)
}

/** Four rows of four samples: lines become times, and back. */
@inline function turn4(at: usize): void {
  const a = v128.load(at), b = v128.load(at, 512), c = v128.load(at, 1024), d = v128.load(at, 1536)
  const p = v128.shuffle<f32>(a, b, 0, 4, 1, 5), q = v128.shuffle<f32>(a, b, 2, 6, 3, 7)
  const r = v128.shuffle<f32>(c, d, 0, 4, 1, 5), s = v128.shuffle<f32>(c, d, 2, 6, 3, 7)
  v128.store(at, v128.shuffle<f64>(p, r, 0, 2))
  v128.store(at, v128.shuffle<f64>(p, r, 1, 3), 512)
  v128.store(at, v128.shuffle<f64>(q, s, 0, 2), 1024)
  v128.store(at, v128.shuffle<f64>(q, s, 1, 3), 1536)
}

/** The Hadamard matrix over all rows, time in the lanes: groups against groups, then lines within each. */
function spread(): void {
  const quarter = kept4(1, 0.25)
  for (let at = rows; at < rows + 512; at += 16) {
    for (let j: usize = 0; j < 2048; j += 512) {
      const row = at + j
      const a = v128.load(row), b = v128.load(row, 2048), c = v128.load(row, 4096), d = v128.load(row, 6144)
      const e = f32x4.add(a, c), f = f32x4.add(b, d), g = f32x4.sub(a, c), h = f32x4.sub(b, d)
      v128.store(row, f32x4.add(e, f)); v128.store(row, f32x4.sub(e, f), 2048)
      v128.store(row, f32x4.add(g, h), 4096); v128.store(row, f32x4.sub(g, h), 6144)
    }
    for (let group: usize = 0; group < 8192; group += 2048) {
      const row = at + group
      const a = v128.load(row), b = v128.load(row, 512), c = v128.load(row, 1024), d = v128.load(row, 1536)
      const e = f32x4.add(a, c), f = f32x4.add(b, d), g = f32x4.sub(a, c), h = f32x4.sub(b, d)
      v128.store(row, f32x4.mul(f32x4.add(e, f), quarter)); v128.store(row, f32x4.mul(f32x4.sub(e, f), quarter), 512)
      v128.store(row, f32x4.mul(f32x4.add(g, h), quarter), 1024)
      v128.store(row, f32x4.mul(f32x4.sub(g, h), quarter), 1536)
    }
  }
}

/** All legs of a block, from all lines at the places where they are heard. */
function hearWhole(op: usize, lines: usize, size: i32, start: i32, legs: i32, level: f32): void {
  for (let k: usize = 0; k < 16; k++)
    unroll(rows + (k << 9), lines + k * (<usize>size << 2), size, start - load<i32>(places + (k << 2)))
  for (let leg = 0; leg < legs; leg++) {
    const signs = weights + (<usize>leg << 6), out = output(op, leg)
    for (let k: usize = 0; k < 64; k += 4) store<f32>(signs + k, load<f32>(signs + k) * level)
    for (let at: usize = 0; at < 512; at += 32) {
      let a = f32x4.splat(0), b = a
      for (let k: usize = 0; k < 16; k++) {
        const sign = v128.load32_splat(signs + (k << 2)), row = rows + (k << 9) + at
        a = f32x4.add(a, f32x4.mul(sign, v128.load(row)))
        b = f32x4.add(b, f32x4.mul(sign, v128.load(row, 16)))
      }
      v128.store(out + at, a)
      v128.store(out + at, b, 16)
    }
  }
}

// ── sample by sample ──

/** Lines of any length, or lengths that are on their way to others. */
function sampleBySample(
  op: usize, legs: i32, lines: usize, filters: usize, entries: usize, place: i32, doorPlace: i32, before: i32,
  past: usize, moves: bool
): void {
  const pre = <i32>param(op, 1), size = <i32>param(op, 2), entrySize = <i32>param(op, 3)
  const mask = size - 1, entryMask = entrySize - 1
  const first = <i32>param(op, 4), second = <i32>param(op, 5)
  const gain = <f32>param(op, 6), level = <f32>param(op, 7)
  let position = place, door = doorPlace
  for (let i = 0; i < BLOCK; i++) {
    const at = <usize>i << 2
    const share = <f32>(i + 1) / 128
    for (let g = 0; g < 4; g++) {
      const ring = lines + (<usize>g << 4) * <usize>size
      let v = gather(ring, size, factors + 384 + (<usize>g << 4), position, mask)
      if (moves) {
        const old = gather(ring, size, past + (<usize>g << 4), position, mask)
        v = f32x4.add(old, f32x4.mul(f32x4.sub(v, old), f32x4.splat(share)))
      }
      v128.store(scratch + (<usize>g << 4), v)
    }
    // Absorption: a low shelf, then a high shelf.
    for (let g = 0; g < 4; g++) {
      const f = filters + (<usize>g << 4)
      const x = vec(scratch, g)
      const low = f32x4.sub(f32x4.add(f32x4.mul(factor(0, g), x), f32x4.mul(factor(1, g), v128.load(f))),
        f32x4.mul(factor(2, g), v128.load(f, 64)))
      v128.store(f, x)
      v128.store(f, low, 64)
      const high = f32x4.sub(f32x4.add(f32x4.mul(factor(3, g), low), f32x4.mul(factor(4, g), v128.load(f, 128))),
        f32x4.mul(factor(5, g), v128.load(f, 192)))
      v128.store(f, low, 128)
      v128.store(f, high, 192)
      v128.store(scratch + (<usize>g << 4), high)
    }
    // Hadamard of order 16: two steps between vectors, two within.
    let a = vec(scratch, 0), b = vec(scratch, 1), c = vec(scratch, 2), d = vec(scratch, 3)
    let e = f32x4.add(a, c), f = f32x4.add(b, d)
    c = f32x4.sub(a, c); d = f32x4.sub(b, d)
    a = f32x4.add(e, f); b = f32x4.sub(e, f)
    e = f32x4.add(c, d); d = f32x4.sub(c, d); c = e
    a = within(a); b = within(b); c = within(c); d = within(d)
    v128.store(scratch, a); v128.store(scratch, b, 16); v128.store(scratch, c, 32); v128.store(scratch, d, 48)
    for (let leg = 0; leg < legs; leg++) {
      const v = entry(first, second, leg, load<f32>(input(op, leg) + at), door, entries, entrySize, pre, before, share,
        gain)
      for (let k = leg; k < 16; k += legs) {
        const cell = scratch + (<usize>k << 2)
        store<f32>(cell, load<f32>(cell) + v)
      }
    }
    const tiny = f32x4.splat(<f32>TINY)
    for (let g = 0; g < 4; g++)
      scatter(lines + (<usize>g << 4) * <usize>size + (<usize>position << 2), size, flush32x4(vec(scratch, g), tiny))
    position = (position + 1) & mask
    door = (door + 1) & entryMask
  }
  for (let leg = 0; leg < legs; leg++)
    heard(output(op, leg), lines, weights + (<usize>leg << 6), size, (position - BLOCK) & mask, moves, level)
}

/** One leg of a block, from all lines at the places where they are heard. */
function heard(out: usize, lines: usize, signs: usize, size: i32, start: i32, moves: bool, level: f32): void {
  memory.fill(out, 0, BLOCK << 2)
  for (let k: usize = 0; k < 64; k += 4) {
    const ring = lines + k * <usize>size
    const sign = f32x4.splat(load<f32>(signs + k) * level)
    const now = load<i32>(places + k), past = load<i32>(places + 64 + k)
    for (let i = 0; i < BLOCK; i += 4) {
      let v = four(ring, size, start + i - now)
      if (moves) {
        const old = four(ring, size, start + i - past)
        const share = f32x4.mul(f32x4.splat(1.0 / 128), f32x4.add(f32x4.splat(<f32>i), f32x4(1, 2, 3, 4)))
        v = f32x4.add(old, f32x4.mul(f32x4.sub(v, old), share))
      }
      const at = out + (<usize>i << 2)
      v128.store(at, f32x4.add(v128.load(at), f32x4.mul(sign, v)))
    }
  }
}

/** Four samples of a ring, one after the other. */
@inline function four(ring: usize, size: i32, at: i32): v128 {
  const mask = size - 1, place = at & mask
  if (place + 3 <= mask) return v128.load(ring + (<usize>place << 2))
  let v = v128.load32_zero(ring + (<usize>place << 2))
  v = v128.load32_lane(ring + (<usize>((at + 1) & mask) << 2), v, 1)
  v = v128.load32_lane(ring + (<usize>((at + 2) & mask) << 2), v, 2)
  return v128.load32_lane(ring + (<usize>((at + 3) & mask) << 2), v, 3)
}

/** What comes out of four lines whose rings lie one after the other. `lengths`: four i32 */
@inline function gather(ring: usize, size: i32, lengths: usize, position: i32, mask: i32): v128 {
  const bytes = <usize>size << 2
  let v = v128.load32_zero(ring + (<usize>((position - load<i32>(lengths)) & mask) << 2))
  v = v128.load32_lane(ring + bytes + (<usize>((position - load<i32>(lengths, 4)) & mask) << 2), v, 1)
  v = v128.load32_lane(ring + 2 * bytes + (<usize>((position - load<i32>(lengths, 8)) & mask) << 2), v, 2)
  return v128.load32_lane(ring + 3 * bytes + (<usize>((position - load<i32>(lengths, 12)) & mask) << 2), v, 3)
}

@inline function scatter(at: usize, size: i32, v: v128): void {
  const bytes = <usize>size << 2
  v128.store32_lane(at, v, 0)
  v128.store32_lane(at + bytes, v, 1)
  v128.store32_lane(at + 2 * bytes, v, 2)
  v128.store32_lane(at + 3 * bytes, v, 3)
}

@inline function within(v: v128): v128 {
  const swapped = v128.shuffle<f32>(v, v, 2, 3, 0, 1)
  const s1 = f32x4.add(f32x4.mul(v, f32x4(1, 1, -1, -1)), swapped)
  const swapped2 = v128.shuffle<f32>(s1, s1, 1, 0, 3, 2)
  return f32x4.mul(f32x4.add(f32x4.mul(s1, f32x4(1, -1, 1, -1)), swapped2), f32x4.splat(0.25))
}
