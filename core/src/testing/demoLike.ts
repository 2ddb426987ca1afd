// A small session with a bit of everything, for tests: families, submixes, a return, a key, a rig with a loop.
import { familyColour } from '../session/families'
import { pingOf, Sketch } from './sketch'

export function demoLike(): Sketch {
  const k = new Sketch('An evening')
  k.bus('main', { name: 'Main', role: 'main', colour: 8 })
  k.bus('hall', { name: 'Hall', role: 'return' })
  k.bus('drums', { name: 'Drums', family: 'Percussion' })
  k.bus('singers', { name: 'Singers', family: 'Choir' })
  for (const b of ['hall', 'drums', 'singers']) k.main(b, 'main')
  const track = (id: string, name: string, family: string, to: string) => {
    k.medium(`m-${id}`, 1, 4000)
    k.track(id, `m-${id}`, { name, family, colour: familyColour(family) })
    k.main(id, to)
  }
  track('low', 'Frame drum low', 'Percussion', 'drums')
  track('edge', 'Frame drum edge', 'Percussion', 'drums')
  track('voice', 'Choir 1', 'Choir', 'singers')
  track('other', 'Choir 2', 'Choir', 'singers')
  k.send('low', 'hall', -12)
  k.send('edge', 'hall', -12)
  k.send('singers', 'hall', -9)
  k.slot('hall', 'reverb', { decayS: 3 })
  k.key('low', k.slot('singers', 'compressor', { thresholdDb: -30 }))
  k.rig('loft', { name: 'Loft' })
  k.interface('desk', 'loft', 2, 2)
  k.unit('amp', 'loft', 'tube-amplifier', {}, { name: 'Tube amplifier' })
  k.cable('loft', 'desk-out-1', 'amp:0')
  k.cable('loft', 'amp:0', 'desk-in-1')
  k.add('loop', {
    id: 'amp-loop',
    rig: 'loft',
    name: 'Amp loop',
    outPorts: ['desk-out-1'],
    inPorts: ['desk-in-1'],
    ping: pingOf(130),
    applied: true
  })
  k.add('slot', { id: 'amp-slot', channel: 'drums', processor: 'loop', loop: 'amp-loop' })
  Object.assign(k.session.session.session, { heardChannel: 'main', rig: 'loft' })
  return k
}
