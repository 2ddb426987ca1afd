// Sends a stream. One that breaks in the middle breaks the connection: whoever downloads sees that it is not whole,
// instead of waiting for ever for the rest.
import type { Readable } from 'node:stream'
import { sendStream, type H3Event } from 'h3'

export function sendOrBreak(event: H3Event, stream: Readable): Promise<void> {
  stream.once('error', error => {
    console.error(`a download broke off: ${error.message}`)
    event.node.res.destroy()
  })
  // Whoever leaves early needs no more of it.
  event.node.res.once('close', () => stream.destroy())
  return sendStream(event, stream)
}
