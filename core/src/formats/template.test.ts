// A network taken from one session and laid over another.
import { describe, expect, it } from 'vitest'
import { applyEdit } from '../edits/apply'
import { demoLike } from '../testing/demoLike'
import { Sketch } from '../testing/sketch'
import { firstBreach } from '../invariants'
import { rows, slotsOf, type Session } from '../session/session'
import { planTemplate } from '../propose/layTemplate'
import { readTemplate, takeTemplate } from './template'

let serial = 0
const newId = () => `n${++serial}`
const bus = (s: Session, name: string) => rows(s, 'channel').find(c => c.kind === 'bus' && c.name === name)
const destinations = (s: Session, track: string) =>
  rows(s, 'feed')
    .filter(f => f.kind === 'main')
    .filter(f => f.from === track)
    .map(f => s.channel[f.to].name)
const lay = (from: Session, over: Session, only?: ReadonlySet<string>) => {
  const plan = planTemplate(readTemplate(JSON.stringify(takeTemplate(from, 'House network'))), over, newId, only)
  return { plan, after: applyEdit(over, plan.edit).session }
}

function bare(rate = 48000): Session {
  const k = new Sketch('Another evening', { sampleRate: rate })
  for (const [id, name] of [
    ['x1', 'frame_drum_low'],
    ['x2', 'Frame drum edge 2'],
    ['x3', 'Shaker new'],
    ['x4', 'Voice 1'],
    ['x5', 'unknown thing']
  ])
    k.track(id, undefined, { name })
  return k.session
}

describe('a template', () => {
  it('brings buses, slots, sends and keys, and finds tracks by name, then by family', () => {
    const { plan, after } = lay(demoLike().session, bare())
    expect(plan.matches.map(m => m.by)).toEqual(['name', 'name', 'family', 'family', null])
    expect(destinations(after, 'x1')).toEqual(['Drums'])
    expect(destinations(after, 'x3')).toEqual(['Drums'])
    expect(destinations(after, 'x4')).toEqual(['Singers'])
    expect(destinations(after, 'x5')).toEqual([])
    expect(slotsOf(after, bus(after, 'Hall')!.id).map(s => s.processor)).toEqual(['reverb'])
    expect(
      rows(after, 'feed')
        .filter(f => f.kind === 'send')
        .filter(f => f.from === 'x1')
        .map(f => [after.channel[f.to].name, f.levelDb])
    ).toEqual([['Hall', -12]])
    expect(firstBreach(after)).toBeNull()
    expect(plan.buses.every(b => b.what === 'new')).toBe(true)
  })

  it('takes a track to another of its buses where that was chosen, with the sends of what it is like', () => {
    const template = readTemplate(JSON.stringify(takeTemplate(demoLike().session, 'House network'))),
      over = bare()
    const idOf = (name: string) => template.rows.channel.find(c => c.name === name)!.id
    const targets = new Map([
      ['x1', idOf('Singers')],
      ['x5', idOf('Drums')]
    ])
    const plan = planTemplate(template, over, newId, undefined, targets)
    const { session: after } = applyEdit(over, plan.edit)
    expect(['x1', 'x2', 'x5'].map(t => destinations(after, t))).toEqual([['Singers'], ['Drums'], ['Drums']])
    expect(rows(after, 'feed').filter(f => f.kind === 'send' && f.from === 'x1')).toHaveLength(1)
    expect(plan.matches.find(m => m.track === 'x5')).toMatchObject({ by: null, target: idOf('Drums'), to: ['Drums'] })
    expect(firstBreach(after)).toBeNull()
  })

  it('laid over a second time finds everything there and changes nothing', () => {
    const { after } = lay(demoLike().session, bare())
    const again = lay(demoLike().session, after)
    expect(again.plan.buses.every(b => b.what === 'there already')).toBe(true)
    expect(again.after).toEqual(after)
  })

  it('over the session it comes from changes nothing', () => {
    const { session } = demoLike()
    expect(lay(session, session).after).toEqual(session)
  })

  it('brings its rig and loops along, or takes the rig of the same name', () => {
    const { after } = lay(demoLike().session, bare())
    expect(rows(after, 'rig').map(r => r.name)).toEqual(['Loft'])
    const [loop] = rows(after, 'loop')
    expect(loop.outPorts.map(p => after.port[p].name)).toEqual(['Out 1'])
    expect(slotsOf(after, bus(after, 'Drums')!.id).map(s => s.loop)).toContain(loop.id)
    const k = new Sketch()
    k.rig('mine', { name: 'Loft' })
    k.interface('box', 'mine', 0, 0)
    const { plan } = lay(demoLike().session, k.session)
    expect(plan.notes.join()).toMatch(/loop “Amp loop” is left out: the rig here lacks ports/)
  })

  it('from another sample rate keeps Hz and ms, leaves pings out, and says so', () => {
    const { plan, after } = lay(demoLike().session, bare(44100))
    expect(plan.notes.join()).toMatch(/made at 48000 Hz and this session runs at 44100 Hz/)
    expect(rows(after, 'loop')[0].ping).toBeNull()
  })

  it('connects only the tracks that are chosen', () => {
    const { after } = lay(demoLike().session, bare(), new Set(['x1']))
    expect([destinations(after, 'x1'), destinations(after, 'x2')]).toEqual([['Drums'], []])
  })

  it('that is none is refused with the reason', () => {
    const refused = (text: string) => {
      try {
        readTemplate(text)
      } catch (e) {
        return (e as Error).message
      }
      return ''
    }
    expect(refused('hello')).toMatch(/not JSON/)
    expect(refused('{"nulletTemplate":9}')).toMatch(/not a template of this version/)
    const broken = takeTemplate(demoLike().session, 'x')
    Object.assign(broken.rows.feed[0]!, { to: 'gone' })
    expect(refused(JSON.stringify(broken))).toMatch(/names something that is not in it/)
  })
})
