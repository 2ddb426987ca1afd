import { z } from 'zod'
import { store } from '../../../store/connect'
import { copySession } from '../../../store/sessions'
import { AddressId, defineRoute, idOf, readJson } from '../../../utils/route'

const Body = z.object({ id: AddressId, name: z.string().min(1).max(300) })

/** Another session with everything that this one has. */
export default defineRoute(async event => {
  const { id, name } = await readJson(event, Body)
  await copySession(store(), idOf(event, 'session'), id, name)
  return { id }
})
