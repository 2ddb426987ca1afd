import { sendStream, setResponseHeaders } from 'h3'
import { store } from '../../../store/connect'
import { exportPackage } from '../../../store/packages'
import { defineRoute, idOf } from '../../../utils/route'

export default defineRoute(async event => {
  const { name, stream } = await exportPackage(store(), idOf(event, 'session'))
  setResponseHeaders(event, { 'content-type': 'application/zip', 'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(`${name}.zip`)}` })
  return sendStream(event, stream)
})
