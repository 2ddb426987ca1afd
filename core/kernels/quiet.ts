// What is silent costs nothing: a buffer whose block holds nothing but +0 is marked, and an operation of which all
// inputs are marked and which keeps nothing that could still sound gives silence without being computed. The samples
// are those that it would have given: every kernel says why where it rests.
import { BYTES, inputs, input, outputs, output } from './op'

/** Where the buffers begin, and a byte for each of them; 0: nothing is marked, and nothing rests. */
let buffers: usize = 0
let marks: usize = 0

/** Said once, before the first block. `marks` has a byte for each buffer. */
export function openMarks(firstBuffer: usize, firstMark: usize): void {
  buffers = firstBuffer
  marks = firstMark
}

@inline function markOf(buffer: usize): usize { return marks + ((buffer - buffers) >> 9) }
@inline export function isQuiet(buffer: usize): bool { return marks != 0 && load<u8>(markOf(buffer)) != 0 }

/** Are so many bytes, a multiple of sixteen, nothing but zeros? */
export function isZero(from: usize, bytes: usize): bool {
  for (const end = from + bytes; from < end; from += 16) if (v128.any_true(v128.load(from))) return false
  return true
}

/** An output of nothing: one that is marked holds nothing already. */
@inline export function hush(out: usize): void { if (!isQuiet(out)) memory.fill(out, 0, BYTES) }

/** Are all inputs of an operation marked? */
export function areQuiet(op: usize): bool {
  for (let i = 0; i < inputs(op); i++) if (!isQuiet(input(op, i))) return false
  return marks != 0
}

export function hushAll(op: usize): void {
  for (let i = 0; i < outputs(op); i++) hush(output(op, i))
}

/**
 * For how many blocks a ring of so many frames still holds anything: as many as it has, after the last that was not
 * silent. `left`: an i32 of the state, 0 while nothing has come in yet.
 */
@inline export function countDown(left: usize, sounded: bool, frames: i32): void {
  store<i32>(left, sounded ? frames >> 7 : max(0, load<i32>(left) - 1))
}

/** Marks what an operation gave: sound is found in the first look. */
export function look(op: usize): void {
  if (!marks) return
  const end = op + 20 + (<usize>(inputs(op) + outputs(op)) << 2)
  for (let at = op + 20 + (<usize>inputs(op) << 2); at < end; at += 4) {
    const out = load<usize>(at)
    store<u8>(markOf(out), u8(!v128.any_true(v128.load(out)) && isZero(out, BYTES)))
  }
}
