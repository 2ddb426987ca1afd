import { getQuery } from 'h3'
import { z } from 'zod'
import { store } from '../../../store/connect'
import { readLog } from '../../../store/log'
import { Client, Revision } from '../../../utils/gesture'
import { defineRoute, idOf } from '../../../utils/route'

const Query = z.object({ hand: Client.default(''), before: z.coerce.number().pipe(Revision).optional() })

/** What was done in a session, the newest first. */
export default defineRoute(event => {
  const { hand, before } = Query.parse(getQuery(event))
  return readLog(store(), idOf(event, 'session'), hand, before)
})
