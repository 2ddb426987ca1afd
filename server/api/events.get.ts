import { createEventStream, defineEventHandler } from 'h3'
import { hear } from '../utils/live'

const ALIVE_MS = 15000

/**
 * Server-sent events of all sessions, one stream a browser: `edit` with a revision, `job` with an id, `gap` after which
 * anything may be new. What they hold is asked for by ordinary requests.
 */
export default defineEventHandler(event => {
  const stream = createEventStream(event)
  const end = hear(notice => void stream.push({ event: notice.kind, data: JSON.stringify(notice) }))
  const alive = setInterval(() => void stream.push({ event: 'alive', data: '' }), ALIVE_MS)
  stream.onClosed(async () => {
    clearInterval(alive)
    end()
    await stream.close()
  })
  void stream.push({ event: 'alive', data: '' })
  return stream.send()
})
