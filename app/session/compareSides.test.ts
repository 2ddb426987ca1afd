// What can be compared on a track and at a unit: each side is an edit after which it, and no other, is heard.
import { describe, expect, it } from 'vitest'
import { applyEdit } from '@nullet/core/edits/apply'
import { Sketch } from '@nullet/core/testing/sketch'
import type { Session } from '@nullet/core/session/session'
import { asItIs, presetSides, trackSides, type Side } from './compareSides'

/** A print of a summing return with two takes, its unit's monitors cabled to a pair of their own, and a reference. */
function printed(): Sketch {
  const k = new Sketch()
  k.rig('r')
  k.interface('io', 'r', 2, 4)
  k.unit('sum', 'r', 'summing-8')
  for (const i of [0, 1]) k.cable('r', `io-out-${i + 1}`, `sum:${i}`)
  for (const i of [0, 1, 2, 3]) k.cable('r', `sum:${i}`, `io-in-${i + 1}`)
  k.bus('back')
  k.add('feed', { id: 'in', kind: 'input', to: 'back', ports: ['io-in-1', 'io-in-2'] })
  k.medium('m', 2, 4800)
  k.track('print', 'm')
  k.track('old', 'm', { muted: true })
  k.add('take', { id: 'one', channel: 'print', name: 'First' })
  k.add('take', { id: 'two', channel: 'print', name: 'Second' })
  k.session.clip['print-clip']!.take = 'two'
  Object.assign(k.session.channel.print!, { take: 'two', reference: 'old' })
  k.add('print', { id: 'p', channel: 'print', source: 'back', tap: 'post', clip: 'print-clip' })
  return k
}
const monitored = (k: Sketch) => {
  k.add('loop', {
    id: 'ears',
    rig: 'r',
    name: 'Monitors',
    outPorts: ['io-out-1', 'io-out-2'],
    inPorts: ['io-in-3', 'io-in-4']
  })
  return k
}
const heardAfter = (session: Session, sides: Side[]) =>
  sides.map(side => {
    const after = applyEdit(session, side.edit).session
    return sides.filter(s => s.isHeard(after)).map(s => s.word)
  })

describe('sides of a track', () => {
  it('are its takes, the live path, the unit’s monitors where their way is known, and its reference', () => {
    const words = (k: Sketch) => trackSides(k.session, 'print').map(s => s.word)
    expect(words(printed())).toEqual(['First', 'Second', 'back, live', 'old, the reference'])
    expect(words(monitored(printed()))).toEqual([
      'First',
      'Second',
      'back, live',
      'the unit’s monitors',
      'old, the reference'
    ])
  })
  it('each is heard after its own edit alone, and what stood before comes back', () => {
    const { session } = monitored(printed())
    const sides = trackSides(session, 'print'),
      before = asItIs(session, 'print')
    expect(heardAfter(session, sides)).toEqual(sides.map(s => [s.word]))
    let now = session
    for (const side of sides) now = applyEdit(now, side.edit).session
    expect(now.channel.print!.muted).toBe(true)
    expect(now.channel.old!.muted).toBe(false)
    const back = applyEdit(now, before.edit).session
    expect(before.isHeard(back)).toBe(true)
    expect(back.channel).toEqual(session.channel)
    expect(back.feed).toEqual(session.feed)
  })
  it('mutes come back as they were, whichever of the two was muted', () => {
    for (const [own, other] of [
      [false, false],
      [true, true],
      [true, false]
    ]) {
      const { session } = monitored(printed())
      Object.assign(session.channel.print!, { muted: own })
      Object.assign(session.channel.old!, { muted: other })
      const before = asItIs(session, 'print')
      const tried = trackSides(session, 'print').reduce((s, side) => applyEdit(s, side.edit).session, session)
      expect(applyEdit(tried, before.edit).session.channel).toEqual(session.channel)
    }
  })
  it('a track that listens to the rig itself has its live side too', () => {
    const k = printed()
    k.track('amp')
    k.add('feed', { id: 'mic', kind: 'input', to: 'amp', ports: ['io-in-1', 'io-in-2'] })
    Object.assign(k.session.channel.amp!, { listen: 'feed', reference: 'old' })
    expect(trackSides(k.session, 'amp').map(s => s.word)).toEqual(['the rig, live', 'old, the reference'])
  })
})

describe('presets of a unit', () => {
  it('are what was kept and what it offers, beside how it stands', () => {
    const k = printed()
    k.unit('amp', 'r', 'tube-amplifier', { driveDb: 20 })
    expect(presetSides(k.session, 'amp').map(s => s.word)).toEqual(['as it stands'])
    k.session.unit.amp!.presets = [
      { name: 'Soft', settings: { driveDb: 6 } },
      { name: 'Hard', settings: { driveDb: 30 } }
    ]
    const sides = presetSides(k.session, 'amp')
    expect(sides.map(s => s.word)).toEqual(['as it stands', 'Soft', 'Hard'])
    expect(heardAfter(k.session, sides)).toEqual([['as it stands'], ['Soft'], ['Hard']])
    const soft = applyEdit(k.session, sides[1]!.edit).session
    expect(presetSides(soft, 'amp').map(s => s.word)).toEqual(['Soft', 'Hard'])
    k.unit('model', 'r', 'modelling-processor')
    expect(presetSides(k.session, 'model').map(s => s.word)).toContain('Warm edge')
  })
})
