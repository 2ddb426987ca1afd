import { z } from 'zod'
import { mediumPeaks } from '../../store/media'
import { store } from '../../store/connect'
import { defineRoute, readJson } from '../../utils/route'

const Body = z.object({ sha256: z.array(z.string().regex(/^[0-9a-f]{64}$/)).max(500) })

/** Waveforms of many media in one answer: for each its length in bytes (uint32), then all of them. */
export default defineRoute(async event => {
  const { sha256 } = await readJson(event, Body)
  const all: Buffer[] = []
  for (const s of sha256) all.push(await mediumPeaks(store(), s))
  const head = Buffer.alloc(4 * all.length)
  all.forEach((peaks, i) => head.writeUInt32LE(peaks.length, 4 * i))
  return Buffer.concat([head, ...all])
})
