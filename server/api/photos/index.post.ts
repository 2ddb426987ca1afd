import { z } from 'zod'
import { MOST_PHOTO_BYTES } from '@nullet/core/session/rows'
import { store } from '../../store/connect'
import { keepPhoto } from '../../store/photos'
import { defineRoute, readJson } from '../../utils/route'

const Body = z.object({ jpeg: z.base64().max(Math.ceil(MOST_PHOTO_BYTES / 3) * 4 + 4) })

/** Keeps a photograph; a unit names it by what comes back. */
export default defineRoute(async event => {
  const { jpeg } = await readJson(event, Body)
  return { sha256: await keepPhoto(store(), Buffer.from(jpeg, 'base64')) }
})
