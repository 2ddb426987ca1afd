import { getQuery } from 'h3'
import { z } from 'zod'
import { store } from '../../../store/connect'
import { loadSession } from '../../../store/sessions'
import { Gesture } from '../../../utils/gesture'
import { defineRoute, idOf } from '../../../utils/route'

/** `asked`: gestures, joined by commas, of which the page does not know whether they were stored. */
const Query = z.object({
  asked: z
    .string()
    .max(8000)
    .default('')
    .transform(text => (text ? text.split(',') : []))
    .pipe(z.array(Gesture))
})

export default defineRoute(event => loadSession(store(), idOf(event, 'session'), Query.parse(getQuery(event)).asked))
