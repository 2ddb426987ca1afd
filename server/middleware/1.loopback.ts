// Refuses requests that were made for, or by, another site: a page elsewhere must not reach what listens on loopback.
import { defineEventHandler, getRequestHeader, setResponseStatus } from 'h3'

const names = new Set([
  '127.0.0.1',
  'localhost',
  '[::1]',
  ...(process.env.NULLET_HOSTS ?? '').split(',').filter(Boolean)
])
const hostName = (host: string) => host.replace(/:\d+$/, '').toLowerCase()

export default defineEventHandler(event => {
  const host = getRequestHeader(event, 'host') ?? ''
  const origin = getRequestHeader(event, 'origin')
  const foreign =
    !names.has(hostName(host)) || (origin !== undefined && origin !== `http://${host}` && origin !== `https://${host}`)
  if (!foreign) return
  setResponseStatus(event, 403)
  return {
    error: 'foreign',
    message: 'This server answers only to its own pages, on its own address.',
    about: [],
    kept: 'Nothing was changed.'
  }
})
