// Takes belong to one track: what it plays, and the clips that lie in them.
import { rows, type Session } from '../session/session'
import type { TableName } from '../session/rows'
import { capital, rowWords } from './words'
import { defineRule, type Breach } from './rule'

/** Rows that name a take of another track. */
function* strangers(session: Session): Iterable<{ table: TableName; id: string; take: string; track: string }> {
  const isOf = (take: string, track: string) => session.take[take]?.channel === track
  for (const { id, take } of rows(session, 'channel'))
    if (take !== null && !isOf(take, id)) yield { table: 'channel', id, take, track: id }
  for (const { id, take, channel } of rows(session, 'clip'))
    if (take !== null && !isOf(take, channel)) yield { table: 'clip', id, take, track: channel }
}

const words = (session: Session, table: TableName, id: string) =>
  capital(rowWords(session, table, session[table][id] as { id: string }))

export const takes = defineRule({
  says: 'a take belongs to the track that plays it',
  depends: { take: ['channel'], clip: ['channel', 'take'], channel: ['take'] },
  *find({ session }) {
    for (const { table, id, take, track } of strangers(session))
      yield {
        kind: 'badArguments',
        about: [id, take],
        message: `${words(session, table, id)} names the take “${session.take[take]?.name ?? take}”, which is none of “${session.channel[track]?.name ?? track}”`
      } satisfies Breach
  },
  mend: session =>
    [...strangers(session)].map(({ table, id, take }) => {
      const list = session[table] as Record<string, object>
      list[id] = { ...list[id], take: null }
      return `${words(session, table, id)} named the take “${take}” of another track, and is in none now`
    })
})
