import { getQuery } from 'h3'
import { z } from 'zod'
import { editsSince } from '../../../store/edits'
import { store } from '../../../store/connect'
import { defineRoute, idOf } from '../../../utils/route'
import { Revision } from '../../../utils/gesture'

const Query = z.object({ base: z.coerce.number().pipe(Revision), era: z.string().max(60) })

/** What came after a revision. */
export default defineRoute(event => editsSince(store(), idOf(event, 'session'), Query.parse(getQuery(event))))
