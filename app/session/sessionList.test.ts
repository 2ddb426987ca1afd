import { describe, expect, it } from 'vitest'
import type { SessionSummary } from '@nullet/core/session/summary'
import { copyName, listed } from './sessionList'

const session = (name: string, fields: Partial<SessionSummary> = {}): SessionSummary => ({
  id: name,
  name,
  revision: 0,
  tracks: 0,
  buses: 1,
  frames: 0,
  sampleRate: 48000,
  bytes: 0,
  updatedAt: '2026-01-01T00:00:00Z',
  ...fields
})
const names = (list: SessionSummary[]) => list.map(s => s.name)

describe('the list of sessions', () => {
  const all = [
    session('Reel 10', { updatedAt: '2026-03-01T00:00:00Z', frames: 44100, sampleRate: 44100, tracks: 3 }),
    session('Reel 2', { updatedAt: '2026-02-01T00:00:00Z', frames: 90000, sampleRate: 96000, bytes: 9 }),
    session('Night mix', { updatedAt: '2026-04-01T00:00:00Z', frames: 5 })
  ]
  it.each([
    ['changed', ['Night mix', 'Reel 10', 'Reel 2']],
    ['name', ['Night mix', 'Reel 2', 'Reel 10']],
    ['length', ['Reel 10', 'Reel 2', 'Night mix']],
    ['size', ['Reel 2', 'Night mix', 'Reel 10']],
    ['tracks', ['Reel 10', 'Night mix', 'Reel 2']],
    ['something else', ['Night mix', 'Reel 10', 'Reel 2']]
  ])('in the order %s', (order, wanted) => {
    expect(names(listed(all, '', order))).toEqual(wanted)
  })
  it('holds what has every word that was typed', () => {
    expect(names(listed(all, 'reel 1', 'name'))).toEqual(['Reel 10'])
    expect(listed(all, 'nothing', 'name')).toEqual([])
  })
  it('names copies as nothing else is named', () => {
    expect(copyName('Mix', [])).toBe('Mix copy')
    expect(copyName('Mix', [session('Mix copy')])).toBe('Mix copy 2')
    expect(copyName('Mix copy 2', [session('Mix copy'), session('Mix copy 2')])).toBe('Mix copy 3')
  })
})
