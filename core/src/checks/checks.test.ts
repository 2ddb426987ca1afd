// Every check: found where it is planted and nowhere else, and mended by its own fix without touching the others.
import { beforeEach, describe, expect, it } from 'vitest'
import { applyEdit } from '../edits/apply'
import { fingerprint } from '../print/fingerprint'
import { pingOf, Sketch } from '../testing/sketch'
import { Network } from '../graph/network'
import { wiringText } from '../graph/wiringText'
import type { RowChange, Session } from '../session/session'
import { renderTaps, rmsDb, difference, whiteNoise } from '../testing/sound'
import { MemoryMedia } from '../run/memoryMedia'
import { NOTHING_SEEN, observe, type Observed } from './observe'
import { CHECKS, runChecks } from './table'

function sound(): Sketch {
  const k = new Sketch()
  k.bus('main', { role: 'main', name: 'Main' })
  k.bus('hall', { role: 'return', name: 'Hall' })
  k.main('hall', 'main')
  k.bus('drums', { name: 'Drums', family: 'Percussion' })
  k.main('drums', 'main')
  for (const id of ['low', 'edge', 'voice']) {
    k.medium(`m-${id}`, 1, 1000)
    k.track(id, `m-${id}`, { name: `Frame ${id}` })
    k.main(id, id === 'voice' ? 'main' : 'drums')
  }
  k.send('low', 'hall', -12)
  k.slot('drums', 'compressor')
  k.rig('r')
  k.interface('io', 'r', 2, 2)
  k.unit('amp', 'r', 'valve-compressor', {}, { name: 'Valve compressor' })
  k.cable('r', 'io-out-1', 'amp:0')
  k.cable('r', 'amp:0', 'io-in-1')
  k.session.session.session.heardChannel = 'main'
  return k
}
const compressor = (s: Session) => Object.values(s.slot).find(x => x.processor === 'compressor')!.id

/** What only shows when sound runs. */
let seen: Observed = NOTHING_SEEN

