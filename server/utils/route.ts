// What every route shares: refusals become answers of one shape, and so does everything else that goes wrong.
import { defineEventHandler, getRouterParam, setResponseStatus, type H3Event } from 'h3'
import { z } from 'zod'
import { explain } from '@nullet/core/foundation/explain'
import { Refusal } from '@nullet/core/foundation/refusal'
import { isNoRoom, NO_ROOM } from '../../host/room'
import { textBody } from './body'
import { keepable, unkeepablePath } from '@nullet/core/foundation/text'

interface Problem {
  error: string
  message: string
  about: string[]
  kept: string
}

const STATUS: Record<string, number> = {
  notFound: 404,
  noSession: 404,
  stale: 409,
  standsOn: 409,
  idTaken: 409,
  ahead: 409,
  brokenMedium: 409,
  arrived: 409,
  silent: 408,
  portTaken: 409,
  tooLarge: 413,
  databaseDown: 503,
  noRoom: 507,
  failed: 500
}

const DATABASE_CODES = new Set([
  'ECONNREFUSED',
  'ECONNRESET',
  'CONNECTION_CLOSED',
  'CONNECTION_ENDED',
  'CONNECTION_DESTROYED',
  'CONNECT_TIMEOUT',
  '57P01',
  '57P02',
  '57P03',
  'EPIPE'
])

export function problemOf(error: unknown): Problem {
  if (error instanceof Refusal) return error.toJSON()
  if (error instanceof z.ZodError)
    return { error: 'badArguments', message: explain(error), about: [], kept: 'Nothing was changed.' }
  if (error instanceof RangeError)
    return {
      error: 'tooLarge',
      message: 'The request is nested too deeply to be read.',
      about: [],
      kept: 'Nothing was changed.'
    }
  const { code, message } = error as { code?: string; message?: string }
  if (code && DATABASE_CODES.has(code)) {
    return {
      error: 'databaseDown',
      message: 'The database does not answer. “./nullet start” starts it.',
      about: [],
      kept: 'What is stored is safe; nothing was changed.'
    }
  }
  if (isNoRoom(error))
    return { error: 'noRoom', message: NO_ROOM, about: [], kept: 'What is stored is safe; nothing was changed.' }
  // Text, numbers and rows that the database has no place for. Core's rules come first; this is the net below them.
  if (code && /^2[23]/.test(code)) {
    console.error(error)
    return {
      error: 'badArguments',
      message: `The database cannot keep this: ${message}`,
      about: [],
      kept: 'Nothing was changed.'
    }
  }
  console.error(error)
  return { error: 'failed', message: `The server failed: ${message ?? error}`, about: [], kept: 'Nothing was changed.' }
}

export function defineRoute<T>(handler: (event: H3Event) => Promise<T> | T) {
  return defineEventHandler(async event => {
    try {
      return await handler(event)
    } catch (error) {
      const problem = problemOf(error)
      setResponseStatus(event, STATUS[problem.error] ?? 422)
      return problem
    }
  })
}

const MB = 2 ** 20
/** What most routes take at most. */
const USUAL_BYTES = MB
/** Edits of many rows, and their undo, templates: the longest there are. */
export const MANY_ROWS_BYTES = 48 * MB

/** A JSON body through its schema. */
export async function readJson<S extends z.ZodType>(
  event: H3Event,
  schema: S,
  mostBytes = USUAL_BYTES
): Promise<z.output<S>> {
  const text = await textBody(event, mostBytes)
  let body: unknown
  try {
    body = JSON.parse(text)
  } catch {
    throw new Refusal('badArguments', 'The request’s body is not JSON')
  }
  const odd = unkeepablePath(body)
  if (odd) throw new Refusal('badArguments', `${odd} holds a character that cannot be kept`)
  return schema.parse(body)
}

/** Ids that stand in an address: of sessions, jobs and templates. */
export const AddressId = z.string().regex(/^[\w-]{1,60}$/, 'an id in an address has 1 to 60 letters, digits, _ or -')

/** The id in a route's address. What cannot be one is of nothing that is there. */
export function idOf(event: H3Event, what: 'session' | 'job' | 'template' | 'rig'): string {
  const id = getRouterParam(event, 'id', { decode: true }) ?? ''
  if (AddressId.safeParse(id).success) return id
  throw new Refusal(what === 'session' ? 'noSession' : 'notFound', `There is no ${what} “${keepable(id).slice(0, 60)}”`)
}

/** The key in the address of an upload. */
export function uploadKey(event: H3Event): string {
  const key = getRouterParam(event, 'key', { decode: true }) ?? ''
  if (/^[0-9a-f]{16}$/.test(key)) return key
  throw new Refusal('notFound', `There is no upload “${keepable(key).slice(0, 60)}”`)
}
