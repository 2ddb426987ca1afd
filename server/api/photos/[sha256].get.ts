import { getRouterParam, setResponseHeaders } from 'h3'
import { store } from '../../store/connect'
import { readPhoto } from '../../store/photos'
import { defineRoute } from '../../utils/route'

/** A photograph never changes under its hash. */
export default defineRoute(async event => {
  const sha256 = getRouterParam(event, 'sha256', { decode: true }) ?? ''
  const jpeg = await readPhoto(store(), sha256)
  setResponseHeaders(event, { 'content-type': 'image/jpeg', 'cache-control': 'private, max-age=31536000, immutable' })
  return jpeg
})
