// PostgreSQL's binary COPY format, both ways: bytea without the detour over hex text. Every wait has an end: a COPY
// whose backend died, or that found no room, may otherwise never say so, and its connection must not be used again.
import { Refusal } from '@nullet/core/foundation/refusal'
import { renewPool, within, type Sql } from './connect'

const HEADER = Buffer.from('PGCOPY\n\xff\r\n\0\0\0\0\0\0\0\0\0', 'latin1')
const TRAILER = Buffer.from([0xff, 0xff])
/** A block of one MiB takes milliseconds; on a disk that is very busy, some seconds. */
const COPY_MS = 15_000

/** What goes before the samples of one tuple of (bigint, integer, bytea). */
function tupleHead(key: number, index: number, length: number): Buffer {
  const head = Buffer.alloc(2 + 12 + 8 + 4)
  let at = head.writeInt16BE(3)
  at = head.writeInt32BE(8, at)
  at = head.writeBigInt64BE(BigInt(key), at)
  at = head.writeInt32BE(4, at)
  at = head.writeInt32BE(index, at)
  head.writeInt32BE(length, at)
  return head
}

/** A connection for one COPY alone: the pool would send other queries down the same line while it runs. */
async function alone<T>(sql: Sql, what: string, use: (own: Sql) => Promise<T>): Promise<T> {
  let release = () => {}
  try {
    return await within(
      COPY_MS,
      what,
      (async () => {
        const own = await sql.reserve()
        let over = false
        release = () => {
          if (!over) {
            over = true
            own.release()
          }
        }
        return use(own as unknown as Sql)
      })()
    ).then(result => {
      release()
      return result
    })
  } catch (error) {
    // What became of the line is not known: it goes, and whatever hangs on it.
    renewPool(sql)
    throw error
  }
}

/**
 * Blocks of one upload from an index on, in one go. Nothing waits for them to reach the disk: they count only once a
 * medium is made of them, and that does, with all that was written before. The upload is held meanwhile: whoever takes
 * it away waits for what was sent on a line that is cut, which may still be stored.
 * @throws Refusal where the upload is there no more
 */
export const copyBlocksIn = (sql: Sql, key: number, index: number, blocks: readonly Uint8Array[]): Promise<void> =>
  alone(sql, 'writing audio', async own => {
    const results: unknown[] = await own.unsafe(
      `begin; set local synchronous_commit to off; select key from upload where key = ${Number(key)} for key share`
    )
    if (!(results.at(-1) as unknown[]).length) {
      await own`rollback`
      throw new Refusal('badFile', 'This audio was taken away while it came in', [], 'Bring it in again.')
    }
    const query = own`copy media_block (key, index, samples) from stdin (format binary)`
    const stream = await query.writable()
    await new Promise<void>((done, fail) => {
      // What the database refuses behind the last write, the driver tells the query, and the stream never ends.
      ;(query as unknown as { reject: typeof fail }).reject = fail
      stream.once('error', fail)
      stream.once('finish', done)
      stream.once('close', () =>
        fail(Object.assign(new Error('the connection closed while audio was written'), { code: 'CONNECTION_CLOSED' }))
      )
      stream.write(HEADER)
      blocks.forEach((samples, i) => {
        stream.write(tupleHead(key, index + i, samples.length))
        stream.write(samples)
      })
      stream.end(TRAILER)
    })
    await own`commit`
  })

/**
 * Runs a query whose columns are all bytea and returns the fields of every row. The text must hold no foreign words.
 */
export async function copyOut(sql: Sql, query: string): Promise<Buffer[][]> {
  const all = await alone(sql, 'reading audio', async own => {
    const stream = await own.unsafe(`copy (${query}) to stdout (format binary)`).readable()
    const pieces: Buffer[] = []
    for await (const piece of stream) pieces.push(piece as Buffer)
    // Postgres.js leaves the connection paused after a COPY that was read to its end.
    stream._read(0)
    return pieces.length === 1 ? pieces[0]! : Buffer.concat(pieces)
  })
  const rows: Buffer[][] = []
  for (let at = HEADER.length; at + 2 <= all.length;) {
    const fields = all.readInt16BE(at)
    at += 2
    if (fields < 0) return rows
    const row: Buffer[] = []
    for (let i = 0; i < fields; i++) {
      const length = all.readInt32BE(at)
      at += 4
      row.push(all.subarray(at, at + Math.max(0, length)))
      at += Math.max(0, length)
    }
    rows.push(row)
  }
  throw Object.assign(new Error('the connection closed while audio was read'), { code: 'CONNECTION_CLOSED' })
}
