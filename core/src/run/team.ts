// A machine that another thread helps with: what lies in its memory for that (core/kernels/team.ts), and the other
// thread's side of it.
import { kernelsOn } from './kernels'
import type { Schedule } from './schedule'

type Levels = Schedule['levels']

/** Everything that another thread needs to know; it can be sent there. */
export interface Team {
  memory: WebAssembly.Memory
  /** Bytes at which the words lie by which the threads agree, and the levels. */
  at: number
  levels: number
  count: number
  table: number
  buffers: number
  marks: number
}

/** Places of words, as in core/kernels/team.ts. */
const ROWS = [0, 64],
  BEGUN = 192,
  GO = 200,
  FAILED = 208,
  WORDS = 320
const LEVEL = 16,
  JOB = 8
/** A row of which nothing can be taken. */
const NOTHING = 0xffff

const jobCount = (levels: Levels) => levels.reduce((sum, l) => sum + l.own.length + l.others.length, 0)

/** Bytes that it takes, with room to begin at a line of the cache. */
export const teamBytes = (levels: Levels): number => 64 + WORDS + LEVEL * levels.length + JOB * jobCount(levels)

/** Lays it into memory from a byte on. */
export function layTeam(levels: Levels, where: Omit<Team, 'levels' | 'count'>): Team {
  const at = (where.at + 63) & ~63,
    words = new Int32Array(where.memory.buffer)
  for (const row of ROWS) words[(at + row) >> 2] = NOTHING
  let level = at + WORDS,
    job = level + LEVEL * levels.length
  const team = { ...where, at, levels: level, count: levels.length }
  for (const { own, others } of levels) {
    words.set([job, own.length, others.length, 0], level >> 2)
    words.set([...own, ...others].flat(), job >> 2)
    level += LEVEL
    job += JOB * (own.length + others.length)
  }
  return team
}

/** Works on a machine of another thread until `letGo`: blocks the thread that calls it. */
export function help({ memory, at, levels, table, buffers, marks }: Team): void {
  const kernels = kernelsOn<{
    openMarks(buffers: number, marks: number): void
    follow(team: number, table: number, levels: number): void
  }>(memory, 'second')
  kernels.openMarks(buffers, marks)
  try {
    kernels.follow(at, table, levels)
  } catch (error) {
    // Whoever leads would wait for ever.
    Atomics.store(new Int32Array(memory.buffer), (at + FAILED) >> 2, 1)
    throw error
  }
}

/** Whoever helps may come. */
export function takeOn({ memory, at }: Team): void {
  Atomics.store(new Int32Array(memory.buffer), (at + GO) >> 2, 0)
}

/** Whoever helps goes when the job in hand is done. */
export function letGo({ memory, at }: Team): void {
  const words = new Int32Array(memory.buffer)
  Atomics.store(words, (at + GO) >> 2, 1)
  Atomics.add(words, (at + BEGUN) >> 2, 1)
  Atomics.notify(words, (at + BEGUN) >> 2)
}
