// One event stream for all pages of a browser: a browser opens few connections to a server, and pages that each hold
// one starve the rest. Pages come by ports and are told everything; they pick what is theirs.
import type { Told } from './events'

const ports = new Set<MessagePort>()
const tell = (told: Told) => ports.forEach(p => p.postMessage(told))
let stream: EventSource | null = null

function listen(): void {
  if (stream && stream.readyState !== EventSource.CLOSED) return
  stream = new EventSource('/api/events')
  stream.addEventListener('edit', e => tell({ kind: 'edit', ...JSON.parse(e.data as string) }))
  stream.addEventListener('job', e => tell({ kind: 'job', ...JSON.parse(e.data as string) }))
  // After any gap, between here and the server or behind it, there may be something that was not heard.
  for (const gap of ['open', 'gap']) stream.addEventListener(gap, () => tell({ kind: 'open' }))
}

;(self as unknown as { onconnect: (e: MessageEvent) => void }).onconnect = e => {
  const port = e.ports[0]!
  ports.add(port)
  port.onmessage = m => {
    if (m.data === 'leave') ports.delete(port)
  }
  port.start()
  listen()
}