const PLANTED: Record<string, (k: Sketch) => void> = {
  soloLeftOn: k => {
    k.session.channel.low.soloed = true
  },
  heardTwice: k => {
    k.medium('p', 2, 1000)
    k.track('print', 'p', { name: 'Drums again' })
    k.main('print', 'main')
    k.add('print', { id: 'row', channel: 'print', source: 'drums', tap: 'post', takesOver: false })
  },
  wentWrong: k => {
    k.medium('p', 2, 1000)
    k.track('print', 'p', { name: 'Drums again' })
    k.main('print', 'main')
    k.add('print', {
      ...{ id: 'row', channel: 'print', source: 'drums', tap: 'post', clip: 'print-clip' },
      faults: [{ kind: 'lost', from: 100, frames: 50, what: '“Amp” was switched off', overDb: null }]
    })
  },
  unitOff: k => {
    k.session.unit.amp.powered = false
    k.add('loop', {
      id: 'amp-loop',
      rig: 'r',
      name: 'Amp',
      outPorts: ['io-out-1'],
      inPorts: ['io-in-1'],
      ping: pingOf(128),
      applied: true
    })
    k.add('slot', { id: 'amp-slot', channel: 'voice', processor: 'loop', loop: 'amp-loop' })
  },
  strangerInUnit: k => {
    k.add('feed', { id: 'di-out', kind: 'port', from: 'voice', ports: ['io-out-1'], tap: 'input' })
    k.add('feed', { id: 'main-out', kind: 'port', from: 'main', ports: ['io-out-1'] })
  },
  routeInside: k => {
    k.add('cable', { id: 'route', rig: 'r', fromPort: 'io-in-1', toPort: 'io-out-1', inside: true })
    k.add('feed', { id: 'out', kind: 'port', from: 'voice', ports: ['io-out-1'] })
  },
  putBack: k => {
    k.session.session.session.rig = 'r'
    k.session.unit.amp.model = 'modelling-processor'
    k.session.unit.amp.settings = { input: 'instrument' }
    k.session.unit.amp.putBack = { input: 'digital' }
  },
  noAttenuator: k => {
    k.session.unit.amp.model = 'tube-amplifier'
    k.add('feed', { id: 'di-out', kind: 'port', from: 'voice', ports: ['io-out-1'], tap: 'input' })
  },
  loopTime: k => {
    k.add('loop', { id: 'amp-loop', rig: 'r', name: 'Amp', outPorts: ['io-out-1'], inPorts: ['io-in-1'] })
    k.add('slot', { id: 'amp-slot', channel: 'voice', processor: 'loop', loop: 'amp-loop' })
  },
  clipping: k => {
    k.add('feed', { id: 'out', kind: 'port', from: 'drums', ports: ['io-out-1'] })
    seen = { peaksDb: new Map([['port/io-out-1', 2.5]]) }
  },
  audibleTrigger: k => {
    k.key('low', compressor(k.session))
    const f = Object.values(k.session.feed).find(f => f.kind === 'main' && f.from === 'low')!
    delete k.session.feed[f.id]
  },
  freeClock: k => {
    k.interface('second', 'r', 1, 1, { clock: 'free', driftPpm: 12 })
    k.add('loop', {
      id: 'both',
      rig: 'r',
      name: 'Both',
      outPorts: ['io-out-2'],
      inPorts: ['second-in-1'],
      ping: pingOf(128),
      applied: true
    })
    pinged(k, 'both')
  },
  notCompensated: k => {
    k.add('loop', {
      id: 'amp-loop',
      rig: 'r',
      name: 'Amp',
      outPorts: ['io-out-1'],
      inPorts: ['io-in-1'],
      compensated: false
    })
    k.add('slot', { id: 'amp-slot', channel: 'voice', processor: 'loop', loop: 'amp-loop' })
  },
  returnNotHeard: k => {
    k.session.channel.hall.levelDb = null
  },
  sameEffect: k => {
    for (const id of ['low', 'edge', 'voice']) k.slot(id, 'reverb', { decayS: 1.5 }, { mix: 0.3 })
  },
  deadEnd: k => {
    const f = Object.values(k.session.feed).find(f => f.from === 'drums')!
    delete k.session.feed[f.id]
  },
  trackNowhere: k => {
    const f = Object.values(k.session.feed).find(f => f.kind === 'main' && f.from === 'edge')!
    delete k.session.feed[f.id]
  },
  equalNames: k => {
    k.session.channel.edge.name = 'frame LOW '
  },
  unfedBus: k => {
    k.bus('lonely', { name: 'Lonely' })
    k.main('lonely', 'main')
  },
  silentSend: k => {
    Object.values(k.session.feed).find(f => f.kind === 'send')!.levelDb = null
  },
  parkedKey: k => {
    k.key('voice', compressor(k.session))
    k.session.channel.voice.parked = true
  },
  mutedButLeaving: k => {
    k.key('voice', compressor(k.session))
    k.session.channel.voice.muted = true
  },
  droppedLegs: k => {
    k.medium('m-wide', 3, 1000)
    k.track('wide', 'm-wide', { name: 'Wide', layout: ['L', 'R', 'LFE'] })
    k.main('wide', 'main')
  },
  missingProcessor: k => {
    k.slot('voice', 'Warm Box 3')
  },
  defaultName: k => {
    k.session.channel.drums.name = 'Submix 2'
  }
}
/** As if it had just been pinged: nothing about its wiring has changed since. */
const pinged = (k: Sketch, id: string) => {
  k.session.loop[id].ping!.wiring = wiringText(k.session, k.session.loop[id])
}
const found = (s: Session) => runChecks(s, undefined, seen)
const ids = (s: Session) => found(s).map(f => f.check)

const print = (s: Session, id: string) => fingerprint(s, id, 'post', { seed: 1, from: 0, frames: 1000 }).hash

/** Channels that nothing the edit touched flows into, neither by audio nor by key. */
function untouched(before: Session, after: Session, changes: RowChange[]): string[] {
  const touched = new Set<string>()
  for (const c of changes) {
    for (const row of [c.before, c.after] as Record<string, string | null>[]) {
      if (!row) continue
      if (c.table === 'channel') touched.add(c.id)
      if (c.table === 'slot') touched.add(row.channel!)
      // A feed changes where it arrives, not where it leaves.
      if (c.table === 'feed')
        for (const s of [before, after]) {
          const to = row.to ?? s.slot[row.slot ?? '']?.channel
          if (to) touched.add(to)
        }
      if (c.table === 'loop' || c.table === 'unit' || c.table === 'interface')
        for (const s of Object.values(before.slot)) if (s.loop) touched.add(s.channel)
      if (c.table === 'session') return []
    }
  }
  const flows = (s: Session) => {
    const n = new Network(s)
    return n.reach(touched, id => [
      ...n.downstream(id),
      ...(n.feedsFrom.get(id) ?? []).flatMap(f => (f.slot ? [s.slot[f.slot].channel] : []))
    ])
  }
  const reached = new Set([...flows(before), ...flows(after)])
  return Object.keys(after.channel).filter(id => id in before.channel && !reached.has(id))
}

