// Which feeds are open while something is soloed, kind by kind. solo.test.ts hears it.
import { describe, expect, it } from 'vitest'
import { Sketch } from '../testing/sketch'
import { Network } from './network'
import { soloGate } from './solo'

function session(): Sketch {
  const k = new Sketch()
  k.rig('r')
  k.interface('io', 'r', 2, 2)
  for (const id of ['main', 'drums', 'strings', 'hall']) k.bus(id)
  for (const id of ['kick', 'snare', 'kora']) k.track(id)
  for (const id of ['drums', 'strings', 'hall']) k.main(id, 'main', { id: `${id}-main` })
  for (const id of ['kick', 'snare']) k.main(id, 'drums', { id: `${id}-drums` })
  k.main('kora', 'strings', { id: 'kora-strings' })
  k.send('kora', 'hall', -6, 'post', { id: 'kora-hall' })
  k.send('kick', 'hall', -6, 'post', { id: 'kick-hall' })
  k.add('slot', { id: 's', channel: 'strings', processor: 'compressor' })
  k.add('feed', { id: 'key', kind: 'key', from: 'kora', slot: 's' })
  k.add('feed', { id: 'in', kind: 'input', to: 'strings', ports: ['io-in-1'] })
  k.add('feed', { id: 'out', kind: 'port', from: 'strings', ports: ['io-out-1'] })
  k.add('feed', { id: 'out-pre', kind: 'port', from: 'strings', ports: ['io-out-2'], tap: 'pre' })
  return k
}
function open(...soloed: string[]): string[] {
  const k = session()
  for (const id of soloed) k.session.channel[id]!.soloed = true
  const gate = soloGate(new Network(k.session))!
  return Object.values(k.session.feed)
    .filter(gate)
    .map(f => f.id)
    .sort()
}
const ALWAYS = ['in', 'key', 'out-pre']

describe('the gate of solo', () => {
  it('is none where nothing is soloed', () => {
    expect(soloGate(new Network(session().session))).toBeNull()
  })
  it('opens what leads to and away from a submix; keys, inputs and what leaves before the fader stay open', () => {
    expect(open('drums')).toEqual([...ALWAYS, 'drums-main', 'kick-drums', 'snare-drums'].sort())
  })
  it('opens from a track all that it reaches, and nothing beside it', () => {
    expect(open('kick')).toEqual([...ALWAYS, 'drums-main', 'hall-main', 'kick-drums', 'kick-hall'].sort())
  })
  it('opens for a return what is sent to it', () => {
    expect(open('hall')).toEqual([...ALWAYS, 'hall-main', 'kick-hall', 'kora-hall'].sort())
  })
  it('opens the ports of what is soloed', () => {
    expect(open('strings')).toEqual([...ALWAYS, 'kora-strings', 'out', 'strings-main'].sort())
  })
  it('leaves open what is safe, and all behind it', () => {
    const k = session()
    k.session.channel.kick!.soloed = true
    k.session.channel.strings!.safe = true
    const gate = soloGate(new Network(k.session))!
    expect(gate(k.session.feed['strings-main']!)).toBe(true)
    expect(gate(k.session.feed.out!)).toBe(true)
    expect(gate(k.session.feed['kora-strings']!)).toBe(false)
  })
})
