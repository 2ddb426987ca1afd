// What is normalled, what opens it, and what an interface sends by itself.
import { describe, expect, it } from 'vitest'
import { applyEdit } from '../edits/apply'
import { normalsInARow } from '../propose/jacks'
import { carriedBy } from '../propose/outputs'
import { rows } from '../session/session'
import { Sketch } from '../testing/sketch'
import { alongCables, howls, patchedCables, plugOver, portsReached } from './cables'
import { deadPoint } from './deadLoop'
import { meets, portsBehind } from './sides'
import { wiringText } from './wiringText'

function room(): Sketch {
  const k = new Sketch('Patched')
  k.rig('r')
  k.interface('io', 'r', 4, 4)
  k.unit('box', 'r', 'wire', {}, { name: 'Box' })
  return k
}
const LOOP = { name: 'Way', outPorts: ['io-out-1'], inPorts: ['io-in-1'] }
const reached = (k: Sketch, ...outs: string[]) => [...portsReached(k.session, outs)].sort()

describe('normalled connections', () => {
  it('carry until something is plugged into the jack that they end in', () => {
    const k = room()
    k.cable('r', 'io-out-1', 'io-in-1', { id: 'normal', normalled: 'half' })
    expect(reached(k, 'io-out-1')).toEqual(['io-in-1'])
    expect(deadPoint(k.session, LOOP)).toBeNull()
    const plug = k.cable('r', 'io-out-2', 'io-in-1')
    expect(reached(k, 'io-out-1')).toEqual([])
    expect(reached(k, 'io-out-2')).toEqual(['io-in-1'])
    expect(plugOver(k.session, k.session.cable.normal)?.id).toBe(plug)
    expect(patchedCables(k.session).map(c => c.id)).toEqual([plug])
    const dead = deadPoint(k.session, LOOP)!
    expect(dead.reason).toBe('Out 1 is normalled to In 1, and the plug of Out 2 → In 1 opens that')
    const mended = applyEdit(k.session, dead.fixes[0]!.edit).session
    expect(deadPoint(mended, LOOP)).toBeNull()
  })
  it('half: a plug in the jack that they leave takes from it and opens nothing; full: it opens them', () => {
    for (const [normalled, ports] of [
      ['half', ['io-in-1', 'io-in-2']],
      ['full', ['io-in-2']]
    ] as const) {
      const k = room()
      k.cable('r', 'io-out-1', 'io-in-1', { normalled })
      k.cable('r', 'io-out-1', 'io-in-2')
      expect(reached(k, 'io-out-1')).toEqual(ports)
      expect([...portsBehind(k.session, ['io-out-1'])].sort()).toEqual(ports)
    }
  })
  it('are no plugs: one does not open another', () => {
    const k = room()
    k.cable('r', 'io-out-1', 'box:0', { normalled: 'full' })
    k.cable('r', 'box:0', 'io-in-1', { normalled: 'full' })
    k.cable('r', 'io-out-1', 'io-in-2', { normalled: 'full' })
    expect(reached(k, 'io-out-1')).toEqual(['io-in-1', 'io-in-2'])
  })
  it('stay behind a plug that comes and goes, and make a ping stale when they are opened', () => {
    const k = room()
    k.cable('r', 'io-out-1', 'io-in-1', { id: 'normal', normalled: 'half' })
    const loop = k.session.loop[k.add('loop', { id: 'l', rig: 'r', ...LOOP })]
    const before = wiringText(k.session, loop)
    const args = { id: 'plug', rig: 'r', from: { port: 'io-out-3' }, to: { port: 'io-in-1' } }
    const plugged = applyEdit(k.session, { verb: 'addCable', args }).session
    expect(Object.keys(plugged.cable).sort()).toEqual(['normal', 'plug'])
    expect(wiringText(plugged, loop)).not.toBe(before)
    const pulled = applyEdit(plugged, { verb: 'removeCable', args: { id: 'plug' } }).session
    expect(wiringText(pulled, loop)).toBe(before)
  })
  it('give way to another normal at the same jack, and refuse to become a second plug there', () => {
    const k = room()
    k.cable('r', 'io-out-1', 'io-in-1', { id: 'normal', normalled: 'half' })
    k.cable('r', 'io-out-2', 'io-in-1', { id: 'plug' })
    const args = { id: 'other', rig: 'r', from: { port: 'io-out-4' }, to: { port: 'io-in-1' }, normalled: 'full' }
    const { session } = applyEdit(k.session, { verb: 'addCable', args })
    expect(Object.keys(session.cable).sort()).toEqual(['other', 'plug'])
    expect(() => applyEdit(session, { verb: 'setCable', args: { id: 'other', fields: { normalled: null } } })).toThrow(
      'goes into “In 1”, where another one is plugged in already'
    )
  })
  it('are made in rows, as far as both go', () => {
    const k = room()
    let n = 0
    const edit = normalsInARow(
      k.session,
      { rig: 'r', from: 'port io-out-3', to: 'port io-in-1', count: 9, kind: 'half' },
      () => `n${++n}`
    )!
    const { session } = applyEdit(k.session, edit)
    // Two outs, then the two outputs of the box; four ins, then its inputs.
    expect(
      rows(session, 'cable').map(c => [c.fromPort ?? `${c.fromUnit}:${c.fromJack}`, c.toPort, c.normalled])
    ).toEqual([
      ['io-out-3', 'io-in-1', 'half'],
      ['io-out-4', 'io-in-2', 'half'],
      ['box:0', 'io-in-3', 'half'],
      ['box:1', 'io-in-4', 'half']
    ])
    expect(edit.args).toMatchObject({ label: 'Normal Out 3 → In 1 and 3 more' })
    expect(
      normalsInARow(k.session, { rig: 'r', from: 'port nobody', to: 'port io-in-1', count: 1, kind: 'half' }, () => '')
    ).toBeNull()
  })
})

