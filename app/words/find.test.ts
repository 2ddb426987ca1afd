import { describe, expect, it } from 'vitest'
import { fit, found } from './find'

const names = (typed: string, ...labels: string[]) =>
  found(
    typed,
    labels.map(label => ({ label }))
  ).map(f => f.label)

describe('finding by typing', () => {
  it('puts the exact name before longer ones, whatever their order', () => {
    expect(names('Lead Vox', 'Lead Vox Double', 'Old Lead Vox', 'Lead Vox')[0]).toBe('Lead Vox')
    expect(names('lead vox', 'Lead Vox Double', 'LEAD VOX')).toEqual(['LEAD VOX', 'Lead Vox Double'])
  })

  it('puts a beginning before words that begin, and those before what lies inside', () => {
    expect(names('ki', 'Talking', 'Big Kick', 'Kick in', 'Snare')).toEqual(['Kick in', 'Big Kick', 'Talking'])
    expect(names('dr bu', 'Bus of drums', 'Drum bus', 'Underdraw burst')).toEqual([
      'Bus of drums',
      'Drum bus',
      'Underdraw burst'
    ])
  })

  it('leaves case and accents aside', () => {
    expect(fit('choeur', 'Chœur')).toBeNull()
    expect(fit('cor anglais', 'Cor Anglais')).toBe(0)
    expect(fit('flute', 'Flûte')).toBe(0)
    expect(fit('FLÛTE', 'flute 2')).toBe(1)
  })

  it('asks the hint last, and everything fits when nothing is typed', () => {
    expect(fit('return', 'Hall', 'return')).toBe(4)
    expect(fit('hall ret', 'Hall', 'return')).toBe(4)
    expect(fit('stem', 'Hall', 'return')).toBeNull()
    expect(names('', 'b', 'a')).toEqual(['b', 'a'])
  })
})
