// Prints that go out to units for themselves: what comes back is that source alone, through units set for it; jobs say
// what they need, what has to be set, and what goes before what.
import { describe, expect, it } from 'vitest'
import { difference, peak, renderTaps, rmsDb, whiteNoise } from '../testing/sound'
import { applyEdit } from '../edits/apply'
import { Sketch } from '../testing/sketch'
import type { Through } from '../session/rows'
import type { Session } from '../session/session'
import { planPasses } from './passPlan'
import { passCards, passJobs, standing, type Wanted } from './passJobs'
import { fingerprintOf, soundingSource, staleParts } from './stale'
import { returnTap, staged } from './through'

const FRAMES = 24000
const media = { a: [whiteNoise(FRAMES, 1, 0.1)], b: [whiteNoise(FRAMES, 2, 0.1)] }

/** Two instruments; two amplifiers, one wired, one with its own ports; a tape deck plugged on the drums. */
function room(): Sketch {
  const k = new Sketch()
  k.medium('a', 1, FRAMES)
  k.medium('b', 1, FRAMES)
  k.bus('main', { role: 'main' })
  k.main(k.track('kora', 'a', { layout: ['M'] }), 'main')
  k.main(k.track('lute', 'b', { layout: ['M'] }), 'main')
  k.bus('strings', { role: 'submix' })
  k.main('strings', 'main')
  k.rig('loft')
  k.interface('desk', 'loft', 4, 4)
  for (const id of ['amp', 'stack']) k.unit(id, 'loft', 'tube-amplifier')
  k.cable('loft', 'desk-out-1', 'amp:0')
  k.cable('loft', 'amp:0', 'desk-in-1')
  k.cable('loft', 'desk-out-2', 'stack:0')
  k.cable('loft', 'stack:0', 'desk-in-2')
  k.session.session.session = { ...k.session.session.session!, rig: 'loft' }
  return k
}
const way = (fields: Partial<Through> = {}): Through => ({
  tap: 'input',
  levelDb: 0,
  outPorts: ['desk-out-1'],
  inPorts: ['desk-in-1'],
  settings: {},
  instead: {},
  ...fields
})
const wanted = (name: string, source: string, through: Through | null, fields: Partial<Wanted> = {}): Wanted => ({
  print: name.replaceAll(' ', '-'),
  source,
  through,
  tap: 'pre',
  share: null,
  takesOver: true,
  take: null,
  name,
  ...fields
})

async function back(session: Session, items: Wanted[], frames = FRAMES): Promise<Record<string, Float32Array[]>> {
  const stage = staged(
    session,
    items.map(i => ({ print: i.print, source: i.source, through: i.through! }))
  )
  const taps = items.map(i => returnTap(i.print))
  const all = await renderTaps(stage, media, frames, { taps, seed: 5 })
  return Object.fromEntries(items.map((i, n) => [i.print, all.get(`${taps[n]!.channel}@post`)!]))
}

