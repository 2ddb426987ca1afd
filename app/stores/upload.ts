// Sends a file, and goes on where it stopped when the line was cut, also after the page was closed: a file is known by
// its name, size and date.
import { shortHash } from '@nullet/core/foundation/hash'
import { answered, api, Failed } from './api'

export interface Upload {
  path: string
  query: Record<string, string>
  file: File
  /** What it is brought into, and by which gesture: asked for when an answer may have been lost. */
  session: string
  gesture?: string
  signal?: AbortSignal
  /** 0 to 1. */
  progress?(share: number): void
  /** The line is cut, or there again. */
  cut?(isCut: boolean): void
}

const PAUSE_MS = 1000

/** Nobody answered, or somebody who could not reach the database: it may be different soon. */
const passes = (error: unknown) =>
  error instanceof Failed && ['away', 'databaseDown', 'silent', 'arrived'].includes(error.problem.error)

/** @returns the answer; null where it was stored and its answer got lost. @throws Failed with the server's reason */
export async function upload<T>(what: Upload): Promise<T | null> {
  const { file, session, gesture, signal } = what
  const key = shortHash([session, what.path, file.name, file.size, file.lastModified].join('\n'))
  const asked = `/api/uploads/${key}?${new URLSearchParams({ session, ...(gesture ? { gesture } : {}) })}`
  for (let first = true; ; first = false) {
    try {
      const here = await api<{ bytes: number; done: boolean }>(asked, { signal })
      if (here.done && !first) return null
      if (!first) what.cut?.(false)
      return await send<T>(what, { key, at: String(Math.min(here.bytes, file.size)), ...(first ? {} : { again: '1' }) })
    } catch (error) {
      if (signal?.aborted) void api(`/api/uploads/${key}`, { method: 'DELETE' }).catch(() => {})
      if (signal?.aborted || !passes(error)) throw error
      what.cut?.(true)
      await new Promise<void>(done => {
        setTimeout(done, PAUSE_MS)
        signal?.addEventListener('abort', () => done())
      })
    }
  }
}

function send<T>(
  { path, query, file, signal, progress }: Upload,
  sent: { key: string; at: string; again?: string }
): Promise<T> {
  const request = new XMLHttpRequest(),
    at = Number(sent.at)
  request.open('POST', `${path}?${new URLSearchParams({ ...query, ...sent, size: String(file.size) })}`)
  request.upload.onprogress = e => progress?.(file.size ? (at + e.loaded) / file.size : 0)
  return new Promise((done, fail) => {
    const stop = () => request.abort()
    signal?.addEventListener('abort', stop)
    request.onloadend = () => signal?.removeEventListener('abort', stop)
    request.onerror = () =>
      fail(
        new Failed({
          error: 'away',
          message: `${file.name}: the server did not answer.`,
          about: [],
          kept: 'What came in before it stays.'
        })
      )
    request.onabort = () => fail(new DOMException('stopped', 'AbortError'))
    request.onload = () => {
      try {
        done(answered<T>(request.status, request.responseText))
      } catch (error) {
        fail(error)
      }
    }
    request.send(at ? file.slice(at) : file)
  })
}
