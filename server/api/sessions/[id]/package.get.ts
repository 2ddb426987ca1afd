import { setResponseHeaders } from 'h3'
import { store } from '../../../store/connect'
import { exportPackage } from '../../../store/packages'
import { defineRoute, idOf } from '../../../utils/route'
import { sendOrBreak } from '../../../utils/stream'

export default defineRoute(async event => {
  const { name, stream } = await exportPackage(store(), idOf(event, 'session'))
  setResponseHeaders(event, {
    'content-type': 'application/zip',
    'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(`${name}.zip`)}`
  })
  return sendOrBreak(event, stream)
})
