import { getRouterParam } from 'h3'
import { store } from '../../../store/connect'
import { removeSession } from '../../../store/sessions'
import { defineRoute } from '../../../utils/route'

export default defineRoute(async event => {
  await removeSession(store(), getRouterParam(event, 'id')!)
  return { removed: true }
})
