import { forgetArrived } from '../../utils/arrival'
import { defineRoute, uploadKey } from '../../utils/route'

/** Whoever stopped an upload does not go on with it. */
export default defineRoute(async event => {
  await forgetArrived(uploadKey(event))
  return { removed: true }
})