describe('checks', () => {
  beforeEach(() => {
    seen = NOTHING_SEEN
  })

  it('find nothing in a session that is sound', () => {
    expect(runChecks(sound().session)).toEqual([])
  })

  it('are all planted here', () => {
    expect(Object.keys(PLANTED).sort()).toEqual(CHECKS.map(c => c.id).sort())
  })

  it.each(Object.keys(PLANTED))('%s is found, explained, and mended by each of its fixes', name => {
    const k = sound()
    PLANTED[name](k)
    const all = found(k.session)
    const mine = all.filter(f => f.check === name)
    expect(mine).toHaveLength(1)
    expect(mine[0].sentence).toMatch(/\.$/)
    expect(mine[0].consequence).not.toBe('')
    const others = all.filter(f => f.check !== name)
    for (const fix of mine[0].fixes) {
      const { session: after, changes } = applyEdit(k.session, fix.edit)
      // A level that was seen while playing is seen anew after a change.
      seen = NOTHING_SEEN
      expect(ids(after)).not.toContain(name)
      expect(found(after).filter(f => others.some(o => o.sentence === f.sentence))).toHaveLength(others.length)
      for (const tap of untouched(k.session, after, changes))
        expect(print(after, tap), `${name}, “${fix.label}”: ${tap}`).toBe(print(k.session, tap))
    }
  })

  it('a fix changes no fingerprint that is not downstream of it', () => {
    const k = sound()
    PLANTED.silentSend(k)
    const before = (id: string, s: Session) => fingerprint(s, id, 'post', { seed: 1, from: 0, frames: 1000 }).hash
    const fixed = applyEdit(k.session, runChecks(k.session)[0].fixes[0].edit).session
    for (const id of ['low', 'edge', 'voice', 'drums']) expect(before(id, fixed)).toBe(before(id, k.session))
    for (const id of ['hall', 'main']) expect(before(id, fixed)).not.toBe(before(id, k.session))
  })

  it('several at once are all found, and nothing is invented', () => {
    const k = sound()
    for (const name of ['soloLeftOn', 'unfedBus', 'silentSend', 'droppedLegs', 'missingProcessor']) PLANTED[name](k)
    expect(new Set(ids(k.session))).toEqual(
      new Set(['soloLeftOn', 'unfedBus', 'silentSend', 'droppedLegs', 'missingProcessor'])
    )
  })

  it('two main feeds that meet again are heard twice; the direct one goes', () => {
    const k = sound()
    k.main('low', 'main')
    const [finding] = runChecks(k.session)
    expect(finding.sentence).toBe('“Frame low” arrives at “Main” twice: directly, and through “Drums”.')
    expect(runChecks(applyEdit(k.session, finding.fixes[0].edit).session)).toEqual([])
  })

  it('what is not here is not missed where its print is heard; where it is not, the print is offered', () => {
    const k = sound()
    PLANTED.missingProcessor!(k)
    k.main(k.track('kept'), 'drums')
    k.add('print', { id: 'p', channel: 'kept', source: 'voice', tap: 'post', takesOver: true })
    const found = (s: Session) => runChecks(s).filter(f => f.check === 'missingProcessor')
    expect(found(k.session)).toEqual([])
    const edit = { verb: 'setChannels', args: { ids: ['kept'], fields: { listen: 'feed' } } }
    const [finding] = found(applyEdit(k.session, edit).session)
    expect(finding!.fixes.map(f => f.label)).toEqual(['Hear its print “kept”'])
    expect(found(applyEdit(applyEdit(k.session, edit).session, finding!.fixes[0]!.edit).session)).toEqual([])
  })

  it('two prints of one source that are both heard are said; one is kept', () => {
    const k = sound()
    for (const take of ['one', 'two']) {
      k.medium(`p-${take}`, 2, 1000)
      k.track(`take-${take}`, `p-${take}`, { name: `Drums print ${take}` })
      k.main(`take-${take}`, 'main')
      k.add('print', { id: take, channel: `take-${take}`, source: 'drums', tap: 'post', takesOver: true })
    }
    const [finding, ...others] = runChecks(k.session)
    expect(others).toEqual([])
    expect(finding.sentence).toBe('2 prints of “Drums” are heard at once.')
    expect(finding.fixes.map(f => f.label)).toEqual(['Hear only “Drums print one”', 'Hear only “Drums print two”'])
    for (const fix of finding.fixes) expect(ids(applyEdit(k.session, fix.edit).session)).not.toContain('heardTwice')
  })

  it('a take that is not heard is not heard twice; a print that stands by itself may go nowhere', () => {
    const k = sound()
    PLANTED.heardTwice!(k)
    k.add('take', { id: 'k1', channel: 'print', name: 'Take 1' })
    k.session.clip['print-clip']!.take = 'k1'
    k.session.print.row!.clip = 'print-clip'
    expect(ids(k.session)).not.toContain('heardTwice')
    k.session.channel.print!.take = 'k1'
    expect(ids(k.session)).toContain('heardTwice')
    for (const f of Object.values(k.session.feed)) if (f.from === 'print') delete k.session.feed[f.id]
    expect(ids(k.session)).toEqual([])
  })

  it('names that are equal get numbers that no other channel has', () => {
    const k = sound()
    for (const id of ['low', 'edge']) k.session.channel[id].name = 'Frame'
    k.session.channel.voice.name = 'Frame 2'
    const [finding] = runChecks(k.session)
    const after = applyEdit(k.session, finding.fixes[0].edit).session
    expect(new Set(['low', 'edge', 'voice'].map(id => after.channel[id].name))).toEqual(
      new Set(['Frame', 'Frame 2', 'Frame 3'])
    )
    expect(runChecks(after)).toEqual([])
  })

  it('peaks at ports and units are seen by rendering, in dBFS and dBu', async () => {
    const k = sound()
    k.session.channel.low.levelDb = 12
    k.add('feed', { id: 'out', kind: 'port', from: 'low', ports: ['io-out-1'] })
    const reader = new MemoryMedia()
    for (const id of ['low', 'edge', 'voice'])
      reader.set(`m-${id}`, [new Float32Array(1000).fill(id === 'low' ? 0.5 : 0)])
    const { peaksDb } = await observe(k.session, reader, { from: 0, frames: 4096 })
    expect(peaksDb.get('port/io-out-1')).toBeCloseTo(12 - 6.02, 1)
    expect(runChecks(k.session, undefined, { peaksDb }).map(f => f.check)).toContain('clipping')
  })

  it('one return in place of many equal effects sounds the same where they were last before the fader', async () => {
    const k = sound()
    PLANTED.sameEffect(k)
    // The compressor on the drums would react to levels that the fix moves into the return.
    k.session.slot = Object.fromEntries(Object.entries(k.session.slot).filter(([, s]) => s.processor === 'reverb'))
    for (const c of Object.values(k.session.channel))
      if (c.kind === 'track') {
        c.layout = ['L', 'R']
        k.session.medium[`m-${c.id}`].legs = 2
      }
    for (const f of Object.values(k.session.feed))
      if (f.kind === 'main' && (f.from === 'low' || f.from === 'edge')) f.to = 'main'
    delete k.session.feed[Object.values(k.session.feed).find(f => f.kind === 'send')!.id]
    const fix = runChecks(k.session).find(f => f.check === 'sameEffect')!.fixes[0]
    const media = Object.fromEntries(
      ['low', 'edge', 'voice'].map((id, i) => [`m-${id}`, [whiteNoise(9000, i), whiteNoise(9000, i + 9)]])
    )
    const heard = async (s: Session) =>
      (await renderTaps(s, media, 9000, { taps: [{ channel: 'main', tap: 'post' }] })).get('main@post')!
    const [a, b] = [await heard(k.session), await heard(applyEdit(k.session, fix.edit).session)]
    expect(rmsDb(difference(a[0], b[0])) - rmsDb(a[0])).toBeLessThan(-100)
  })
})
