import { roomInDatabase } from '../../host/room'
import { defineRoute } from '../utils/route'

/** Bytes that are left on the disk of the database; null where nobody knows. */
export default defineRoute(async () => {
  const free = await roomInDatabase()
  return { freeBytes: Number.isFinite(free) ? free : null }
})
