import { describe, expect, it } from 'vitest'
import { strokeOf } from './stroke'

const stroke = (key: string, code: string, shiftKey = false) => strokeOf({ key, code, shiftKey })

describe('a stroke', () => {
  it('is its letter, with caps lock too', () => {
    expect(stroke('m', 'KeyM')).toBe('m')
    expect(stroke('M', 'KeyM')).toBe('m')
    // A layout that has its letters elsewhere: what is printed on the key counts.
    expect(stroke('z', 'KeyY')).toBe('z')
  })

  it('is its place where the letter is not Latin', () => {
    expect(stroke('ь', 'KeyM')).toBe('m')
    expect(stroke('μ', 'KeyM')).toBe('m')
    expect(stroke('ש', 'KeyA')).toBe('a')
    expect(stroke('ю', 'Period')).toBe('.')
  })

  it('leaves the other keys as they are', () => {
    expect(stroke(' ', 'Space')).toBe(' ')
    expect(stroke('Escape', 'Escape')).toBe('Escape')
    expect(stroke('?', 'Slash', true)).toBe('?')
    expect(stroke('ArrowUp', 'ArrowUp')).toBe('ArrowUp')
  })
})
