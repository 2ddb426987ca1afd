import { getQuery } from 'h3'
import { z } from 'zod'
import { storedGestures } from '../../store/edits'
import { sessionIsThere } from '../../store/sessions'
import { store } from '../../store/connect'
import { arrivedBytes } from '../../utils/arrival'
import { Gesture } from '../../utils/gesture'
import { AddressId, defineRoute, uploadKey } from '../../utils/route'

const Query = z.object({ session: AddressId, gesture: Gesture.optional() })

/** How much of an upload is here, and whether it was done already: its answer may have been lost. */
export default defineRoute(async event => {
  const key = uploadKey(event),
    { session, gesture } = Query.parse(getQuery(event))
  const done = gesture
    ? (await storedGestures(store(), session, [gesture])).length > 0
    : await sessionIsThere(store(), session)
  return { bytes: await arrivedBytes(key), done }
})
