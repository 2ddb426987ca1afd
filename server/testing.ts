// For tests of routes: requests, WAV files with faults, waiting for jobs.
import { WavEncoder, wavHeader, type Depth } from '@nullet/core/formats/wav'
import type {} from '../e2e/support/context'
import type { Posted } from './store/edits'
import type { Job } from './store/jobs'
import type { Loaded } from './store/sessions'

export type Answer<T = Record<string, unknown>> = {
  status: number
  body: T & { error?: string; message?: string; kept?: string; about?: string[] }
}

let serial = 0

export function client(url: string) {
  async function call<T = Record<string, unknown>>(
    method: string,
    path: string,
    body?: unknown,
    headers: Record<string, string> = {}
  ): Promise<Answer<T>> {
    const raw = body instanceof Uint8Array
    const answer = await fetch(url + path, {
      method, // A connection of its own: the server may just be closing one that has been quiet.
      headers: {
        connection: 'close',
        ...(body !== undefined && !raw ? { 'content-type': 'application/json' } : {}),
        ...headers
      },
      body: body === undefined ? undefined : raw ? (body as BodyInit) : JSON.stringify(body)
    })
    return { status: answer.status, body: (await answer.json()) as Answer<T>['body'] }
  }
  const session = async (id: string) => (await call<Loaded>('GET', `/api/sessions/${id}`)).body
  return {
    call,
    session,
    async make(sampleRate = 48000): Promise<string> {
      const id = `test-${process.pid}-${++serial}`
      await call('POST', '/api/sessions', { id, name: 'A test', sampleRate })
      return id
    },
    /** @param more another base, gesture or era than a page would send */
    async edit(id: string, verb: string, args: unknown, more: { base?: number; gesture?: string; era?: string } = {}) {
      const { revision, era } = await session(id)
      return call<Posted>('POST', `/api/sessions/${id}/edits`, {
        base: revision,
        era,
        gesture: `test/${process.pid}-${++serial}`,
        client: 'test',
        edit: { verb, args },
        ...more
      })
    },
    upload: (id: string, track: string, file: string, bytes: Uint8Array, more = '') =>
      call<{ notes: string[] }>(
        'POST',
        `/api/sessions/${id}/tracks?id=${track}&file=${encodeURIComponent(file)}&to=main&gesture=test/${track}-${++serial}&client=test${more}`,
        bytes
      ),
    async job(
      id: string,
      kind: string,
      args: unknown,
      until: (job: Job) => boolean = j => !['waiting', 'running', 'stopping'].includes(j.state)
    ): Promise<Job> {
      const job = `job-${process.pid}-${++serial}`
      await call('POST', `/api/sessions/${id}/jobs`, { id: job, kind, label: 'a test', args })
      return waitFor(url, job, until)
    }
  }
}

/** Follows a job by the server's own events, so that nothing is asked twice a second. */
export async function waitFor(url: string, id: string, until: (job: Job) => boolean): Promise<Job> {
  for (;;) {
    const job = (await (await fetch(`${url}/api/jobs/${id}`)).json()) as Job
    if (until(job)) return job
    await new Promise(done => setTimeout(done, 30))
  }
}

export function wav(legs: Float32Array[], depth: Depth = '32f', rate = 48000): Uint8Array {
  const header = wavHeader(legs.length, rate, legs[0].length, depth)
  const body = new WavEncoder(depth).encode(legs)
  const out = new Uint8Array(header.length + body.length)
  out.set(header)
  out.set(body, header.length)
  return out
}

export const printItem = (source: string, more: object = {}) => ({
  source,
  tap: 'post',
  print: `p-${source}`,
  track: `t-${source}`,
  clip: `c-${source}`,
  medium: `m-${source}`,
  name: `Print of ${source}`,
  order: 'zz',
  ...more
})
