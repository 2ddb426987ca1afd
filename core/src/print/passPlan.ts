// In which passes prints are made: as few as can be, nothing used twice in one, what depends on a print after it; of
// those the order in which the least has to be patched and set. Exact for up to twelve prints that are not free.

/** A print as the plan sees it. */
export interface PassJob {
  /** What it has to itself while it runs, and for whose sake: two that share a use share what it needs. */
  claims: ReadonlyMap<string, string>
  /** What has to be patched or set for it, and to what. */
  sets: ReadonlyMap<string, string>
  /** Jobs that have to be done before, by their places in the list. */
  after: readonly number[]
}

export interface PassPlan {
  /** Jobs by their places in the list, pass by pass. */
  passes: number[][]
  /** What has to be patched or set before each. */
  changes: Map<string, string>[]
  /** There can be no fewer passes than this. */
  atLeast: number
  /** Are the passes as few as can be, and what is set as little as can be? */
  exact: boolean
}

const MOST_EXACT = 12
/** Orders that are looked at before the best so far is taken. */
const MOST_LOOKS = 60_000

const count = (mask: number) => {
  let n = 0
  for (let m = mask; m; m &= m - 1) n++
  return n
}
const contradicts = (a: ReadonlyMap<string, string>, b: ReadonlyMap<string, string>) =>
  [...a].some(([what, value]) => b.has(what) && b.get(what) !== value)

/** Can these two not be in one pass? */
export const clash = (a: PassJob, b: PassJob): boolean => contradicts(a.claims, b.claims) || contradicts(a.sets, b.sets)

/** What has to be changed for a pass, as things stand. */
export function changesFor(
  state: ReadonlyMap<string, string>,
  jobs: readonly PassJob[],
  pass: readonly number[]
): Map<string, string> {
  const changes = new Map<string, string>()
  for (const j of pass)
    for (const [what, value] of jobs[j]!.sets) if (state.get(what) !== value) changes.set(what, value)
  return changes
}

/**
 * @param now how everything is patched and set
 * @throws Error where jobs wait for one another in a circle
 */
export function planPasses(jobs: readonly PassJob[], now: ReadonlyMap<string, string>): PassPlan {
  const awaited = new Set(jobs.flatMap(j => j.after))
  const isFree = (job: PassJob, i: number) =>
    !job.after.length && !awaited.has(i) && !jobs.some((o, k) => k !== i && clash(job, o))
  const bound = jobs.flatMap((job, i) => (isFree(job, i) ? [] : [i])),
    free = jobs.flatMap((job, i) => (isFree(job, i) ? [i] : []))
  const table = tableOf(jobs, bound)
  const found = bound.length <= MOST_EXACT ? fewest(table, jobs, now) : { passes: packed(table), exact: false }
  const passes = found.passes.map(pass => pass.map(i => bound[i]!))
  // What is free goes along with the first.
  if (free.length) passes[0] = [...(passes[0] ?? []), ...free]
  for (const pass of passes) pass.sort((a, b) => a - b)
  const changes = changesInTurn(jobs, passes, now)
  const atLeast = found.exact || bound.length <= MOST_EXACT ? passes.length : Math.min(passes.length, leastOf(table))
  return { passes, changes, atLeast, exact: found.exact || atLeast === passes.length }
}

/** What has to be set before each of these passes, one after the other. */
function changesInTurn(
  jobs: readonly PassJob[],
  passes: readonly number[][],
  now: ReadonlyMap<string, string>
): Map<string, string>[] {
  let state = now
  return passes.map(pass => {
    const made = changesFor(state, jobs, pass)
    state = new Map([...state, ...made])
    return made
  })
}

/** Does nothing of this pass wait for one of those before it? */
export const mayComeFirst = ({ passes }: Pick<PassPlan, 'passes'>, jobs: readonly PassJob[], pass: number): boolean => {
  const earlier = new Set(passes.slice(0, pass).flat())
  return !!passes[pass]?.every(i => jobs[i]!.after.every(j => !earlier.has(j)))
}

/** The same passes with one of them first, where that may be: as few, though more may have to be set. */
export function withFirst(
  plan: PassPlan,
  jobs: readonly PassJob[],
  now: ReadonlyMap<string, string>,
  pass: number
): PassPlan {
  if (pass <= 0 || !mayComeFirst(plan, jobs, pass)) return plan
  const passes = [plan.passes[pass]!, ...plan.passes.toSpliced(pass, 1)]
  return { ...plan, passes, changes: changesInTurn(jobs, passes, now) }
}

interface Table {
  size: number
  names: readonly number[]
  /** By job: those that it clashes with, and those that come before it, as bits. */
  clashes: readonly number[][]
  before: readonly number[][]
}

function tableOf(jobs: readonly PassJob[], bound: readonly number[]): Table {
  const place = new Map(bound.map((job, i) => [job, i]))
  return {
    size: bound.length,
    names: bound,
    clashes: bound.map(a => bound.flatMap((b, k) => (a !== b && clash(jobs[a]!, jobs[b]!) ? [k] : []))),
    before: bound.map(a => jobs[a]!.after.flatMap(b => place.get(b) ?? []))
  }
}

