import { getQuery } from 'h3'
import { z } from 'zod'
import { isKeepable } from '@nullet/core/foundation/text'
import { importTracks } from '../../../import/tracks'
import { store } from '../../../store/connect'
import { Arrival, withArrival } from '../../../utils/arrival'
import { AddressId, defineRoute, idOf } from '../../../utils/route'
import { Client, Gesture } from '../../../utils/gesture'

const Query = z.object({
  id: AddressId,
  file: z.string().min(1).max(280).refine(isKeepable, 'the file’s name holds a character that cannot be kept'),
  after: z
    .string()
    .nullish()
    .transform(v => v || null),
  to: z
    .string()
    .nullish()
    .transform(v => v || null),
  split: z
    .enum(['0', '1'])
    .default('0')
    .transform(v => v === '1'),
  response: z
    .string()
    .max(200)
    .nullish()
    .transform(v => v || null),
  gesture: Gesture,
  client: Client
})

/** The body is a sound file, as it is, or what is not here of it yet. It never sits in memory. */
export default defineRoute(event => {
  const query = getQuery(event)
  return withArrival(event, Arrival.parse(query), (body, total) =>
    importTracks(store(), idOf(event, 'session'), body, total, Query.parse(query))
  )
})
