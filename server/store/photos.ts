// Photographs of units: JPEG, small, kept once however many units and sessions show them.
import { createHash } from 'node:crypto'
import { Refusal } from '@nullet/core/foundation/refusal'
import { MOST_PHOTO_BYTES } from '@nullet/core/session/rows'
import { rows, type Session } from '@nullet/core/session/session'
import type { Sql, Transaction } from './connect'

const isJpeg = (bytes: Uint8Array): boolean =>
  bytes.length > 4 &&
  bytes[0] === 0xff &&
  bytes[1] === 0xd8 &&
  bytes[2] === 0xff &&
  bytes.at(-2) === 0xff &&
  bytes.at(-1) === 0xd9

/** @throws Refusal for what is no JPEG, or too large @returns its hash, by which units name it */
export async function keepPhoto(sql: Sql | Transaction, jpeg: Uint8Array): Promise<string> {
  const refuse = (what: string) => new Refusal('badFile', what, [], 'Nothing was kept of it.')
  if (!isJpeg(jpeg)) throw refuse('A photograph is a JPEG: this is none, or it is not whole')
  if (jpeg.length > MOST_PHOTO_BYTES)
    throw refuse(`A photograph has at most ${MOST_PHOTO_BYTES / 1024} kB: this has ${Math.ceil(jpeg.length / 1024)}`)
  const sha256 = createHash('sha256').update(jpeg).digest('hex')
  await sql`insert into photo (sha256, jpeg) values (${sha256}, ${Buffer.from(jpeg)})
    on conflict (sha256) do update set made_at = now()`
  return sha256
}

/** @throws Refusal where it is not there */
export async function readPhoto(sql: Sql, sha256: string): Promise<Buffer> {
  const [found] = !/^[0-9a-f]{64}$/.test(sha256)
    ? []
    : await sql<{ jpeg: Buffer }[]>`select jpeg from photo where sha256 = ${sha256}`
  if (!found) throw new Refusal('notFound', 'This photograph is not here any more')
  return found.jpeg
}

/** Hashes of all photographs that units of a session show, each once. */
export const photosOf = (session: Session): string[] =>
  [...new Set(rows(session, 'unit').flatMap(u => u.photos.map(p => p.sha256)))].sort()

export const photoFile = (sha256: string): string => `photos/${sha256}.jpg`
