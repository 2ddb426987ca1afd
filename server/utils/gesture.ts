// What comes with every gesture: its own key, and whose it is.
import { z } from 'zod'

/** Unique in its session's log: made where the gesture is made. Keys of the server's own hold a space. */
export const Gesture = z
  .string()
  .regex(/^[\w./-]{1,100}$/, 'the key of a gesture has 1 to 100 letters, digits, _ . / or -')
/** One that is in the log already, as it is named to be taken back: the server’s own as well. */
export const KnownGesture = z.string().regex(/^[\w./ -]{1,100}$/, 'a gesture is named by its key')
export const Client = z.string().regex(/^[\w-]{0,40}$/, 'a client’s name has at most 40 letters, digits, _ or -')
/** A revision as the database keeps it. */
export const Revision = z
  .number()
  .int()
  .min(0)
  .max(2 ** 31 - 1)
