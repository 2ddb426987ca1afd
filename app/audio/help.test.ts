// Another thread is asked for where a machine is laid out for two, and goes from one to the next.
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
  it('is asked for once for a machine that is laid out for two, and let go for one that is not', () => {
    const { help, sent } = helped(),
      one = machine()
    expect([one, one].map(m => help.with(m))).toEqual([true, false])
    expect(sent).toEqual([one.forAnother])
    expect([help.cores, isLetGo(one.forAnother!)]).toEqual([2, false])
    expect(help.with(machine(false))).toBe(true)
    expect([help.cores, isLetGo(one.forAnother!)]).toEqual([1, true])
    // And asked for again.
    expect(help.with(one)).toBe(true)
    expect([sent.length, isLetGo(one.forAnother!)]).toEqual([2, false])
  })

  it('is not asked any more after it has failed', () => {
    const { help, sent } = helped(),
      one = machine()
    help.with(one)
    help.over(null)
    expect(isLetGo(one.forAnother!)).toBe(true)
    expect(help.with(one)).toBe(false)
    expect([help.cores, sent.length]).toEqual([1, 1])
  })

  it('goes from one machine to the next', () => {
    const { help, sent } = helped(),
      [one, two] = [machine(), machine()]
    help.with(one)
    help.with(two)
    expect(sent).toEqual([one.forAnother, two.forAnother])
    expect([one, two].map(m => isLetGo(m.forAnother!))).toEqual([true, false])
    help.with(machine(false))
    expect(isLetGo(two.forAnother!)).toBe(true)
  })
})
