// What the HTTP server itself is to do: uploads end by their progress (see utils/body.ts) and not by the clock, and
// every answer says what a page may load.
import { createHash } from 'node:crypto'
import type { Server } from 'node:http'
import { defineNitroPlugin } from 'nitropack/runtime'

/**
 * A page loads what this server serves, and is framed by nobody. WebAssembly is compiled; styles are set by components.
 */
const policy = (scripts: string) =>
  [
    "default-src 'self'",
    `script-src 'self' 'wasm-unsafe-eval'${scripts}`,
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' data: blob:",
    "font-src 'self' data:",
    "connect-src 'self'",
    "worker-src 'self' blob:",
    "object-src 'none'",
    "base-uri 'none'",
    "form-action 'self'",
    "frame-ancestors 'none'"
  ].join('; ')

const INLINE = /<script(?![^>]*\bsrc=)(?![^>]*type="application\/json")[^>]*>([\s\S]*?)<\/script>/g

/** Scripts that stand in the page itself are allowed by their hash. */
const hashes = (html: string) =>
  [...html.matchAll(INLINE)]
    .map(([, text]) => ` 'sha256-${createHash('sha256').update(text!).digest('base64')}'`)
    .join('')

export default defineNitroPlugin(nitro => {
  nitro.hooks.hook('request', event => {
    const server = (event.node.req.socket as unknown as { server?: Server }).server
    if (server?.requestTimeout) server.requestTimeout = 0
    event.node.res.setHeader('x-content-type-options', 'nosniff')
    event.node.res.setHeader('referrer-policy', 'no-referrer')
    event.node.res.setHeader('content-security-policy', policy(''))
  })
  nitro.hooks.hook('render:response', (response, { event }) => {
    if (typeof response.body === 'string')
      event.node.res.setHeader('content-security-policy', policy(hashes(response.body)))
  })
})
