// A take made of two: one of them, with a range of the other in it. Where they meet they are faded into each other; the
// two fades add up to one, so that where both sound alike nothing is heard of it. Both stay as they are.
import { z } from 'zod'
import { Refusal } from '../foundation/refusal'
import { peekRows } from '../session/draft'
import { derivedId } from '../session/ids'
import type { Clip } from '../session/rows'
import { clipLength, type Session } from '../session/session'
import { change, defineEdit, need, put } from './edit'
import { NewTake } from './takes'

const frame = z.number().int().min(0)

interface Cut {
  from: number
  to: number
  /** Frames over which it fades there, whatever it did itself; null: as it did. */
  fadeIn: number | null
  fadeOut: number | null
}

/** What of a clip lies in a range, as fields of another one; null where nothing does. */
function portion(draft: Session, clip: Clip, { from, to, fadeIn, fadeOut }: Cut): Omit<Clip, 'id' | 'take'> | null {
  const length = clipLength(draft, clip),
    end = clip.startFrame + length
  const begin = Math.max(clip.startFrame, from),
    until = Math.min(end, to)
  if (begin >= until) return null
  const { id: _, take: __, ...fields } = clip
  return {
    ...fields,
    startFrame: begin,
    offsetFrames: clip.offsetFrames + begin - clip.startFrame,
    frames: until - begin,
    fadeInFrames: fadeAt(begin === from, fadeIn, begin > clip.startFrame ? 0 : clip.fadeInFrames, until - begin),
    fadeOutFrames: fadeAt(until === to, fadeOut, until < end ? 0 : clip.fadeOutFrames, until - begin)
  }
}

const fadeAt = (isEdge: boolean, fade: number | null, own: number, length: number): number =>
  Math.min(length, isEdge && fade !== null ? fade : own)

export const spliceTakes = defineEdit({
  verb: 'spliceTakes',
  args: z.object({
    channel: z.string(),
    take: NewTake,
    /** What is heard outside of the range, and inside of it. */
    base: z.string(),
    from: z.string(),
    /** Frames of the session. */
    range: z.object({ from: frame, to: frame }),
    fadeFrames: frame.default(0)
  }),
  label: (s, { channel, take }) => `“${take.name}” of “${s.channel[channel]?.name ?? channel}”`,
  apply(draft, { channel, take, base, from, range, fadeFrames }) {
    need(draft, 'channel', channel)
    const refuse = (what: string) => new Refusal('badArguments', what, [channel], 'Nothing was changed.')
    for (const id of [base, from])
      if (need(draft, 'take', id).channel !== channel)
        throw refuse(`“${draft.take[id]!.name}” is not a take of “${draft.channel[channel]!.name}”`)
    if (base === from) throw refuse('A take is made of two takes: these are the same')
    if (range.to <= range.from) throw refuse('A range ends after it begins')
    const clipsOf = (id: string) => peekRows(draft, 'clip').filter(c => c.take === id)
    const inserted = clipsOf(from).filter(
      c => c.startFrame < range.to && c.startFrame + clipLength(draft, c) > range.from
    )
    if (!inserted.length) throw refuse(`“${draft.take[from]!.name}” plays nothing in that range`)
    // Where the other begins later or ends sooner, the first goes on until there.
    const begin = Math.max(range.from, Math.min(...inserted.map(c => c.startFrame))),
      end = Math.min(range.to, Math.max(...inserted.map(c => c.startFrame + clipLength(draft, c))))
    const fade = Math.min(fadeFrames, Math.floor((end - begin) / 2))
    const inside = { from: begin, to: end, fadeIn: begin > 0 ? fade : null, fadeOut: fade },
      before = { from: 0, to: begin + fade, fadeIn: null, fadeOut: fade },
      behind = { from: end - fade, to: Infinity, fadeIn: fade, fadeOut: null }
    const taken = inserted.map(clip => ({ clip, part: 'inside', fields: portion(draft, clip, inside) }))
    const left = clipsOf(base).flatMap(clip =>
      begin === 0
        ? [{ clip, part: 'behind', fields: portion(draft, clip, behind) }]
        : [
            { clip, part: 'before', fields: portion(draft, clip, before) },
            { clip, part: 'behind', fields: portion(draft, clip, behind) }
          ]
    )
    put(draft, 'take', { ...take, channel })
    const made = new Map<string, string>()
    for (const { clip, part, fields } of [...left, ...taken]) {
      if (!fields) continue
      const id = derivedId(take.id, `${part}/${clip.id}`)
      put(draft, 'clip', { ...fields, id, take: take.id })
      if (!made.has(clip.id)) made.set(clip.id, id)
    }
    // What stood in for a source goes on standing in for it.
    for (const print of peekRows(draft, 'print')) {
      const clip = print.clip === null ? undefined : draft.clip[print.clip]
      if (clip?.take !== base || print.channel !== channel) continue
      put(draft, 'print', {
        ...print,
        id: derivedId(take.id, print.id),
        clip: made.get(clip.id) ?? taken.flatMap(t => made.get(t.clip.id) ?? [])[0],
        proofs: [],
        notes: [...print.notes, `with a range of “${draft.take[from]!.name}”`].slice(-1000)
      })
    }
    change(draft, 'channel', channel, { take: take.id })
  }
})
