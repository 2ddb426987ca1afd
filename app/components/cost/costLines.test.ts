import { describe, expect, it } from 'vitest'
import { Network } from '@nullet/core/graph/network'
import { demoLike } from '@nullet/core/testing/demoLike'
import { slotsOf } from '@nullet/core/session/session'
import { costLines, sorted } from './costLines'

describe('rows of the cost view', () => {
  const { session } = demoLike()
  const slot = slotsOf(session, 'singers')[0]!.id
  const measured = [
    { channel: 'hall', slot: null, share: 0.5, secondsPerSecond: 0.1 },
    { channel: 'singers', slot, share: 0.3, secondsPerSecond: 0.1 },
    { channel: 'low', slot: null, share: 0.15, secondsPerSecond: 0.1 },
    { channel: null, slot: null, share: 0.05, secondsPerSecond: 0.1 },
    { channel: 'gone', slot: null, share: 0, secondsPerSecond: 0 }
  ]
  const lines = costLines(
    session,
    new Network(session),
    measured,
    new Map([
      ['hall', 0.55],
      ['low', 0.2]
    ])
  )

  it('say who uses what, and what parking saves where something can be parked', () => {
    expect(lines.map(l => [l.name, l.users, l.saves])).toEqual([
      ['Hall', 3, 0.55],
      ['Singers', 1, null],
      ['Frame drum low', null, 0.2],
      ['ports, units and listening', null, null]
    ])
  })
  it('are sorted by any column', () => {
    expect(sorted(lines, 'name').map(l => l.name)[0]).toBe('Frame drum low')
    expect(sorted(lines, 'share').map(l => l.share)).toEqual([0.5, 0.3, 0.15, 0.05])
    expect(
      sorted(lines, 'saves')
        .map(l => l.name)
        .slice(0, 2)
    ).toEqual(['Hall', 'Frame drum low'])
  })
})
