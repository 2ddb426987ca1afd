import { z } from 'zod'
import { Refusal } from '../foundation/refusal'
import { peekRows } from '../session/draft'
import { derivedId } from '../session/ids'
import { rowOf, type Session } from '../session/session'
import { change, channelNames, defineEdit, need, put } from './edit'

/** Where the legs of a layout go as mono tracks: hard left, hard right, or the middle. */
const PANS: Record<string, number> = { L: -1, R: 1, Ls: -1, Rs: 1 }

/**
 * Each leg of a track as a mono track: the first keeps the row and with it place, feeds and notes; the others get
 * copies of its main feeds and sends. Left and right are panned where they were.
 */
export const splitTracks = defineEdit({
  verb: 'splitTracks',
  args: z.object({
    tracks: z
      .array(z.object({ id: z.string(), others: z.array(z.object({ id: z.string(), order: z.string() })).min(1) }))
      .min(1)
  }),
  label: (s, { tracks }) =>
    `${channelNames(
      s,
      tracks.map(t => t.id)
    )} as mono tracks`,
  apply(draft, { tracks }) {
    for (const { id, others } of tracks) split(draft, id, others)
  }
})

function split(draft: Session, id: string, others: readonly { id: string; order: string }[]): void {
  const whole = { ...need(draft, 'channel', id) }
  const refuse = (why: string): never => {
    throw new Refusal('layout', `“${whole.name}” cannot be split: ${why}`, [id], 'Nothing was changed.')
  }
  if (whole.kind !== 'track') refuse('it is a bus')
  if (whole.layout.length < 2) refuse('it is mono')
  if (others.length !== whole.layout.length - 1) refuse(`it has ${whole.layout.length} legs`)
  if (peekRows(draft, 'slot').some(s => s.channel === id)) refuse('it has processors; split it before, or remove them')
  if (peekRows(draft, 'print').some(p => p.channel === id || p.source === id)) refuse('it has a print')
  if (peekRows(draft, 'take').some(t => t.channel === id)) refuse('it has takes')
  if (peekRows(draft, 'phrase').some(p => p.channel === id)) refuse('it plays notes')
  if (whole.pan !== 0) refuse('its balance is not in the middle')
  const all = [id, ...others.map(o => o.id)]
  const clips = peekRows(draft, 'clip').filter(c => c.channel === id)
  const feeds = peekRows(draft, 'feed').filter(f => f.from === id && (f.kind === 'main' || f.kind === 'send'))
  whole.layout.forEach((label, leg) => {
    const own = all[leg] ?? id
    const fields = {
      name: `${whole.name} ${label}`,
      layout: ['M'],
      pan: PANS[label] ?? 0,
      flippedLegs: whole.flippedLegs.includes(leg) ? [0] : [],
      mutedLegs: whole.mutedLegs.includes(leg) ? [0] : []
    }
    if (leg === 0) change(draft, 'channel', id, fields)
    else put(draft, 'channel', { ...whole, ...fields, id: own, order: others[leg - 1]?.order ?? whole.order })
    for (const clip of clips) {
      const legs = rowOf(draft, 'medium', clip.medium).legs
      const from = clip.legMap ? (clip.legMap[leg] ?? -1) : legs === 1 ? 0 : leg
      if (leg === 0) change(draft, 'clip', clip.id, { legMap: [from] })
      else if (from >= 0 && from < legs)
        put(draft, 'clip', { ...clip, id: derivedId(own, clip.id), channel: own, legMap: [from] })
      if (leg === 0 && from < 0) delete draft.clip[clip.id]
    }
    if (leg > 0) for (const f of feeds) put(draft, 'feed', { ...f, id: derivedId(own, f.id), from: own })
  })
}
