// Two threads share the steps of a level: nothing that a job touches is written by another one, so whoever takes them,
// in whatever order, the samples are the same. With two real threads: host/threads.test.ts.
import { describe, expect, it } from 'vitest'
import { compile } from '../compile/compile'
import { rows, type Session } from '../session/session'
import { noiseFor, processedNetwork } from '../testing/generatedSound'
import { times } from '../testing/lengths'
import { peak } from '../testing/sound'
import { layOut } from './layout'
import { Machine } from './machine'
import { schedule, type Job, type Schedule } from './schedule'
import { PlanStream, renderWhole } from './stream'
import { weightOf } from './weights'

const FRAMES = 6000
const SIZE = { tracks: 24, submixes: 5, returns: 3, stems: 3, sends: 30, keys: 5, frames: FRAMES }
const SEEDS = Array.from({ length: times(6, 60) }, (_, i) => i + 1)

const planOf = (session: Session) =>
  compile(session, { taps: rows(session, 'channel').map(c => ({ channel: c.id, tap: 'post' })), live: true })

const inJob = ({ steps }: Schedule, [first, count]: Job) => steps.slice(first, first + count)
const jobsIn = (level: Schedule['levels'][number]) => [...level.own, ...level.others]

describe('shares of two threads', () => {
  it.each(SEEDS)('name each step once, and no job needs what another one of its level writes: network %i', seed => {
    const { ops } = planOf(processedNetwork(seed, SIZE)),
      plan = schedule(ops, true)
    const order = plan.levels
      .flatMap(jobsIn)
      .flatMap(([first, count]) => Array.from({ length: count }, (_, i) => first + i))
    expect(order).toEqual(plan.steps.map((_, i) => i))
    expect(plan.steps.flatMap(s => s.lanes).length).toBe(ops.length)
    for (const level of plan.levels) {
      const jobs = jobsIn(level).map(job => inJob(plan, job))
      const writes = jobs.map(steps => new Set(steps.flatMap(s => s.outs)))
      jobs.forEach((steps, i) => {
        const touched = steps.flatMap(s => [...s.ins, ...s.outs])
        writes.forEach((set, k) => i !== k && expect(touched.filter(b => set.has(b))).toEqual([]))
      })
    }
  })

  it('are about as much work each, where there are enough tracks', () => {
    const plan = schedule(planOf(processedNetwork(3, SIZE)).ops, true)
    const work = (jobs: Job[]) => jobs.reduce((sum, job) => sum + weightOf(inJob(plan, job).flatMap(s => s.lanes)), 0)
    const shared = plan.levels.filter(l => l.others.length)
    expect(shared.length).toBeGreaterThan(3)
    const [own, others] = (['own', 'others'] as const).map(who => shared.reduce((sum, l) => sum + work(l[who]), 0))
    expect(Math.max(own!, others!) / (own! + others!)).toBeLessThan(0.6)
  })

  it.each(SEEDS)('give one thread alone the samples of a machine laid out for one: network %i', async seed => {
    const session = processedNetwork(seed, SIZE),
      media = noiseFor(session)
    const render = (forTwo: boolean) => {
      const plan = planOf(session)
      return renderWhole(new PlanStream(plan, session, media, new Machine(plan.ops, layOut(plan.ops, { forTwo }))), {
        from: 0,
        frames: FRAMES
      })
    }
    const one = await render(false)
    expect(Math.max(...[...one.values()].flat().map(peak))).toBeGreaterThan(0.1)
    expect(await render(true)).toEqual(one)
  })
})
