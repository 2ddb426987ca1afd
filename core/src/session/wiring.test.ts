import { describe, expect, it } from 'vitest'
import { applyEdit } from '../edits/apply'
import { feedClosed } from '../graph/closed'
import { mapLayout } from '../graph/mapLayout'
import { Network } from '../graph/network'
import { demoLike } from '../testing/demoLike'
import { Dice } from '../testing/generated'
import { generatedEdit } from '../testing/generatedEdits'
import { times } from '../testing/lengths'
import { difference, rows, type Session } from './session'
import { connectsNothing } from './wiring'

const { session } = demoLike()
const after = (verb: string, args: unknown, from = session) => applyEdit(from, { verb, args }).session

describe('what connects nothing', () => {
  const feed = rows(session, 'feed').find(f => f.kind === 'send')!,
    slot = rows(session, 'slot').find(s => Object.keys(s.params).length)!
  const [field, value] = Object.entries(slot.params).find(([, v]) => typeof v === 'number')! as [string, number]
  it.each([
    ['a level', 'setChannels', { ids: ['low'], fields: { levelDb: -3 } }, true],
    ['a pan', 'setChannels', { ids: ['low'], fields: { pan: 0.25 } }, true],
    ['the level of a send', 'setFeeds', { ids: [feed.id], fields: { levelDb: -20 } }, true],
    ['a setting', 'setSlot', { id: slot.id, fields: { params: { [field]: value * 0.9 } } }, true],
    ['a mute', 'setChannels', { ids: ['low'], fields: { muted: true } }, false],
    ['a level of −∞', 'setChannels', { ids: ['low'], fields: { levelDb: null } }, false],
    ['a name', 'setChannels', { ids: ['low'], fields: { name: 'Deep drum' } }, false],
    ['a channel that is gone', 'removeChannels', { ids: ['low'] }, false]
  ] as const)('%s', (_, verb, args, alike) => {
    const next = after(verb, args)
    expect(connectsNothing(difference(session, next))).toBe(alike)
    expect(connectsNothing(difference(next, session))).toBe(alike)
  })

  it('nothing at all', () => expect(connectsNothing(difference(session, structuredClone(session)))).toBe(true))
})

it('where it is the same, the Map and what is closed are the same: generated edits', () => {
  const dice = new Dice(88)
  const picture = (s: Session) => {
    const network = new Network(s)
    const { lines, ...map } = mapLayout(network, { folded: new Set(), row: 32, lane: 8, gap: 3, fit: 500 })
    return JSON.stringify([
      map,
      lines.map(l => [l.feed.id, l.from, l.to, l.via]),
      network.feeds.map(f => feedClosed(network, f))
    ])
  }
  let serial = 0
  let at: Session = session,
    alike = 0
  for (let i = 0; i < times(120, 1500); i++) {
    const message = generatedEdit(dice, at, () => `g${++serial}`)
    let next: Session
    try {
      next = applyEdit(at, message).session
    } catch {
      continue
    }
    if (connectsNothing(difference(at, next))) {
      if (next !== at) alike++
      expect(picture(next)).toBe(picture(at))
    }
    at = next
  }
  expect(alike).toBeGreaterThan(times(4, 50))
})
