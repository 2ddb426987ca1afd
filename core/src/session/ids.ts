// Ids of rows: of what letters, how long, and how the id of a copy is made from that of its original.
import { shortHash } from '../foundation/hash'

export const LONGEST_ID = 200
/** Letters and digits first, so that no id means something to a program: not “__proto__”, not “..”. */
export const ID_PATTERN = /^[A-Za-z0-9][A-Za-z0-9_.:/+~-]*$/
export const ID_RULE = `an id has 1 to ${LONGEST_ID} of the characters A–Z a–z 0–9 _ . : / + ~ - and begins with a letter or digit`

export const isId = (text: string): boolean => text.length <= LONGEST_ID && ID_PATTERN.test(text)

/** Room is left for the copy of a copy. */
const LONGEST_DERIVED = 100

/**
 * The id of what is made from a row on behalf of another: readable while it is short, a hash of the row's id where it
 * would grow.
 */
export const derivedId = (owner: string, id: string): string =>
  owner.length + id.length < LONGEST_DERIVED ? `${owner}/${id}` : `${owner}/${shortHash(id)}`
