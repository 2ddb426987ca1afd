// What every route shares: refusals become answers of one shape, and so does everything else that goes wrong.
import { defineEventHandler, readRawBody, setResponseStatus, type H3Event } from 'h3'
import { z } from 'zod'
import { Refusal } from '@nullet/core/refusal'

interface Problem { error: string, message: string, about: string[], kept: string }

const STATUS: Record<string, number> = { notFound: 404, stale: 409, portTaken: 409, tooLarge: 413, databaseDown: 503, failed: 500 }

const DATABASE_CODES = new Set(['ECONNREFUSED', 'ECONNRESET', 'CONNECTION_CLOSED', 'CONNECTION_ENDED', 'CONNECTION_DESTROYED', 'CONNECT_TIMEOUT', '57P01', '57P02', '57P03', 'EPIPE'])

export function problemOf(error: unknown): Problem {
  if (error instanceof Refusal) return error.toJSON()
  if (error instanceof z.ZodError) return { error: 'badArguments', message: z.prettifyError(error), about: [], kept: 'Nothing was changed.' }
  const { code, message } = error as { code?: string, message?: string }
  if (code && DATABASE_CODES.has(code)) {
    return { error: 'databaseDown', message: 'The database does not answer. “./nullet start” starts it.', about: [], kept: 'What is stored is safe; nothing was changed.' }
  }
  console.error(error)
  return { error: 'failed', message: `The server failed: ${message ?? error}`, about: [], kept: 'Nothing was changed.' }
}

export function defineRoute<T>(handler: (event: H3Event) => Promise<T> | T) {
  return defineEventHandler(async event => {
    try { return await handler(event) } catch (error) {
      const problem = problemOf(error)
      setResponseStatus(event, STATUS[problem.error] ?? 422)
      return problem
    }
  })
}

/** A JSON body through its schema. */
export async function readJson<S extends z.ZodType>(event: H3Event, schema: S): Promise<z.output<S>> {
  const text = await readRawBody(event)
  let body: unknown
  try { body = JSON.parse(text ?? '') } catch { throw new Refusal('badArguments', 'The request’s body is not JSON') }
  return schema.parse(body)
}
