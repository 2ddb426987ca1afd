import { getQuery, getRequestHeader, setResponseHeaders, setResponseStatus } from 'h3'
import { Readable } from 'node:stream'
import { z } from 'zod'
import { Refusal } from '@nullet/core/foundation/refusal'
import { store } from '../../../store/connect'
import { assertWhole, mediumInfo } from '../../../store/media'
import { loadSession } from '../../../store/sessions'
import { wavBytes, wavLength } from '../../../store/wavBytes'
import { defineRoute, idOf } from '../../../utils/route'
import { sendOrBreak } from '../../../utils/stream'

const Query = z.object({ medium: z.string(), depth: z.enum(['16', '24', '32f']).default('32f') })

/** A medium as a WAV file: 32-bit float as it is, or integers with TPDF dither. Byte ranges are served. */
export default defineRoute(async event => {
  const { medium, depth } = Query.parse(getQuery(event))
  const { session } = await loadSession(store(), idOf(event, 'session'))
  const row = session.medium[medium]
  if (!row) throw new Refusal('notFound', `There is no audio “${medium}” in this session`, [medium])
  const info = await mediumInfo(store(), row.sha256, row.legs)
  await assertWhole(store(), info, row.name)
  const form = depth === '32f' ? depth : (Number(depth) as 16 | 24)
  const length = wavLength(info, form)
  const asked = /^bytes=(\d+)-(\d*)$/.exec(getRequestHeader(event, 'range') ?? '')
  const from = asked ? Number(asked[1]) : 0,
    to = asked?.[2] ? Math.min(Number(asked[2]), length - 1) : length - 1
  if (from > to) {
    setResponseStatus(event, 416)
    return ''
  }
  if (asked) setResponseStatus(event, 206)
  setResponseHeaders(event, {
    'content-type': 'audio/wav',
    'accept-ranges': 'bytes',
    'content-length': to - from + 1,
    'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(`${row.name}.wav`)}`,
    ...(asked ? { 'content-range': `bytes ${from}-${to}/${length}` } : {})
  })
  return sendOrBreak(event, Readable.from(wavBytes(store(), info, form, from, to)))
})
