// Paths as the user meant them: `nullet` itself works in the project's folder, the user stands somewhere else.
import { resolve } from 'node:path'
import { Refusal } from '@nullet/core/foundation/refusal'
import { megabytes, roomIn, SPARE_BYTES } from '../host/room'

export const userPath = (path: string): string => resolve(process.env.NULLET_CWD ?? process.cwd(), path)

/** @throws Refusal where a folder that is there, or will be, has not so much room */
export async function assertRoom(folder: string, bytes: number): Promise<void> {
  const free = await roomIn(folder)
  if (bytes + SPARE_BYTES > free)
    throw new Refusal(
      'noRoom',
      `This would write ${megabytes(bytes)}, and ${folder} has ${megabytes(free)} left`,
      [],
      'Nothing was written.'
    )
}

/** What the system said, as a sentence; null for what is not the system's. */
export function systemSentence(error: unknown): string | null {
  const { code, path } = error as { code?: string; path?: string }
  const words = SYSTEM[code ?? '']
  return words ? `${path ?? 'a file'} ${words}` : null
}

const SYSTEM: Record<string, string> = {
  EACCES: 'may not be read or written by you',
  EPERM: 'may not be changed by you',
  EEXIST: 'is there already and is not a folder',
  ENOTDIR: 'is, or lies below, a file: a folder is wanted',
  EISDIR: 'is a folder: a file is wanted',
  ENOENT: 'is not there',
  ENAMETOOLONG: 'has a name that is too long for this disk',
  ENOSPC: 'lies on a disk without room',
  EROFS: 'lies on a disk that cannot be written to',
  EMFILE: 'cannot be opened: too many files are open',
  ELOOP: 'is a link to itself'
}
