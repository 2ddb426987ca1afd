import { getQuery, getRequestHeader, setResponseHeaders, setResponseStatus } from 'h3'
import { Readable } from 'node:stream'
import { z } from 'zod'
import { Refusal } from '@nullet/core/foundation/refusal'
import { offsitePlaces, offsiteReader } from '@nullet/core/measure/offsite'
import { offsiteShape } from '@nullet/core/print/offsitePass'
import { store } from '../../../store/connect'
import { assertWhole, mediumInfo } from '../../../store/media'
import { loadSession } from '../../../store/sessions'
import { storedAudio, wavBytes, wavLength, type WavAudio } from '../../../store/wavBytes'
import { defineRoute, idOf } from '../../../utils/route'
import { sendOrBreak } from '../../../utils/stream'

const Query = z.object({
  medium: z.string(),
  depth: z.enum(['16', '24', '32f']).default('32f'),
  /** Between marks, for a pass outside. */
  offsite: z.literal('1').optional()
})

/** The file that goes out: what is stored between two marks. */
function betweenMarks(audio: WavAudio): WavAudio {
  const shape = offsiteShape(audio, audio.sampleRate)
  return { ...audio, frames: offsitePlaces(shape).length, read: offsiteReader(shape, audio.legs, audio.read) }
}

/** A medium as a WAV file: 32-bit float as it is, or integers with TPDF dither. Byte ranges are served. */
export default defineRoute(async event => {
  const { medium, depth, offsite } = Query.parse(getQuery(event))
  const { session } = await loadSession(store(), idOf(event, 'session'))
  const row = session.medium[medium]
  if (!row) throw new Refusal('notFound', `There is no audio “${medium}” in this session`, [medium])
  const info = await mediumInfo(store(), row.sha256, row.legs)
  await assertWhole(store(), info, row.name)
  const audio = offsite ? betweenMarks(storedAudio(store(), info)) : storedAudio(store(), info)
  const form = depth === '32f' ? depth : (Number(depth) as 16 | 24)
  const length = wavLength(audio, form)
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
    'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(`${row.name}${offsite ? ', to go out' : ''}.wav`)}`,
    ...(asked ? { 'content-range': `bytes ${from}-${to}/${length}` } : {})
  })
  return sendOrBreak(event, Readable.from(wavBytes(audio, form, from, to)))
})
