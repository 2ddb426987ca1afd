import { getQuery, setResponseHeaders } from 'h3'
import { z } from 'zod'
import { store } from '../../../store/connect'
import { exportPackage } from '../../../store/packages'
import { defineRoute, idOf } from '../../../utils/route'
import { sendOrBreak } from '../../../utils/stream'

const Query = z.object({ receiver: z.enum(['beside', 'instead']).optional() })

/** The session as it is, or as it goes to somebody who has neither its room nor every processor. */
export default defineRoute(async event => {
  const { receiver } = Query.parse(getQuery(event))
  const { name, stream } = await exportPackage(store(), idOf(event, 'session'), receiver)
  setResponseHeaders(event, {
    'content-type': 'application/zip',
    'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(`${name}.zip`)}`
  })
  return sendOrBreak(event, stream)
})
