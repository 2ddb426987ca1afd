// Passes as they are planned by hand: kept over a reload, run as one job, put back afterwards.
import { describe, expect, it } from 'vitest'
import { nextTick } from 'vue'
import { Sketch } from '@nullet/core/testing/sketch'
import { wantedTap, type WantedTap } from '~/session/printsPlan'
import { useJobs } from './jobs'
import { usePasses } from './passes'
import { openStage } from './testing'

const KEY = 'nullet passes s'
function room() {
  const k = new Sketch()
  k.bus('main', { role: 'main' })
  for (const id of ['kora', 'lute']) k.main(k.track(id), 'main')
  k.rig('loft')
  k.interface('desk', 'loft', 2, 2)
  k.unit('amp', 'loft', 'tube-amplifier', {}, { name: 'Amp' })
  k.cable('loft', 'desk-out-1', 'amp:0')
  k.cable('loft', 'amp:0', 'desk-in-1')
  return k.session
}
const out = (source: string, driveDb = 14): WantedTap => ({
  ...wantedTap(source, 'pre'),
  through: {
    ...{ tap: 'input', levelDb: 0, outPorts: ['desk-out-1'], inPorts: ['desk-in-1'], instead: {} },
    settings: driveDb === 14 ? {} : { amp: { driveDb } }
  }
})
/** @param kept what this browser kept of an earlier page */
async function stand(kept?: string) {
  const stage = await openStage(room())
  if (kept) localStorage.setItem(KEY, kept)
  const passes = usePasses(),
    jobs = useJobs()
  const started: { label: string; args: Record<string, unknown> }[] = []
  jobs.start = async (_kind, label, args) => {
    started.push({ label, args: args as Record<string, unknown> })
    return 'job'
  }
  return { stage, passes, started }
}

describe('planned passes', () => {
  it('hold each tap once, another try as another line, and survive a reload', async () => {
    const { passes } = await stand()
    passes.add([out('kora'), wantedTap('lute')])
    passes.add([wantedTap('lute')])
    passes.tryAgain(passes.wanted[0]!.print)
    passes.set(passes.wanted[1]!.print, { name: 'Hot' })
    expect(passes.planned.map(p => [p.source, p.name, p.place])).toEqual([
      ['kora', 'kora, Amp', 'over'],
      ['kora', 'Hot', 'take'],
      ['lute', 'lute print', 'over']
    ])
    expect(passes.plan.passes).toEqual([[0, 2], [1]])
    const before = passes.wanted
    passes.tick('a line', true)
    await nextTick()
    const { passes: again } = await stand(localStorage.getItem(KEY)!)
    expect(again.wanted).toEqual(before)
    expect(again.isTicked('a line')).toBe(true)
    expect((await stand('{"wanted": 3}')).passes.wanted).toEqual([])
  })

  it('run as one job with the pass of each; tries go onto the track of the first', async () => {
    const { passes, started } = await stand()
    passes.add([out('kora'), out('kora', 30), out('lute')])
    await passes.run([0, 1, 2])
    const { items } = started[0]!.args as {
      items: { track: string; pass: number; take: object | null; name: string }[]
    }
    expect(items.map(i => i.pass)).toEqual([0, 1, 2])
    const [first, second] = items.filter(i => i.name !== 'lute, Amp') as [(typeof items)[0], (typeof items)[0]]
    expect(second.track).toBe(first.track)
    expect([first.take, second.take]).toMatchObject([null, { former: { name: first.name } }])
    expect(started[0]!.label).toBe('Print of 3 taps')
    expect(passes.wanted).toEqual([])
  })

  it('make a track by the name that was meant for it, whichever try comes first', async () => {
    const { passes, started } = await stand()
    // It stands at 14: the second try needs nothing set, and goes first.
    passes.add([out('kora', 30), out('kora')])
    expect(passes.plan.passes).toEqual([[1], [0]])
    await passes.run([0, 1])
    const { items } = started[0]!.args as { items: { name: string; take: { name: string } | null }[] }
    expect(items.map(i => [i.name, i.take?.name])).toEqual([
      ['kora, Amp', undefined],
      ['kora, Amp', 'kora, Amp']
    ])
  })

  it('know what a pass has left standing, and ask for it back', async () => {
    const { passes } = await stand()
    passes.add([out('kora', 30), out('lute', 30)])
    expect(passes.plan.cards.map(c => c.todo.length)).toEqual([1, 0])
    await passes.run([0])
    expect(passes.planned).toHaveLength(1)
    // It stands as the first pass left it.
    expect(passes.plan.cards.map(c => c.todo)).toEqual([[]])
    await passes.run([0])
    expect(passes.plan.back.map(b => b.text)).toEqual(['“Amp”: Drive 14 dB (is 30 dB)'])
    passes.allBack()
    expect(passes.plan.back).toEqual([])
  })

  it('say why a print cannot be', async () => {
    const { passes } = await stand()
    passes.add([{ ...out('kora'), through: { ...out('kora').through!, inPorts: ['gone'] } }])
    expect([...passes.plan.refused.values()].join()).toMatch(/not in the rig any more/)
  })
})
