import { getRouterParam, sendStream, setResponseHeaders } from 'h3'
import { store } from '../../../store/connect'
import { exportPackage } from '../../../store/packages'
import { defineRoute } from '../../../utils/route'

export default defineRoute(async event => {
  const { name, stream } = await exportPackage(store(), getRouterParam(event, 'id')!)
  setResponseHeaders(event, { 'content-type': 'application/zip', 'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(`${name}.zip`)}` })
  return sendStream(event, stream)
})
