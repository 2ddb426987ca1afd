// An edit to what is there already changes nothing: no row, no step to take back.
import { describe, expect, it } from 'vitest'
import { demoLike } from '../testing/demoLike'
import { applyEdit } from './apply'

const { session } = demoLike()

describe('an edit to what is there already', () => {
  it.each([
    ['setChannels', { ids: ['low', 'edge'], fields: { levelDb: 0, muted: false, flippedLegs: [] } }],
    ['setFeeds', { ids: ['f0001'], fields: { levelDb: 0 } }],
    ['setSlot', { id: 's0011', fields: { params: { decayS: 3 } } }],
    ['setUnit', { id: 'amp', fields: { powered: true } }],
    ['setSession', { heardChannel: 'main' }],
    ['moveLevels', { ids: ['low'], byDb: 0 }]
  ])('%s is none', (verb, args) => {
    const { changes, session: after } = applyEdit(session, { verb, args })
    expect(changes).toEqual([])
    expect(after.channel.low).toBe(session.channel.low)
  })
  it('is one where a single value differs, in any row of several', () => {
    const { changes } = applyEdit(session, {
      verb: 'setChannels',
      args: { ids: ['low', 'edge'], fields: { flippedLegs: [0], levelDb: 0 } }
    })
    expect(changes.map(c => c.id).sort()).toEqual(['edge', 'low'])
    const once = applyEdit(session, { verb: 'setChannels', args: { ids: ['low'], fields: { muted: true } } }).session
    const both = applyEdit(once, { verb: 'setChannels', args: { ids: ['low', 'edge'], fields: { muted: true } } })
    expect(both.changes.map(c => c.id)).toEqual(['edge'])
  })
})
