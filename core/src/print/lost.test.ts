import { describe, expect, it } from 'vitest'
import { applyEdit } from '../edits/apply'
import type { Session } from '../session/session'
import { Sketch } from '../testing/sketch'
import { lostSince, portsIn, setSince, sidesIn } from './lost'
import { passJobs } from './passJobs'

/** A track that goes out to an amplifier by itself, beside a unit that it does not use. */
function room(): Session {
  const k = new Sketch('Lost')
  k.bus('main', { role: 'main' })
  k.medium('m', 1, 1000)
  k.track('t', 'm', { layout: ['M'] })
  k.main('t', 'main')
  k.rig('loft')
  k.rig('dome')
  k.interface('io', 'loft', 2, 2)
  k.unit('amp', 'loft', 'tube-amplifier')
  k.unit('other', 'loft', 'tape-deck')
  k.cable('loft', 'io-out-1', 'amp:0')
  k.cable('loft', 'amp:0', 'io-in-1')
  k.cable('loft', 'io-out-2', 'other:0')
  k.session.session.session!.rig = 'loft'
  return k.session
}
const THROUGH = {
  tap: 'input' as const,
  levelDb: 0,
  outPorts: ['io-out-1'],
  inPorts: ['io-in-1'],
  settings: {},
  instead: {}
}
const jobOf = (s: Session, through = THROUGH) =>
  passJobs(s, [{ print: 'p', source: 't', tap: 'pre', share: null, through, takesOver: false, take: null, name: 'P' }])
    .jobs[0]!
const step = (s: Session, verb: string, args: object) => applyEdit(s, { verb, args }).session
const cableOf = (s: Session, end: string) =>
  Object.values(s.cable).find(c => c.fromPort === end || c.fromUnit === end)!.id

describe('what a pass loses', () => {
  const CASES: [string, (s: Session) => Session, string | null][] = [
    ['nothing', s => s, null],
    ['power', s => step(s, 'setUnit', { id: 'amp', fields: { powered: false } }), '“amp” was switched off'],
    ['a unit', s => step(s, 'removeUnit', { id: 'amp' }), '“amp” was taken out of the rig'],
    ['a cable to it', s => step(s, 'removeCable', { id: cableOf(s, 'io-out-1') }), 'the cable into “amp” was pulled'],
    ['a cable from it', s => step(s, 'removeCable', { id: cableOf(s, 'amp') }), 'the cable into in 1 was pulled'],
    ['the rig', s => step(s, 'setSession', { rig: 'dome' }), 'another rig is worked in'],
    ['what it does not use', s => step(s, 'setUnit', { id: 'other', fields: { powered: false } }), null],
    ['another cable', s => step(s, 'removeCable', { id: cableOf(s, 'io-out-2') }), null],
    ['a setting', s => step(s, 'setUnit', { id: 'amp', fields: { settings: { driveDb: 20 } } }), null],
    ['a name', s => step(s, 'setUnit', { id: 'amp', fields: { name: 'Big amp' } }), null]
  ]
  it.each(CASES)('%s', (_, change, said) => {
    const s = room()
    expect(lostSince(s, change(s), jobOf(s))?.toLowerCase() ?? null).toBe(said?.toLowerCase() ?? null)
  })

  it('a port', () => {
    const s = room(),
      { 'io-in-1': _, ...port } = s.port
    expect(lostSince(s, { ...s, port }, jobOf(s))).toMatch(/was taken out of the rig$/)
  })

  it('is nothing where a unit was off before, and a person switches it on by hand', () => {
    const off = step(room(), 'setUnit', { id: 'amp', fields: { powered: false } })
    expect(lostSince(off, off, jobOf(off))).toBeNull()
    const on = step(off, 'setUnit', { id: 'amp', fields: { powered: true } })
    expect(lostSince(off, on, jobOf(off))).toBeNull()
  })

  it('units that are set otherwise are named once; what is not on the way is not', () => {
    const s = room()
    const turned = step(s, 'setUnit', { id: 'amp', fields: { settings: { driveDb: 20, bassDb: 3 } } })
    expect(setSince(s, turned, jobOf(s))).toEqual(['amp'])
    expect(setSince(s, step(s, 'setUnit', { id: 'other', fields: { settings: { playDb: 2 } } }), jobOf(s))).toEqual([])
    expect(setSince(s, step(s, 'removeUnit', { id: 'amp' }), jobOf(s))).toEqual([])
  })

  it('is asked of the ports and sides that a print has', () => {
    const job = jobOf(room())
    expect([...portsIn(job)].sort()).toEqual(['io-in-1', 'io-out-1'])
    expect(sidesIn(job)).toHaveLength(1)
    expect(sidesIn({ ...job, claims: new Map() })).toEqual([])
  })
})