describe('routes inside an interface', () => {
  const route = (k: Sketch, fromPort: string, toPort: string) =>
    k.session.cable[k.add('cable', { id: `${fromPort}+${toPort}`, rig: 'r', fromPort, toPort, inside: true })]
  it('lead on from ports in and out', () => {
    const k = room()
    k.cable('r', 'io-out-1', 'io-in-1')
    route(k, 'io-in-1', 'io-out-2')
    k.cable('r', 'io-out-2', 'io-in-2')
    route(k, 'io-out-2', 'io-in-4')
    expect(reached(k, 'io-out-1')).toEqual(['io-in-1', 'io-in-2', 'io-in-4'])
    expect([...portsBehind(k.session, ['io-out-1'])].sort()).toEqual(['io-in-1', 'io-in-2', 'io-in-4'])
    expect(carriedBy(k.session, 'io-out-2')).toEqual(['In 1, by the interface itself'])
    expect(meets(k.session, 'io-out-1', 'io-out-2')).toBe(false)
    expect([...alongCables(k.session, ['io-out-1']).keys()]).toContain('port|io-out-2')
  })
  it('carry nothing where they come back to where they begin, and say that it would howl', () => {
    const k = room()
    k.cable('r', 'io-out-1', 'box:0')
    k.cable('r', 'box:0', 'io-in-1')
    const back = route(k, 'io-in-1', 'io-out-1'),
      aside = route(k, 'io-in-1', 'io-out-2')
    expect([howls(k.session, back), howls(k.session, aside)]).toEqual([true, false])
    const loop = { name: 'Way', outPorts: ['io-in-1'], inPorts: ['io-out-1'] }
    expect(deadPoint(k.session, loop)?.reason).toBe(
      'the interface sends In 1 → Out 1 by itself, and that comes back to where it begins: it would howl, and carries nothing'
    )
  })
  it('are refused between two interfaces, to themselves, to units and twice', () => {
    const k = room()
    k.interface('far', 'r', 1, 1)
    route(k, 'io-in-1', 'io-out-1')
    const add = (from: object, to: object) => () =>
      applyEdit(k.session, { verb: 'addCable', args: { id: 'new', rig: 'r', from, to, inside: true } })
    expect(add({ port: 'io-in-1' }, { port: 'far-out-1' })).toThrow('“In 1” and “Out 1” are of two')
    expect(add({ port: 'io-in-1' }, { port: 'io-in-1' })).toThrow('leads from “In 1” to itself')
    expect(add({ port: 'io-in-1' }, { unit: 'box', jack: 0 })).toThrow('leads from a port to a port')
    expect(add({ port: 'io-in-1' }, { port: 'io-out-1' })).toThrow('where that route leads already')
    expect(add({ port: 'io-in-2' }, { port: 'io-out-1' })).not.toThrow()
  })
})
