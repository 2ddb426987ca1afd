import { describe, expect, it } from 'vitest'
import { FAMILY_NAMES } from '../testing/familyNames'
import { familyWhole, guessFamily } from './families'
import { FAMILIES } from './familyTable'

const all = Object.values(FAMILY_NAMES).flat()

describe('families guessed from 300 names of six kinds of sessions', () => {
  it('are known families, enough of them', () => {
    expect(all.length).toBeGreaterThanOrEqual(300)
    const known = new Set(['', ...FAMILIES.map(f => f.family)])
    for (const [name, family] of all) expect(known, name).toContain(family)
  })

  it.each(Object.entries(FAMILY_NAMES))('%s: right for at least 92 of 100, and wrong for none', (_, names) => {
    const wrong = names.filter(([name, family]) => !['', family].includes(guessFamily(name).family))
    expect(wrong.map(([name]) => [name, guessFamily(name).family])).toEqual([])
    const open = names.filter(([name, family]) => family && !guessFamily(name).family)
    expect(1 - open.length / names.length, open.map(([n]) => n).join('; ')).toBeGreaterThanOrEqual(0.92)
  })

  it('are left open where two families answer alike, or none', () => {
    for (const name of ['Audio 01', 'Take 7', 'drums and bass', 'untitled', '', '***', '日本'])
      expect(guessFamily(name).family, name).toBe('')
  })

  it('name the part of a kit, and the kit where two parts answer', () => {
    expect(guessFamily('Kick In')).toMatchObject({ family: 'Kick' })
    expect(familyWhole('Kick')).toBe('Drums')
    expect(familyWhole('Bass')).toBe('Bass')
    expect(guessFamily('Kick and snare').family).toBe('Drums')
    expect(guessFamily('Kit kick').family).toBe('Kick')
  })

  it('go by a table of one’s own', () => {
    const table = [
      { family: 'Robots', colour: 3, words: ['droid', 'arm!'] },
      { family: 'Hands', colour: 4, words: ['left hand', 'hand?'] }
    ]
    expect(guessFamily('Droids_2', table)).toEqual({ family: 'Robots', colour: 3 })
    expect(guessFamily('droid hand', table).family).toBe('Robots')
    expect(guessFamily('Left Hand droid', table).family).toBe('Hands')
    expect(guessFamily('left hand arm', table).family).toBe('Robots')
    expect(guessFamily('hand 4', table).family).toBe('Hands')
  })
})
