// Room on a disk: how much is left, and what is said where it is not enough.
import { readFile, statfs } from 'node:fs/promises'
import { dirname } from 'node:path'
import { Refusal } from '@nullet/core/foundation/refusal'
import { inState } from './stateFolder'

/** Room that is left free for everybody else, in bytes. */
export const SPARE_BYTES = 64 * 2 ** 20

/** Bytes that are left on the disk of a folder that is there, or will be; ∞ where nobody knows. */
export async function roomIn(folder: string): Promise<number> {
  try {
    const { bavail, bsize } = await statfs(folder)
    return bavail * bsize
  } catch {
    return folder === dirname(folder) ? Infinity : roomIn(dirname(folder))
  }
}

/** Where the database that this project started keeps its files; null where it is another one. */
export const databaseFolder = (): Promise<string | null> =>
  readFile(inState('cluster-folder'), 'utf8').then(
    text => text.trim() || null,
    () => null
  )

export const megabytes = (bytes: number): string => `${Math.ceil(bytes / 2 ** 20).toLocaleString('en')} MB`

/** What a database or a disk says that is full. */
const ROOM_CODES = new Set(['53100', 'ENOSPC', 'EDQUOT'])
export const isNoRoom = (error: unknown): boolean => ROOM_CODES.has((error as { code?: string } | null)?.code ?? '')
export const NO_ROOM =
  'The disk has no room left. Remove sessions that are not needed any more, or make room on it, and do it again.'

/** @throws Refusal where the disk of the database has not so much room */
export async function assertDatabaseRoom(what: string, bytes: number, room = roomInDatabase): Promise<void> {
  const free = await room()
  if (bytes + SPARE_BYTES <= free) return
  throw new Refusal(
    'noRoom',
    `${what} needs ${megabytes(bytes)}, and the database’s disk has ${megabytes(free)} left, ${megabytes(SPARE_BYTES)} of which it keeps free`,
    [],
    'Nothing of it was stored. Make room, and run it again.'
  )
}

export async function roomInDatabase(): Promise<number> {
  const folder = await databaseFolder()
  return folder ? roomIn(folder) : Infinity
}
