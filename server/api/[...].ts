import { Refusal } from '@nullet/core/foundation/refusal'
import { keepable } from '@nullet/core/foundation/text'
import { defineRoute } from '../utils/route'

/** Addresses below /api that do not exist. */
export default defineRoute(event => {
  throw new Refusal('notFound', `There is nothing at ${event.method} ${keepable(event.path).slice(0, 200)}`)
})
