// One block by two threads. A plan lies in levels, in each of which no step needs another one; a level is done before
// the next begins, so whoever computes a step, the samples are the same. The steps of a level lie in jobs of some
// microseconds, in two rows: those whose inputs this thread has made, and the other's. Each thread takes from its own
// row first, then from the other one. If the second thread is not there, or held up between two jobs, the first does
// all; it waits only for a job that the other has begun.
//
// Whoever takes a job exchanges the row's word, [32 bits turn | 16 level | 16 next job], for the next one: who comes
// late, when another level or block has begun, finds another turn there and gets nothing.
import { walk, begin } from './walk'

/** A line of the cache each, so that the threads do not wait for words that they do not need. */
const OWN: usize = 0, OTHER: usize = 64, DONE: usize = 128, CALL: usize = 192, FRAME: usize = 256
/** Of one line: blocks begun; is the second thread asleep; is it to go; turns so far; has it failed. */
const BEGUN = CALL, ASLEEP = CALL + 4, GO = CALL + 8, TURN = CALL + 12, FAILED = CALL + 16

/** Looks at a word before a thread sleeps, at one to two nanoseconds each: to be woken takes about as long. */
const PATIENCE: i32 = 100_000
const SLEEP_NS: i64 = 1_000_000_000
/** A job takes microseconds, and the other thread may be held up: after so many looks in so long it is not there. */
const LOOK_NS: i64 = 200_000, MOST_LOOKS: i32 = 50_000

@inline function jobsOf(level: usize): usize { return load<usize>(level) }
@inline function own(level: usize): i32 { return load<i32>(level, 4) }
@inline function others(level: usize): i32 { return load<i32>(level, 8) }

/** Runs the steps of a job: [first step, steps]. */
@inline function work(table: usize, job: usize): void {
  walk(table + (<usize>load<i32>(job) << 2), load<i32>(job, 4))
}

/** What came of looking for a job: there was none, it is done, or the other thread was quicker. */
const NONE: i32 = 0, DID: i32 = 1, LOST: i32 = 2

/** Takes one job of a row and does it. */
function takeOne(team: usize, row: usize, table: usize, levels: usize, isSecond: bool): i32 {
  const word = atomic.load<u64>(team + row)
  const level = levels + ((<usize>(word >> 16) & 0xffff) << 4), next = <i32>(word & 0xffff)
  const isOwn = row == OWN
  if (next >= (isOwn ? own(level) : others(level))) return NONE
  if (atomic.cmpxchg<u64>(team + row, word, word + 1) != word) return LOST
  if (isSecond) begin(load<f64>(team + FRAME))
  work(table, jobsOf(level) + (<usize>(isOwn ? next : own(level) + next) << 3))
  if (isSecond) atomic.add<i32>(team + DONE, 1)
  return DID
}

/** Takes jobs of a row until there is none. @returns how many this thread has done */
function takeAll(team: usize, row: usize, table: usize, levels: usize): i32 {
  let did = 0, came = DID
  while (came != NONE) {
    came = takeOne(team, row, table, levels, false)
    if (came == DID) did++
  }
  return did
}

/** What the first thread has not done the second has begun. Without it a block cannot be right any more: that traps. */
function waitFor(team: usize, left: i32): void {
  let looks = 0
  for (let done = atomic.load<i32>(team + DONE); done < left; done = atomic.load<i32>(team + DONE)) {
    if (++looks < PATIENCE) continue
    if (atomic.load<i32>(team + FAILED) || looks > PATIENCE + MOST_LOOKS) unreachable()
    // Where both share a core, the other one comes on.
    atomic.wait<i32>(team + DONE, done, LOOK_NS)
  }
}

/** A block begins: whoever sleeps is woken. */
export function rouse(team: usize, frame: f64): void {
  begin(frame)
  store<f64>(team + FRAME, frame)
  atomic.add<i32>(team + BEGUN, 1)
  if (atomic.load<i32>(team + ASLEEP)) atomic.notify(team + BEGUN, 1)
}

/** From now on jobs of a level can be taken. One that is a single job is the first thread's. */
function open(team: usize, levels: usize, i: i32): void {
  const level = levels + (<usize>i << 4)
  if (own(level) + others(level) == 1) return
  const turn = load<u32>(team + TURN) + 1
  store<u32>(team + TURN, turn)
  const word = (<u64>turn << 32) | (<u64>i << 16)
  atomic.store<i32>(team + DONE, 0)
  atomic.store<u64>(team + OTHER, word)
  atomic.store<u64>(team + OWN, word)
}

/**
 * The first thread's part of some levels of a block, which are done when it returns. The one after them is open then,
 * and the second thread at work on it, whatever the first does before it goes on there.
 * @param levels `count` times [jobs, how many are own, how many are the other's, 0]
 */
export function lead(team: usize, table: usize, levels: usize, count: i32, from: i32, to: i32): void {
  if (from == 0) open(team, levels, 0)
  for (let i = from; i < to; i++) {
    const level = levels + (<usize>i << 4), jobs = own(level) + others(level)
    if (jobs == 1) work(table, jobsOf(level))
    else {
      const did = takeAll(team, OWN, table, levels) + takeAll(team, OTHER, table, levels)
      waitFor(team, jobs - did)
    }
    if (i + 1 < count) open(team, levels, i + 1)
  }
}

/** The second thread's part, block after block, until it is to go. */
export function follow(team: usize, table: usize, levels: usize): void {
  let idle = 0
  while (!atomic.load<i32>(team + GO)) {
    const begun = atomic.load<i32>(team + BEGUN)
    if (takeOne(team, OTHER, table, levels, true) || takeOne(team, OWN, table, levels, true)) { idle = 0; continue }
    if (++idle < PATIENCE) continue
    atomic.store<i32>(team + ASLEEP, 1)
    // A block that has begun since is not slept through: the word is another one then.
    atomic.wait<i32>(team + BEGUN, begun, SLEEP_NS)
    atomic.store<i32>(team + ASLEEP, 0)
    idle = 0
  }
}
