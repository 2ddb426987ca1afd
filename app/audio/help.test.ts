// Another thread is asked for where a machine takes much of real time, and let go where it takes little.
import { describe, expect, it } from 'vitest'
import { PlanBuilder } from '@nullet/core/plan/builder'
import { layOut } from '@nullet/core/run/layout'
import { Machine } from '@nullet/core/run/machine'
import type { Team } from '@nullet/core/run/team'
import { Help } from './help'

function machine(forTwo = true): Machine {
  const builder = new PlanBuilder()
  builder.sink('out', builder.gain('gain', builder.source('in', ['M'], [1]), 1))
  return new Machine(builder.ops, layOut(builder.ops, { forTwo }))
}
/** Is whoever helps with it to go? As in core/kernels/team.ts. */
const isLetGo = ({ memory, at }: Team) => new Int32Array(memory.buffer)[(at + 200) >> 2] === 1

function helped() {
  const help = new Help(),
    sent: Team[] = []
  help.over({ postMessage: (team: Team) => sent.push(team) } as unknown as MessagePort)
  return { help, sent }
}

describe('another thread', () => {
  it('is asked for where there is much to do, once, and let go where there is little', () => {
    const { help, sent } = helped(),
      one = machine()
    help.with(one, 0.2)
    expect(sent).toEqual([])
    expect([0.5, 0.3, 0.2].map(share => help.with(one, share))).toEqual([true, false, false])
    expect(help.cores).toBe(2)
    expect(sent).toEqual([one.forAnother])
    expect(isLetGo(one.forAnother!)).toBe(false)
    expect(help.with(one, 0.05)).toBe(true)
    expect(help.cores).toBe(1)
    expect(isLetGo(one.forAnother!)).toBe(true)
    help.with(one, 0.5)
    expect(sent.length).toBe(2)
    expect(isLetGo(one.forAnother!)).toBe(false)
  })

  it('is not asked any more after it has failed', () => {
    const { help, sent } = helped(),
      one = machine()
    help.with(one, 0.5)
    help.over(null)
    expect(isLetGo(one.forAnother!)).toBe(true)
    expect(help.with(one, 0.5)).toBe(false)
    expect([help.cores, sent.length]).toEqual([1, 1])
  })

  it('goes from one machine to the next', () => {
    const { help, sent } = helped(),
      [one, two] = [machine(), machine()]
    help.with(one, 0.5)
    help.with(two, 0.5)
    expect(sent).toEqual([one.forAnother, two.forAnother])
    expect([one, two].map(m => isLetGo(m.forAnother!))).toEqual([true, false])
    help.with(machine(false), 0.5)
    expect(isLetGo(two.forAnother!)).toBe(true)
  })
})
