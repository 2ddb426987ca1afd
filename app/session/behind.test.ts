import { expect, it } from 'vitest'
import { behindText } from './behind'

it('names what takes the most of the work, where anything does', () => {
  const names: Record<string, string> = { hall: 'Dome hall', choir: 'Choir' }
  const heavy = [
    { channel: 'hall', share: 0.316 },
    { channel: 'choir', share: 0.05 }
  ]
  expect(behindText({ aheadMs: 180, heavy }, id => names[id]!)).toBe(
    'This machine could not keep up for a moment: sound is computed 180 ms ahead now. Most of the work is in “Dome hall” (32 %), “Choir” (5 %): print and park it, or park what is not needed.'
  )
  expect(behindText({ aheadMs: 200, heavy: [] }, id => id)).toMatch(/ms ahead now\. Park what is not needed\.$/)
})
