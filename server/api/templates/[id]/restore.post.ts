import { store } from '../../../store/connect'
import { restoreTemplate } from '../../../store/templates'
import { defineRoute, idOf } from '../../../utils/route'

/** A template that was removed is there again. */
export default defineRoute(async event => {
  await restoreTemplate(store(), idOf(event, 'template'))
  return { restored: true }
})