describe('a print that goes out for itself', () => {
  it('is the source through the unit, whatever else the session sends there', async () => {
    const k = room()
    const alone = (await back(k.session, [wanted('p', 'kora', way())])).p!
    expect(rmsDb(alone[0]!)).toBeGreaterThan(-60)
    // The whole mix into the same amplifier, and the amplifier plugged on a bus.
    k.add('feed', { id: 'mix-out', kind: 'port', from: 'main', ports: ['desk-out-1'] })
    expect((await back(k.session, [wanted('p', 'kora', way())])).p![0]).toEqual(alone[0])
    const j = room()
    j.add('loop', { id: 'amp-loop', rig: 'loft', name: 'Amp', outPorts: ['desk-out-1'], inPorts: ['desk-in-1'] })
    j.slot('strings', 'loop', {}, { loop: 'amp-loop' })
    expect((await back(j.session, [wanted('p', 'kora', way())])).p![0]).toEqual(alone[0])
  })

  it('leaves at its tap and level: the fader does not count at the input', async () => {
    const k = room()
    const at = async (through: Through) => (await back(k.session, [wanted('p', 'kora', through)])).p![0]!
    const before = await at(way())
    const lowered = applyEdit(k.session, { verb: 'setChannels', args: { ids: ['kora'], fields: { levelDb: -12 } } })
    const again = (await back(lowered.session, [wanted('p', 'kora', way())])).p![0]!
    expect(again).toEqual(before)
    const post = (await back(lowered.session, [wanted('p', 'kora', way({ tap: 'post' }))])).p![0]!
    expect(peak(difference(post, before))).toBeGreaterThan(1e-3)
  })

  it('has units set as it says, and another unit where it says so', async () => {
    const k = room()
    const sound = async (fields: Partial<Through>) => (await back(k.session, [wanted('p', 'kora', way(fields))])).p![0]!
    const [plain, driven] = [await sound({}), await sound({ settings: { amp: { driveDb: 40 } } })]
    expect(peak(difference(plain, driven))).toBeGreaterThan(1e-3)
    // The other amplifier in its place, set alike, gives what the first gives but for its own noise.
    const other = await sound({ instead: { amp: 'stack' } })
    expect(rmsDb(difference(other, plain)) - rmsDb(plain)).toBeLessThan(-40)
    expect(peak(difference(other, plain))).toBeGreaterThan(0)
    // The session itself stays as it was.
    expect(k.session.unit.amp!.settings).toEqual({})
    expect(Object.keys(k.session.channel)).not.toContain('p/return')
  })

  it('two in one pass sound as each by itself', async () => {
    const k = room()
    const one = wanted('one', 'kora', way()),
      two = wanted('two', 'lute', way({ outPorts: ['desk-out-2'], inPorts: ['desk-in-2'] }))
    const both = await back(k.session, [one, two])
    expect(both.one![0]).toEqual((await back(k.session, [one])).one![0])
    expect(both.two![0]).toEqual((await back(k.session, [two])).two![0])
  })

  it('of a parked source is what the source sounds like', async () => {
    const k = room()
    const item = wanted('p', 'kora', way())
    const before = (await back(k.session, [item])).p![0]
    k.session.channel.kora = { ...k.session.channel.kora!, parked: true }
    expect((await back(soundingSource(k.session, 'kora'), [item])).p![0]).toEqual(before)
  })

  it('goes stale with the unit, its settings, cables and source; not with what keeps out of its way', () => {
    const k = room()
    const made = { id: 'p', source: 'kora', tap: 'pre' as const, share: null, through: way() }
    const { hash, parts } = fingerprintOf(k.session, { ...made, seed: 5, startFrame: 0, frames: FRAMES })
    k.track('kora-amp')
    const row = { ...made, channel: 'kora-amp', fingerprint: hash, parts, seed: 5, frames: FRAMES, takesOver: true }
    k.add('print', row)
    expect(staleParts(k.session, 'p')).toEqual([])
    const after = (verb: string, args: Record<string, unknown>) =>
      staleParts(applyEdit(k.session, { verb, args }).session, 'p')
    expect(after('setUnit', { id: 'amp', fields: { settings: { driveDb: 30 } } })).toEqual(['unit amp'])
    expect(after('setUnit', { id: 'stack', fields: { settings: { driveDb: 30 } } })).toEqual([])
    expect(after('setChannels', { ids: ['kora'], fields: { trimDb: 2 } })).toEqual(['channel kora'])
    expect(after('setChannels', { ids: ['kora'], fields: { levelDb: 2 } })).toEqual([])
    expect(after('setChannels', { ids: ['kora'], fields: { parked: true } })).toEqual([])
    const sent = { feedId: 'n', channel: 'main', ports: ['desk-out-1'], direction: 'out' }
    expect(after('addPortFeed', sent)).toEqual([])
    expect(after('removeUnit', { id: 'amp' }).length).toBeGreaterThan(0)
  })
})

