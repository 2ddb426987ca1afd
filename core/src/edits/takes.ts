// Takes of a track: several recordings of which one is heard.
import { z } from 'zod'
import { Refusal } from '../foundation/refusal'
import { peekRows } from '../session/draft'
import { mayStack } from '../propose/stacks'
import { RATINGS } from '../session/rows'
import { takesOf, type Session } from '../session/session'
import { change, defineEdit, need, put } from './edit'
import { passReference, takeOut } from './linkStrips'

const takeNames = (session: Session, ids: readonly string[]) =>
  ids.length === 1 ? `“${session.take[ids[0]!]?.name ?? ids[0]}”` : `${ids.length} takes`

export const NewTake = z.object({ id: z.string(), name: z.string().min(1).max(300), order: z.string() })

/** What lies on a track in no take becomes one, which is heard. Nothing where nothing lies there. */
export function gatherTake(draft: Session, channel: string, take: z.output<typeof NewTake>): void {
  const loose = peekRows(draft, 'clip').filter(c => c.channel === channel && c.take === null)
  if (!loose.length) return
  put(draft, 'take', { ...take, channel })
  for (const { id } of loose) change(draft, 'clip', id, { take: take.id })
  change(draft, 'channel', channel, { take: take.id })
}

/** What lies on a track in no take becomes a take. */
export const gatherTakes = defineEdit({
  verb: 'gatherTakes',
  args: z.object({ channel: z.string(), take: NewTake }),
  label: (s, { channel, take }) => `“${take.name}” of “${s.channel[channel]?.name ?? channel}”`,
  apply(draft, { channel, take }) {
    need(draft, 'channel', channel)
    gatherTake(draft, channel, take)
  }
})

/** Which take of a track is heard; null: none of them. */
export const hearTake = defineEdit({
  verb: 'hearTake',
  args: z.object({ channel: z.string(), take: z.string().nullable() }),
  label: (s, { channel, take }) =>
    `${take === null ? 'No take' : `“${s.take[take]?.name ?? take}”`} of “${s.channel[channel]?.name ?? channel}”`,
  apply(draft, { channel, take }) {
    need(draft, 'channel', channel)
    if (take !== null) need(draft, 'take', take)
    change(draft, 'channel', channel, { take })
  }
})

/** Name, order or rating of takes. */
export const setTakes = defineEdit({
  verb: 'setTakes',
  args: z.object({
    ids: z.array(z.string()).min(1),
    fields: z.object({ name: z.string(), order: z.string(), rating: z.enum(RATINGS) }).partial()
  }),
  label: (s, { ids, fields }) =>
    'name' in fields ? `Rename ${takeNames(s, ids)} to “${fields.name}”` : `Rating of ${takeNames(s, ids)}`,
  apply(draft, { ids, fields }) {
    for (const id of ids) change(draft, 'take', id, fields)
  }
})

/** Takes them away with what lies in them. Where the one that is heard goes, the one beside it is heard. */
export const removeTakes = defineEdit({
  verb: 'removeTakes',
  args: z.object({ ids: z.array(z.string()).min(1) }),
  label: (s, { ids }) => `Remove ${takeNames(s, ids)}`,
  apply(draft, { ids }) {
    const gone = new Set(ids)
    for (const id of ids) {
      const { channel } = need(draft, 'take', id)
      if (need(draft, 'channel', channel).take !== id) continue
      const all = takesOf(draft, channel),
        at = all.findIndex(t => t.id === id)
      const next = all.slice(at + 1).find(t => !gone.has(t.id)) ?? all.slice(0, at).findLast(t => !gone.has(t.id))
      change(draft, 'channel', channel, { take: next?.id ?? null })
    }
    const clips = new Set(peekRows(draft, 'clip').flatMap(c => (c.take !== null && gone.has(c.take) ? [c.id] : [])))
    for (const p of peekRows(draft, 'print')) if (p.clip !== null && clips.has(p.clip)) delete draft.print[p.id]
    for (const id of clips) delete draft.clip[id]
    for (const id of ids) delete draft.take[id]
  }
})

/**
 * Tracks that are takes of one source become takes of the first: of the others only the audio stays, at the level that
 * their trims gave it. The first keeps its place, its settings and its feeds, and goes on being heard.
 */
export const stackTakes = defineEdit({
  verb: 'stackTakes',
  args: z.object({
    onto: z.string(),
    first: NewTake,
    others: z.array(z.object({ track: z.string(), take: NewTake })).min(1)
  }),
  label: (s, { onto, others }) => `${others.length + 1} takes of “${s.channel[onto]?.name ?? onto}”`,
  apply(draft, { onto, first, others }) {
    const why = mayStack(
      draft,
      onto,
      others.map(o => o.track)
    )
    if (why)
      throw new Refusal(
        'badArguments',
        `They cannot be takes of one track: ${why}`,
        [onto, ...others.map(o => o.track)],
        'Nothing was changed.'
      )
    gatherTake(draft, onto, first)
    const trim = need(draft, 'channel', onto).trimDb
    for (const { track, take } of others) {
      const other = need(draft, 'channel', track)
      put(draft, 'take', { ...take, channel: onto })
      for (const clip of peekRows(draft, 'clip').filter(c => c.channel === track))
        change(draft, 'clip', clip.id, {
          channel: onto,
          take: take.id,
          gainDb:
            clip.gainDb === null || other.trimDb === null || trim === null
              ? clip.gainDb
              : clip.gainDb + other.trimDb - trim
        })
      for (const f of peekRows(draft, 'feed')) if (f.from === track || f.to === track) delete draft.feed[f.id]
      const session = need(draft, 'session', 'session')
      if (session.heardChannel === track) session.heardChannel = onto
      takeOut(draft, new Set([track]))
      passReference(draft, new Set([track]), onto)
      delete draft.channel[track]
    }
  }
})
