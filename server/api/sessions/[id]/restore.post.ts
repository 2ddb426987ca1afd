import { store } from '../../../store/connect'
import { restoreSession } from '../../../store/sessions'
import { defineRoute, idOf } from '../../../utils/route'

/** A session that was removed is there again. */
export default defineRoute(async event => {
  await restoreSession(store(), idOf(event, 'session'))
  return { restored: true }
})
