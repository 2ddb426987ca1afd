import { store } from '../../../store/connect'
import { removeSession } from '../../../store/sessions'
import { defineRoute, idOf } from '../../../utils/route'

export default defineRoute(async event => {
  await removeSession(store(), idOf(event, 'session'))
  return { removed: true }
})