const bits = (list: readonly number[]) => list.reduce((mask, i) => mask | (1 << i), 0)

/** All sets of jobs that can run together once `done` is done. */
function together(ready: number, clashes: readonly number[]): number[] {
  const out: number[] = []
  const grow = (chosen: number, open: number): void => {
    if (chosen) out.push(chosen)
    for (let rest = open; rest; rest &= rest - 1) {
      const i = 31 - Math.clz32(rest & -rest)
      const later = rest & (rest - 1)
      grow(chosen | (1 << i), later & ~clashes[i]!)
    }
  }
  grow(0, ready)
  return out
}

function fewest(
  table: Table,
  jobs: readonly PassJob[],
  now: ReadonlyMap<string, string>
): { passes: number[][]; exact: boolean } {
  const { size, names } = table
  const all = 2 ** size - 1,
    clashes = table.clashes.map(bits),
    before = table.before.map(bits)
  const readyOf = (done: number) => {
    let ready = 0
    for (let i = 0; i < size; i++) if (!(done & (1 << i)) && (before[i]! & done) === before[i]) ready |= 1 << i
    return ready
  }
  const known = new Map<number, { ways: number[]; least: number }>()
  /** The fewest passes for what is left; more done is never worse, so only sets that cannot grow count. */
  const look = (done: number): { ways: number[]; least: number } => {
    const found = known.get(done)
    if (found) return found
    const ready = readyOf(done)
    if (done !== all && !ready) throw new Error('prints wait for one another in a circle')
    const ways = done === all ? [] : together(ready, clashes)
    const full = ways.filter(w => {
      for (let i = 0; i < size; i++) if (ready & ~w & (1 << i) && !(clashes[i]! & w)) return false
      return true
    })
    const made = { ways, least: done === all ? 0 : 1 + Math.min(...full.map(w => look(done | w).least)) }
    known.set(done, made)
    return made
  }
  const passOf = (mask: number) => names.map((_, i) => i).filter(i => mask & (1 << i))
  const cost = (state: ReadonlyMap<string, string>, mask: number) =>
    changesFor(
      state,
      jobs,
      passOf(mask).map(i => names[i]!)
    )
  let best: { passes: number[]; price: number } | null = null,
    looks = 0
  const cheapest = new Map<string, number>()
  /** Depth first, the cheapest next pass first; what was reached at less before is left. */
  const search = (done: number, state: ReadonlyMap<string, string>, passes: number[], price: number): void => {
    if (best && price >= best.price) return
    if (done === all) {
      best = { passes, price }
      return
    }
    if (++looks > MOST_LOOKS && best) return
    const key = `${done} ${[...state].map(([what, value]) => `${what}=${value}`).join()}`
    if ((cheapest.get(key) ?? Infinity) <= price) return
    cheapest.set(key, price)
    const { ways, least } = look(done)
    const next = ways
      .filter(w => look(done | w).least === least - 1)
      .map(w => ({ w, changes: cost(state, w) }))
      .sort((a, b) => a.changes.size - b.changes.size || count(b.w) - count(a.w) || a.w - b.w)
    for (const { w, changes } of next)
      search(done | w, new Map([...state, ...changes]), [...passes, w], price + changes.size)
  }
  search(0, now, [], 0)
  return { passes: best!.passes.map(passOf), exact: looks <= MOST_LOOKS }
}

/** Passes that come after one: the longest row of jobs that wait for one another, by job. */
function depths({ size, before }: Table): number[] {
  const after = Array.from({ length: size }, (_, i) => before.flatMap((b, k) => (b.includes(i) ? [k] : [])))
  const depth: number[] = []
  const of = (i: number, seen: ReadonlySet<number>): number => {
    if (seen.has(i)) throw new Error('prints wait for one another in a circle')
    return (depth[i] ??= Math.max(0, ...after[i]!.map(k => 1 + of(k, new Set([...seen, i])))))
  }
  for (let i = 0; i < size; i++) of(i, new Set())
  return depth
}

/** More than can be searched through: what has most waiting behind it first, then what clashes most. */
function packed(table: Table): number[][] {
  const depth = depths(table),
    done = new Set<number>(),
    passes: number[][] = []
  while (done.size < table.size) {
    const ready = table.names
      .map((_, i) => i)
      .filter(i => !done.has(i) && table.before[i]!.every(b => done.has(b)))
      .sort((a, b) => depth[b]! - depth[a]! || table.clashes[b]!.length - table.clashes[a]!.length || a - b)
    const pass: number[] = []
    for (const i of ready) if (!table.clashes[i]!.some(k => pass.includes(k))) pass.push(i)
    pass.forEach(i => done.add(i))
    passes.push(pass)
  }
  return passes
}

/** The longest row of jobs that wait for one another, or a set in which each clashes with each. */
function leastOf(table: Table): number {
  const longest = 1 + Math.max(0, ...depths(table))
  const cliques = table.names.map((_, i) => {
    const set = [i]
    for (const k of table.clashes[i]!.toSorted((a, b) => table.clashes[b]!.length - table.clashes[a]!.length))
      if (set.every(m => table.clashes[m]!.includes(k))) set.push(k)
    return set.length
  })
  return Math.max(longest, ...cliques)
}
