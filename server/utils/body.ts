// The body of a request as a stream that may be left early: the rest is read and dropped, so that the answer arrives.
import { once } from 'node:events'
import type { H3Event } from 'h3'

export async function withBody<T>(event: H3Event, use: (body: AsyncIterable<Uint8Array>) => Promise<T>): Promise<T> {
  const { req } = event.node
  try {
    return await use(req.iterator({ destroyOnReturn: false }) as AsyncIterable<Uint8Array>)
  } finally {
    if (!req.readableEnded && !req.destroyed) {
      const over = Promise.race([once(req, 'end'), once(req, 'close')]).catch(() => {})
      req.resume()
      await over
    }
  }
}
