// Edits of what is recorded and printed: clips, takes, prints, their audio.
import { mayStack } from '../propose/stacks'
import type { Take } from '../session/rows'
import { rows } from '../session/session'
import { idsOf, isMono, newIds, one, order, some, type Hand } from './hand'

export type Verbs = Record<string, (hand: Hand) => Record<string, unknown>>

export const AUDIO_VERBS: Verbs = {
  addRows: h => {
    const clip = one(h, 'clip'),
      channel = h.session.clip[clip]?.channel ?? one(h, 'channel')
    const print = {
      id: h.newId(),
      channel,
      source: one(h, 'channel'),
      tap: 'post',
      clip: clip === 'nobody' ? null : clip
    }
    return { label: 'A print', rows: [{ table: 'print', row: print }] }
  },
  removeMedia: h => ({ ids: some(h, 'medium', 2) }),
  acceptFaults: h => ({ id: one(h, 'print') }),
  mendPrint: h => {
    const id = one(h, 'print', (p: { clip: string | null }) => p.clip !== null),
      clip = h.session.clip[h.session.print[id]?.clip ?? '']
    const legs = h.dice.chance(0.8) ? (h.session.medium[clip?.medium ?? '']?.legs ?? 1) : 3
    const medium = { id: h.newId(), name: 'run again', sha256: 'f'.repeat(64), legs, frames: 5000 }
    return { id, medium, ...{ note: 'run again', faults: [], residualDb: null, verified: 'identical' } }
  },
  keepProof: h => ({
    ids: some(h, 'print', 2),
    proof: {
      of: h.dice.pick(['live', 'sum']),
      at: '2026-11-01T10:00:00Z',
      leftDb: h.dice.chance(0.3) ? null : -140,
      signalDb: -20,
      prints: []
    }
  }),
  cropClips: h => {
    const from = h.dice.below(3000)
    return { ids: [one(h, 'clip')], from, to: from + h.dice.below(3000), fadeFrames: h.dice.below(200) }
  },
  wholeClips: h => ({ ids: [one(h, 'clip')] }),
  repeatClip: h => ({ id: one(h, 'clip'), copies: newIds(h, 1 + h.dice.below(2)) }),
  gatherTakes: h => ({ channel: one(h, 'channel'), take: { id: h.newId(), name: 'Take 1', order: order(h) } }),
  hearTake: h => {
    const take = one(h, 'take')
    const channel = h.dice.chance(0.8) ? h.session.take[take]?.channel : undefined
    return { channel: channel ?? one(h, 'channel'), take: h.dice.chance(0.2) ? null : take }
  },
  setTakes: h => ({ ids: some(h, 'take', 2), fields: h.dice.pick([{ name: 'Better' }, { rating: 'best' }]) }),
  removeTakes: h => ({ ids: some(h, 'take', 2) }),
  spliceTakes: h => {
    const from = h.dice.below(3000),
      others = (t: Take) => rows(h.session, 'take').filter(o => o.channel === t.channel && o.id !== t.id)
    const base = one(h, 'take', (t: Take) => others(t).length > 0)
    const channel = h.session.take[base]?.channel ?? one(h, 'channel', isMono)
    return {
      channel,
      take: { id: h.newId(), name: 'Of two', order: order(h) },
      base,
      from: one(h, 'take', (t: Take) => t.channel === channel && t.id !== base),
      range: { from, to: from + h.dice.below(3000) },
      fadeFrames: h.dice.below(400)
    }
  },
  stackTakes: h => {
    const onto = one(h, 'channel', isMono)
    const others = idsOf(h, 'channel', (c: { id: string }) => !mayStack(h.session, onto, [c.id]))
    const take = (n: number) => ({ id: h.newId(), name: `Take ${n}`, order: order(h) })
    return {
      onto,
      first: take(1),
      others: (others.length ? h.dice.some(others, 2) : [one(h, 'channel')]).map((track, i) => ({
        track,
        take: take(i + 2)
      }))
    }
  }
}
