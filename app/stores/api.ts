// Requests to the server. Every answer that is not right becomes a Problem with what a person needs.
export interface Problem {
  error: string
  message: string
  about: string[]
  kept: string
}

export class Failed extends Error {
  /** @param status of the answer; 0 where there was none */
  constructor(
    readonly problem: Problem,
    readonly status = 0
  ) {
    super(problem.message)
  }
}

export async function api<T>(
  path: string,
  options: { method?: string; body?: unknown; raw?: BodyInit; signal?: AbortSignal } = {}
): Promise<T> {
  let answer: Response, text: string
  try {
    answer = await fetch(path, {
      method: options.method ?? (options.body !== undefined || options.raw ? 'POST' : 'GET'),
      signal: options.signal,
      ...(options.body !== undefined
        ? { body: JSON.stringify(options.body), headers: { 'content-type': 'application/json' } }
        : options.raw
          ? { body: options.raw }
          : {})
    })
    // An answer that breaks off in the middle is no answer.
    text = await answer.text()
  } catch (error) {
    if (['AbortError', 'TimeoutError'].includes((error as Error).name)) throw error
    throw new Failed({
      error: 'away',
      message: 'The server does not answer.',
      about: [],
      kept: 'What you did is kept here and sent when it answers again.'
    })
  }
  return answered<T>(answer.status, text)
}

/** @throws Failed with the server's reason, or with its status where it gave none */
export function answered<T>(status: number, text: string): T {
  const body = parsed(text) as (T & Problem) | null | undefined
  if (status >= 200 && status < 300 && body !== undefined) return body as T
  const problem = body?.message
    ? body
    : { error: 'failed', message: `The server answered ${status}.`, about: [], kept: 'Nothing was changed.' }
  throw new Failed(problem, status)
}

/** undefined for what is not JSON: something between here and the server answered in its place. */
function parsed(text: string): unknown {
  if (!text) return null
  try {
    return JSON.parse(text)
  } catch {
    return undefined
  }
}
