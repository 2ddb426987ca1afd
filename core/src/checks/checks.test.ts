// Every check: found where it is planted and nowhere else, and mended by its own fix without touching the others.
import { describe, expect, it } from 'vitest'
import { applyEdit } from '../edits/apply'
import { fingerprint } from '../print/fingerprint'
import { Sketch } from '../session/sketch'
import type { Session } from '../session/session'
import { CHECKS, runChecks } from './table'

function sound(): Sketch {
  const k = new Sketch()
  k.bus('main', { role: 'main', name: 'Main' })
  k.bus('hall', { role: 'return', name: 'Hall' }); k.main('hall', 'main')
  k.bus('drums', { name: 'Drums', family: 'Percussion' }); k.main('drums', 'main')
  for (const id of ['low', 'edge', 'voice']) { k.medium(`m-${id}`, 1, 1000); k.track(id, `m-${id}`, { name: `Frame ${id}` }); k.main(id, id === 'voice' ? 'main' : 'drums') }
  k.send('low', 'hall', -12)
  k.slot('drums', 'compressor')
  k.rig('r'); k.interface('io', 'r', 2, 2); k.unit('amp', 'r', 'tube-amplifier', {}, { name: 'Tube amplifier' })
  k.cable('r', 'io-out-1', 'amp:0'); k.cable('r', 'amp:0', 'io-in-1')
  k.session.session.session.heardChannel = 'main'
  return k
}
const compressor = (s: Session) => Object.values(s.slot).find(x => x.processor === 'compressor')!.id

const PLANTED: Record<string, (k: Sketch) => void> = {
  soloLeftOn: k => { k.session.channel.low.soloed = true },
  heardTwice: k => {
    k.medium('p', 2, 1000); k.track('print', 'p', { name: 'Drums again' }); k.main('print', 'main')
    k.add('print', { id: 'row', channel: 'print', source: 'drums', tap: 'post', takesOver: false })
  },
  unitOff: k => {
    k.session.unit.amp.powered = false
    k.add('loop', { id: 'amp-loop', rig: 'r', name: 'Amp', outPorts: ['io-out-1'], inPorts: ['io-in-1'], ping: { delaySamples: 128, inverted: false, gainDb: 0, noiseDbfs: null, confidence: 1, sampleRate: 48000, wiring: '', measuredAt: '' }, applied: true })
    k.add('slot', { id: 'amp-slot', channel: 'voice', processor: 'loop', loop: 'amp-loop' })
  },
  loopTime: k => {
    k.add('loop', { id: 'amp-loop', rig: 'r', name: 'Amp', outPorts: ['io-out-1'], inPorts: ['io-in-1'] })
    k.add('slot', { id: 'amp-slot', channel: 'voice', processor: 'loop', loop: 'amp-loop' })
  },
  deadEnd: k => { const f = Object.values(k.session.feed).find(f => f.from === 'drums')!; delete k.session.feed[f.id] },
  unfedBus: k => { k.bus('lonely', { name: 'Lonely' }); k.main('lonely', 'main') },
  silentSend: k => { Object.values(k.session.feed).find(f => f.kind === 'send')!.levelDb = null },
  parkedKey: k => { k.key('voice', compressor(k.session)); k.session.channel.voice.parked = true },
  mutedButLeaving: k => { k.key('voice', compressor(k.session)); k.session.channel.voice.muted = true },
  droppedLegs: k => { k.medium('m-wide', 3, 1000); k.track('wide', 'm-wide', { name: 'Wide', layout: ['L', 'R', 'LFE'] }); k.main('wide', 'main') },
  missingProcessor: k => { k.slot('voice', 'Warm Box 3') },
  defaultName: k => { k.session.channel.drums.name = 'Submix 2' }
}
const ids = (s: Session) => runChecks(s).map(f => f.check)

describe('checks', () => {
  it('find nothing in a session that is sound', () => { expect(runChecks(sound().session)).toEqual([]) })

  it('are all planted here', () => { expect(Object.keys(PLANTED).sort()).toEqual(CHECKS.map(c => c.id).sort()) })

  it.each(Object.keys(PLANTED))('%s is found, explained, and mended by each of its fixes', name => {
    const k = sound()
    PLANTED[name](k)
    const found = runChecks(k.session)
    const mine = found.filter(f => f.check === name)
    expect(mine).toHaveLength(1)
    expect(mine[0].sentence).toMatch(/\.$/)
    expect(mine[0].consequence).not.toBe('')
    const others = found.filter(f => f.check !== name)
    for (const fix of mine[0].fixes) {
      const after = applyEdit(k.session, fix.edit).session
      expect(ids(after)).not.toContain(name)
      expect(runChecks(after).filter(f => others.some(o => o.sentence === f.sentence))).toHaveLength(others.length)
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
    expect(new Set(ids(k.session))).toEqual(new Set(['soloLeftOn', 'unfedBus', 'silentSend', 'droppedLegs', 'missingProcessor']))
  })
})
