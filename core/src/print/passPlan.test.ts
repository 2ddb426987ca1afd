// Plans of passes: as short as the best of all there are, nothing twice, nothing too early, as little to patch as can
// be.
import { describe, expect, it } from 'vitest'
import { Dice } from '../testing/generated'
import { changesFor, clash, mayComeFirst, type PassJob, planPasses, withFirst } from './passPlan'

let uses = 0
const job = (claims: string[], after: number[] = [], sets: Record<string, string> = {}): PassJob => ({
  // Everyone for their own sake.
  claims: new Map(claims.map(c => [c, `use ${++uses}`])),
  sets: new Map(Object.entries(sets)),
  after
})

/** All ways to put jobs into passes, in order; the fewest, and of those the least that has to be set. */
function best(jobs: readonly PassJob[], now: ReadonlyMap<string, string>): { passes: number; price: number } {
  let found = { passes: Infinity, price: Infinity }
  const go = (left: number[], passes: number, price: number, state: ReadonlyMap<string, string>): void => {
    if (!left.length) {
      if (passes < found.passes || (passes === found.passes && price < found.price)) found = { passes, price }
      return
    }
    if (passes >= found.passes) return
    const ready = left.filter(i => jobs[i]!.after.every(b => !left.includes(b)))
    for (let mask = 1; mask < 2 ** ready.length; mask++) {
      const pass = ready.filter((_, k) => mask & (1 << k))
      if (pass.some((a, n) => pass.slice(n + 1).some(b => clash(jobs[a]!, jobs[b]!)))) continue
      const changes = changesFor(state, jobs, pass)
      const rest = left.filter(i => !pass.includes(i))
      go(rest, passes + 1, price + changes.size, new Map([...state, ...changes]))
    }
  }
  go(
    jobs.map((_, i) => i),
    0,
    0,
    now
  )
  return found
}

const NOW = new Map([
  ['drive', 'low'],
  ['cable', 'desk']
])
function generated(seed: number, most: number): PassJob[] {
  const dice = new Dice(seed)
  return Array.from({ length: 2 + dice.below(most - 1) }, (_, i) => {
    const sets: Record<string, string> = {}
    if (dice.chance(0.5)) sets.drive = dice.pick(['low', 'high', 'wild'])
    if (dice.chance(0.3)) sets.cable = dice.pick(['desk', 'floor'])
    const claims = ['out 1', 'out 2', 'tape', 'spring', 'amp'].filter(() => dice.chance(0.35))
    return job(claims, i > 0 && dice.chance(0.3) ? [dice.below(i)] : [], sets)
  })
}

function expectRight(jobs: readonly PassJob[], passes: readonly (readonly number[])[]): void {
  expect(passes.flat().toSorted((a, b) => a - b)).toEqual(jobs.map((_, i) => i))
  passes.forEach((pass, n) => {
    for (const [k, a] of pass.entries())
      for (const b of pass.slice(k + 1)) expect(clash(jobs[a]!, jobs[b]!), `${a} beside ${b}`).toBe(false)
    for (const a of pass)
      for (const b of jobs[a]!.after) expect(passes.slice(0, n).flat(), `${b} before ${a}`).toContain(b)
  })
}

describe('a plan of passes', () => {
  it('of what uses nothing is one pass', () => {
    const plan = planPasses([job([]), job([]), job([])], NOW)
    expect(plan).toMatchObject({ passes: [[0, 1, 2]], atLeast: 1, exact: true })
  })

  it('of nothing is no pass', () => {
    expect(planPasses([], NOW).passes).toEqual([])
  })

  it('has what one unit serves one after the other, in the order in which it is set the least', () => {
    const jobs = [
      job(['amp'], [], { drive: 'high' }),
      job(['amp'], [], { drive: 'low' }),
      job(['amp'], [], { drive: 'high' })
    ]
    const plan = planPasses(jobs, NOW)
    expect(plan.passes).toEqual([[1], [0], [2]])
    expect(plan.changes.map(c => [...c])).toEqual([[], [['drive', 'high']], []])
  })

  it('keeps to what has to come before', () => {
    const plan = planPasses([job([], [1]), job(['amp']), job(['amp'])], NOW)
    expectRight([job([], [1]), job(['amp']), job(['amp'])], plan.passes)
    expect(plan.passes).toHaveLength(2)
    expect(plan.passes[0]).toContain(1)
  })

  it('of 40 generated cases is as short as the best of all, and sets as little', () => {
    for (let seed = 1; seed <= 40; seed++) {
      const jobs = generated(seed, 6)
      const plan = planPasses(jobs, NOW),
        wanted = best(jobs, NOW)
      expectRight(jobs, plan.passes)
      const price = plan.changes.reduce((sum, c) => sum + c.size, 0)
      expect([plan.passes.length, price], `seed ${seed}`).toEqual([wanted.passes, wanted.price])
      expect(plan).toMatchObject({ exact: true, atLeast: wanted.passes })
    }
  })

  it('with another pass first has as many, in an order that may be: 60 generated cases', () => {
    let moved = 0
    for (let seed = 1; seed <= 60; seed++) {
      const jobs = generated(seed, 6),
        plan = planPasses(jobs, NOW)
      plan.passes.forEach((pass, n) => {
        const other = withFirst(plan, jobs, NOW, n)
        expectRight(jobs, other.passes)
        expect(other.passes.map(String).sort()).toEqual(plan.passes.map(String).sort())
        if (n === 0 || !mayComeFirst(plan, jobs, n)) expect(other).toBe(plan)
        else {
          moved++
          expect(other.passes[0]).toEqual(pass)
          // Each pass finds everything as it needs it.
          const state = new Map(NOW)
          other.passes.forEach((ids, k) => {
            for (const [what, value] of other.changes[k]!) state.set(what, value)
            for (const i of ids) for (const [what, value] of jobs[i]!.sets) expect(state.get(what)).toBe(value)
          })
        }
      })
    }
    expect(moved).toBeGreaterThan(20)
    expect(withFirst(planPasses([], NOW), [], NOW, -1).passes).toEqual([])
  })

  it('of twelve is exact, of more it is right and says what it cannot be less than', () => {
    for (let seed = 1; seed <= 12; seed++) {
      const jobs = Array.from({ length: seed === 1 ? 12 : 30 }, (_, i) => generated(seed * 100 + i, 2)[0]!)
      const plan = planPasses(jobs, NOW)
      expectRight(jobs, plan.passes)
      expect(plan.atLeast).toBeLessThanOrEqual(plan.passes.length)
      expect(plan.atLeast).toBeGreaterThan(0)
    }
  })

  it('of prints that wait for one another is refused', () => {
    expect(() => planPasses([job([], [1]), job([], [0])], NOW)).toThrow(/circle/)
    const ring = Array.from({ length: 14 }, (_, i) => job(['amp'], [(i + 1) % 14]))
    expect(() => planPasses(ring, NOW)).toThrow(/circle/)
  })
})