describe('jobs of a plan', () => {
  const planOf = (session: Session, items: Wanted[]) => {
    const { jobs, refused } = passJobs(session, items)
    const plan = planPasses(jobs, standing(session))
    return { plan, refused, ...passCards(session, items, jobs, plan) }
  }

  it('share a pass where nothing is used twice, and follow where something is', () => {
    const k = room()
    const apart = [
      wanted('one', 'kora', way()),
      wanted('two', 'lute', way({ outPorts: ['desk-out-2'], inPorts: ['desk-in-2'] })),
      wanted('inside', 'strings', null, { tap: 'post' })
    ]
    expect(planOf(k.session, apart).plan.passes).toEqual([[0, 1, 2]])
    const same = planOf(k.session, [wanted('Kora amp', 'kora', way()), wanted('Lute amp', 'lute', way())])
    expect(same.plan.passes).toEqual([[0], [1]])
    expect(same.cards[1]!.why).toBe('“Kora amp” has “amp” in pass 1')
    // A unit that another stands in for counts as the one that is used.
    const swapped = planOf(k.session, [
      wanted('a', 'kora', way({ instead: { amp: 'stack' } })),
      wanted('b', 'lute', way({ outPorts: ['desk-out-2'], inPorts: ['desk-in-2'] }))
    ])
    expect(swapped.plan.passes).toHaveLength(2)
  })

  it('say what to set before each pass and what to put back, with as little turning as can be', () => {
    const k = room()
    k.session.unit.amp = { ...k.session.unit.amp!, powered: false }
    const hot = { amp: { driveDb: 30 } }
    const {
      plan,
      cards,
      back: rest
    } = planOf(k.session, [
      wanted('hot kora', 'kora', way({ settings: hot })),
      wanted('clean kora', 'kora', way()),
      wanted('hot lute', 'lute', way({ settings: hot }))
    ])
    expect(plan.passes).toEqual([[1], [0], [2]])
    expect(cards.map(c => c.todo.map(t => t.text))).toEqual([
      ['switch “amp” on'],
      ['“amp”: Drive 30 dB (is 14 dB)'],
      []
    ])
    expect(rest.map(t => t.text)).toEqual(['“amp”: Drive 14 dB (is 30 dB)', 'switch “amp” off'])
  })

  it('say which cables move where another unit stands in, and that they go back', () => {
    const k = room()
    const { cards, back: rest } = planOf(k.session, [wanted('a', 'kora', way({ instead: { amp: 'stack' } }))])
    expect(cards[0]!.todo.map(t => t.text)).toEqual([
      'cable from Out 1 to “stack” (instead of Out 2)',
      'cable from “stack” to In 1 (instead of “amp”)'
    ])
    expect(rest.map(t => t.text)).toEqual(
      expect.arrayContaining(['cable from Out 1 to “amp”', 'cable from Out 2 to “stack” (instead of Out 1)'])
    )
  })

  it('put what hears a print after it', () => {
    const k = room()
    const kora = wanted('Kora amp', 'kora', way()),
      main = wanted('Main print', 'main', null, { tap: 'post' })
    const { plan, cards } = planOf(k.session, [main, kora])
    expect(plan.passes).toEqual([[1], [0]])
    expect(cards[1]!.why).toBe('“Main print” is to hear “Kora amp” of pass 1')
    expect(planOf(k.session, [main, { ...kora, takesOver: false }]).plan.passes).toEqual([[0, 1]])
  })

  it('refuse what comes through the same unit already, and ports that are gone', () => {
    const k = room()
    k.add('loop', { id: 'amp-loop', rig: 'loft', name: 'Amp', outPorts: ['desk-out-1'], inPorts: ['desk-in-1'] })
    k.main('kora', 'strings')
    k.slot('kora', 'loop', {}, { loop: 'amp-loop' })
    expect(planOf(k.session, [wanted('s', 'strings', way({ tap: 'post' }))]).refused[0]).toMatch(
      /through “amp” already/
    )
    expect(planOf(k.session, [wanted('s', 'kora', way())]).refused[0]).toBeNull()
    expect(planOf(k.session, [wanted('s', 'kora', way({ outPorts: ['gone'] }))]).refused[0]).toMatch(/not in the rig/)
  })

  it('let prints that hear one and the same loop share a pass', () => {
    const k = room()
    k.add('loop', { id: 'amp-loop', rig: 'loft', name: 'Amp', outPorts: ['desk-out-1'], inPorts: ['desk-in-1'] })
    k.slot('kora', 'loop', {}, { loop: 'amp-loop' })
    const items = [wanted('k', 'kora', null, { tap: 'post' }), wanted('m', 'main', null, { tap: 'post' })]
    expect(planOf(k.session, items).plan.passes).toEqual([[0, 1]])
    expect(planOf(k.session, [...items, wanted('l', 'lute', way())]).plan.passes).toHaveLength(2)
  })
})
