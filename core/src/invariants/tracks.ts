// Clips, takes, notes and prints lie on tracks.
import type { TableName } from '../session/rows'
import { rowOf, rows, type Session } from '../session/session'
import { capital, rowWords } from './words'
import { defineRule, type Breach } from './rule'

const LYING = ['clip', 'take', 'phrase', 'print'] as const satisfies readonly TableName[]

function* onBuses(session: Session) {
  for (const table of LYING) {
    for (const row of rows(session, table)) if (session.channel[row.channel]?.kind === 'bus') yield { table, row }
  }
}

export const tracks = defineRule({
  says: 'clips, takes, notes and prints lie on tracks',
  depends: { clip: ['channel'], take: ['channel'], phrase: ['channel'], print: ['channel'], channel: ['kind'] },
  *find({ session }) {
    for (const { table, row } of onBuses(session)) {
      yield {
        kind: 'badArguments',
        about: [row.id, row.channel],
        message: `${capital(rowWords(session, table, row))} lies on the bus “${rowOf(session, 'channel', row.channel).name}”; only tracks hold clips, takes, notes and prints`
      } satisfies Breach
    }
  },
  mend: session =>
    [...onBuses(session)].map(({ table, row }) => {
      delete session[table][row.id]
      return `${capital(rowWords(session, table, row))} lay on the bus “${rowOf(session, 'channel', row.channel).name}” and was left out`
    })
})
