// Long uploads whose line may be cut: what came of one stays for a day, and the next request sends only the rest. What
// reads the upload sees one stream, first from here, then from the line.
import { createReadStream, readFileSync } from 'node:fs'
import { mkdir, open, readdir, rm, stat } from 'node:fs/promises'
import { join } from 'node:path'
import { getRequestHeader, type H3Event } from 'h3'
import { z } from 'zod'
import { Refusal } from '@nullet/core/foundation/refusal'
import { inState } from '../../host/stateFolder'
import { withBody } from './body'
import { readAhead } from './readAhead'

/**
 * `key` names the file that is sent, `at` how many of its `size` bytes are here and are not sent again; `again`: a line
 * before this one broke.
 */
export const Arrival = z.object({
  key: z
    .string()
    .regex(/^[0-9a-f]{16}$/, 'the key of an upload is 16 hex digits')
    .optional(),
  at: z.coerce.number().int().min(0).default(0),
  again: z.literal('1').optional(),
  size: z.coerce.number().int().min(0).default(0)
})

type Body = AsyncIterable<Uint8Array>

/** Bytes that are kept before anybody asks for them. */
const READ_AHEAD = 1 << 20
const AGE_MS = 24 * 3600 * 1000

/** What was written before the machine went down may have holes: each of its lives has its own folder. */
const life = () => {
  try {
    return readFileSync('/proc/sys/kernel/random/boot_id', 'utf8').trim()
  } catch {
    return 'one'
  }
}
const above = () => inState('arrived')
const folder = () => join(above(), life())

/** The last request that brings an upload; `over` with all before it. */
const coming = new Map<string, { cut(): void; over: Promise<unknown> }>()

export async function arrivedBytes(key: string): Promise<number> {
  return (await stat(join(folder(), key)).catch(() => null))?.size ?? 0
}

export async function forgetArrived(key: string): Promise<void> {
  coming.get(key)?.cut()
  await coming.get(key)?.over
  await rm(join(folder(), key), { force: true })
}

/** Removes what nobody has gone on with. */
export async function sweepArrived(now = Date.now()): Promise<void> {
  for (const other of await readdir(above()).catch(() => []))
    if (other !== life()) await rm(join(above(), other), { recursive: true, force: true })
  for (const key of await readdir(folder()).catch(() => [])) {
    const seen = await stat(join(folder(), key)).catch(() => null)
    if (seen && now - seen.mtimeMs > AGE_MS) await rm(join(folder(), key), { force: true })
  }
}

/** A reason that lies in what was sent: sending it again would bring the same. */
const final = (error: unknown) => error instanceof Refusal && error.kind !== 'silent' && error.kind !== 'arrived'

/**
 * The body of a request, and before it what had come of the same upload.
 * @param use takes the pieces of the whole file, and its length in bytes where it is known
 * @throws Refusal `arrived` where the request leaves out what is not here
 */
export async function withArrival<T>(
  event: H3Event,
  { key, at, size, again }: z.output<typeof Arrival>,
  use: (body: Body, total: number | null) => Promise<T>
): Promise<T> {
  const length = Number(getRequestHeader(event, 'content-length'))
  // The same file a second time at once: it comes by itself, and is not kept.
  if (!key || (!again && coming.has(key))) return withBody(event, body => use(body, length > 0 ? length : null))
  // The line before this one is dead, whether it knows it or not. They take turns, in the order in which they came: two
  // that kept bytes at once would both keep them.
  const before = coming.get(key)
  before?.cut()
  const path = join(folder(), key)
  const work = (async () => {
    await before?.over
    return withBody(event, async body => {
      const here = await arrivedBytes(key)
      if (at > here)
        throw new Refusal(
          'arrived',
          `Only ${here} bytes of this upload are here, not ${at}`,
          [],
          'They are kept; the rest can be sent.'
        )
      await mkdir(folder(), { recursive: true })
      return use(readAhead(keeping(path, here, without(body, here - at)), READ_AHEAD), size || null)
    })
  })()
  const entry = {
    cut: () => {
      event.node.req.destroy()
    },
    over: work.catch(() => {})
  }
  coming.set(key, entry)
  try {
    const result = await work
    await rm(path, { force: true })
    return result
  } catch (error) {
    if (final(error)) await rm(path, { force: true })
    throw error
  } finally {
    if (coming.get(key) === entry) coming.delete(key)
  }
}

/** The same pieces but for the first bytes, which came here by a line that was thought dead. */
async function* without(body: Body, bytes: number): AsyncGenerator<Uint8Array> {
  for await (const piece of body) {
    if (piece.length > bytes) yield piece.subarray(bytes)
    bytes = Math.max(0, bytes - piece.length)
  }
}

/** What is here, then what comes; that is kept before it is used. Without room to keep it, it is only used. */
async function* keeping(path: string, at: number, body: Body): AsyncGenerator<Uint8Array> {
  if (at) yield* createReadStream(path, { end: at - 1, highWaterMark: 1 << 20 }) as Body
  let file = await open(path, 'a').catch(() => null)
  try {
    for await (const piece of body) {
      if (file)
        try {
          await file.appendFile(piece)
        } catch {
          await file.close()
          file = null
          await rm(path, { force: true })
        }
      yield piece
    }
  } finally {
    await file?.close()
  }
}
