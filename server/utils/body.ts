// Bodies of requests. A long one is limited by its progress, not by its length: an upload may take hours, a silent one
// ends.
// What is left early is read and dropped, so that the answer arrives.
import { once } from 'node:events'
import type { H3Event } from 'h3'
import { Refusal } from '@nullet/core/foundation/refusal'

/** An upload that brings nothing for so long has died. */
const SILENT_MS = 60_000

/** Every piece of a body as it comes. @throws Refusal where nothing comes any more */
async function* progressing(body: AsyncIterable<Uint8Array>): AsyncGenerator<Uint8Array> {
  const pieces = body[Symbol.asyncIterator]()
  try {
    for (;;) {
      let timer: NodeJS.Timeout | undefined
      const silent = new Promise<never>((_, fail) => {
        timer = setTimeout(
          () =>
            fail(
              new Refusal(
                'silent',
                `Nothing came for ${SILENT_MS / 1000} s: the upload has died`,
                [],
                'No track was made of it.'
              )
            ),
          SILENT_MS
        )
      })
      try {
        const next = pieces.next()
        next.catch(() => {})
        const { done, value } = await Promise.race([next, silent])
        if (done) return
        yield value
      } finally {
        clearTimeout(timer)
      }
    }
  } finally {
    void pieces.return?.()
  }
}

export async function withBody<T>(event: H3Event, use: (body: AsyncIterable<Uint8Array>) => Promise<T>): Promise<T> {
  const { req } = event.node
  try {
    return await use(progressing(req.iterator({ destroyOnReturn: false }) as AsyncIterable<Uint8Array>))
  } finally {
    if (!req.readableEnded && !req.destroyed) {
      const over = Promise.race([once(req, 'end'), once(req, 'close')]).catch(() => {})
      req.resume()
      await over
    }
  }
}

/** A whole body as text. @throws Refusal that names the limit as soon as it is passed */
export async function textBody(event: H3Event, mostBytes: number): Promise<string> {
  const tooLarge = () =>
    new Refusal(
      'tooLarge',
      `The request is larger than ${Math.round(mostBytes / 2 ** 20)} MB, the most that is taken here`
    )
  if (Number(event.node.req.headers['content-length'] ?? 0) > mostBytes) throw tooLarge()
  return withBody(event, async body => {
    const pieces: Uint8Array[] = []
    let bytes = 0
    for await (const piece of body) {
      bytes += piece.length
      if (bytes > mostBytes) throw tooLarge()
      pieces.push(piece)
    }
    return Buffer.concat(pieces).toString('utf8')
  })
}
