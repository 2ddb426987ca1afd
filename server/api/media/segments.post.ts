import { z } from 'zod'
import { mediumInfo, readAudio } from '../../store/media'
import { store } from '../../store/connect'
import { defineRoute, readJson } from '../../utils/route'

const MOST_FRAMES = 262144
/** Samples of one answer: 128 MB. */
const MOST_SAMPLES = 2 ** 25
const Body = z.object({
  parts: z
    .array(
      z.object({
        sha256: z.string().regex(/^[0-9a-f]{64}$/),
        legs: z.number().int().min(1).max(64),
        from: z.number().int().min(0),
        frames: z.number().int().min(1).max(MOST_FRAMES)
      })
    )
    .min(1)
    .max(400)
    .refine(
      parts => parts.reduce((n, p) => n + p.frames * p.legs, 0) <= MOST_SAMPLES,
      `at most ${MOST_SAMPLES} samples are read in one answer`
    )
})

/** Parts of many media in one answer: float32, leg after leg, part after part; zero beyond an end. */
export default defineRoute(async event => {
  const { parts } = await readJson(event, Body)
  const sql = store()
  const read = await Promise.all(
    parts.map(async p => readAudio(sql, await mediumInfo(sql, p.sha256, p.legs), p.from, p.frames))
  )
  return Buffer.concat(read.flat().map(leg => Buffer.from(leg.buffer, leg.byteOffset, leg.byteLength)))
})
