import { getQuery, getRequestHeader, getRouterParam } from 'h3'
import { z } from 'zod'
import { importTracks } from '../../../store/importTracks'
import { store } from '../../../store/connect'
import { withBody } from '../../../utils/body'
import { defineRoute } from '../../../utils/route'

const Query = z.object({
  id: z.string().regex(/^[\w-]{1,60}$/), file: z.string().min(1).max(280), after: z.string().nullish().transform(v => v || null),
  to: z.string().nullish().transform(v => v || null), split: z.enum(['0', '1']).default('0').transform(v => v === '1'), response: z.string().max(200).nullish().transform(v => v || null), tab: z.string().max(60)
})

/** The body is a WAV file, as it is. It never sits in memory. */
export default defineRoute(event => {
  const length = Number(getRequestHeader(event, 'content-length'))
  return withBody(event, body => importTracks(store(), getRouterParam(event, 'id')!, body, length > 0 ? length : null, Query.parse(getQuery(event))))
})
