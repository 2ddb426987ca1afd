import { store } from '../../../store/connect'
import { removeTemplate } from '../../../store/templates'
import { defineRoute, idOf } from '../../../utils/route'

export default defineRoute(async event => {
  await removeTemplate(store(), idOf(event, 'template'))
  return { removed: true }
})
