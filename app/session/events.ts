// What the server tells: edits and jobs of all sessions, by one stream that the pages of a browser share.
export type Told =
  { kind: 'open' } | { kind: 'edit'; session: string; revision: number } | { kind: 'job'; session: string; job: string }

/** @returns ends the listening */
export function hearServer(hear: (told: Told) => void): () => void {
  const worker = new SharedWorker(new URL('./events.worker.ts', import.meta.url), {
    type: 'module',
    name: 'nullet events'
  })
  worker.port.onmessage = (e: MessageEvent<Told>) => hear(e.data)
  worker.port.start()
  const leave = () => worker.port.postMessage('leave')
  window.addEventListener('pagehide', leave)
  // A page that is brought back from the browser's memory was not told meanwhile.
  const back = (e: PageTransitionEvent) => {
    if (e.persisted) window.location.reload()
  }
  window.addEventListener('pageshow', back)
  return () => {
    leave()
    worker.port.close()
    window.removeEventListener('pagehide', leave)
    window.removeEventListener('pageshow', back)
  }
}
