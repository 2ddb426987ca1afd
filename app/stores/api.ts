// Requests to the server. Every answer that is not right becomes a Problem with what a person needs.
export interface Problem { error: string, message: string, about: string[], kept: string }

export class Failed extends Error {
  constructor(readonly problem: Problem) { super(problem.message) }
  /** Nobody was reached, or the database behind the server was not: trying again later may help. */
  get away(): boolean { return this.problem.error === 'away' || this.problem.error === 'databaseDown' }
}

export async function api<T>(path: string, options: { method?: string, body?: unknown, raw?: BodyInit, signal?: AbortSignal } = {}): Promise<T> {
  let answer: Response
  try {
    answer = await fetch(path, {
      method: options.method ?? (options.body !== undefined || options.raw ? 'POST' : 'GET'), signal: options.signal,
      ...options.body !== undefined ? { body: JSON.stringify(options.body), headers: { 'content-type': 'application/json' } } : options.raw ? { body: options.raw } : {}
    })
  } catch (error) {
    if ((error as Error).name === 'AbortError') throw error
    throw new Failed({ error: 'away', message: 'The server does not answer.', about: [], kept: 'What you did is kept here and sent when it answers again.' })
  }
  const text = await answer.text()
  const body = text ? JSON.parse(text) as T & Problem : null
  if (!answer.ok) throw new Failed(body?.message ? body : { error: 'failed', message: `The server answered ${answer.status}.`, about: [], kept: 'Nothing was changed.' })
  return body as T
}
