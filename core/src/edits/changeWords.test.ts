// What changes mean in words.
import { describe, expect, it } from 'vitest'
import { Sketch } from '../testing/sketch'
import { inverse } from '../session/session'
import { applyEdit } from './apply'
import { changeWords } from './changeWords'

function network() {
  const s = new Sketch('Words')
  s.bus('main', { role: 'main', name: 'Main' })
  s.bus('drums', { name: 'Drums' })
  s.track('kick', undefined, { name: 'Kick' })
  s.main('kick', 'drums')
  return s.session
}

describe('changes in words', () => {
  it('name the row, the field, and from what to what', () => {
    const session = network()
    const { changes } = applyEdit(session, {
      verb: 'setChannels',
      args: { ids: ['kick'], fields: { levelDb: -6, muted: true, lowCutHz: 80, name: 'Kick in' } }
    })
    expect(changeWords(session, changes)[0]).toMatch(/^The track “Kick in”: /)
    for (const part of ['level 0 dB → −6 dB', 'muted off → on', 'low cut none → 80 Hz', 'name Kick → Kick in'])
      expect(changeWords(session, changes)[0]).toContain(part)
    expect(changeWords(session, inverse(changes))[0]).toContain('level −6 dB → 0 dB')
  })
  it('say what comes and what goes', () => {
    const session = network()
    const made = applyEdit(session, {
      verb: 'createBus',
      args: { id: 'hall', name: 'Hall', role: 'return', order: 'b5', to: 'main', feedId: 'hall-main' }
    })
    expect(changeWords(made.session, made.changes)).toEqual(
      expect.arrayContaining(['The bus “Hall” comes', 'The main feed from “Hall” to “Main” comes'])
    )
    expect(changeWords(made.session, inverse(made.changes))).toContain('The bus “Hall” goes')
  })
  it('name what is referred to, not its id', () => {
    const session = network()
    const { changes } = applyEdit(session, {
      verb: 'setMainFeed',
      args: { ids: ['kick'], to: 'main', feedIds: ['n1'] }
    })
    expect(changeWords(session, changes).join()).not.toMatch(/main →|→ main\b/)
  })
})
