import { describe, expect, it } from 'vitest'
import { Network } from '@nullet/core/graph/network'
import { demoLike } from '@nullet/core/testing/demoLike'
import { gridLines, type GridLine, type Grouping } from './gridLines'

const { session } = demoLike()
const lines = (by: Grouping, folded: string[] = [], found: string[] | null = null) =>
  gridLines(new Network(session), found && new Set(found), by, new Set(folded))
const shown = (list: GridLine[]) =>
  list.map(l => (l.kind === 'group' ? `[${l.title} ${l.members.length}]` : l.channel.id))

describe('rows of the crosspoints', () => {
  it('are tracks, then buses, when nothing gathers them', () => {
    expect(shown(lines('none'))).toEqual(['low', 'edge', 'voice', 'other', 'main', 'hall', 'drums', 'singers'])
  })
  it('gather by family and by tier, and fold', () => {
    expect(shown(lines('family', ['No family']))).toEqual([
      '[Percussion 3]',
      'low',
      'edge',
      'drums',
      '[Choir 3]',
      'voice',
      'other',
      'singers',
      '[No family 2]'
    ])
    expect(shown(lines('tier', ['Tracks']))[0]).toBe('[Tracks 4]')
    expect(shown(lines('tier')).filter(t => t.startsWith('['))).toEqual([
      '[Tracks 4]',
      '[Returns 1]',
      '[Submixes, tier 1 2]',
      '[Mains 1]'
    ])
  })
  it('show what a filter found', () => {
    expect(shown(lines('family', [], ['low']))).toEqual(['[Percussion 1]', 'low'])
  })
})
