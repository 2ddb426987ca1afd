import { getRouterParam } from 'h3'
import { store } from '../../store/connect'
import { removeTemplate } from '../../store/templates'
import { defineRoute } from '../../utils/route'

export default defineRoute(async event => {
  await removeTemplate(store(), getRouterParam(event, 'id')!)
  return { removed: true }
})
