import { z } from 'zod'
import { store } from '../../../store/connect'
import { withEdits } from '../../../store/edits'
import { Client, Gesture } from '../../../utils/gesture'
import { defineRoute, idOf, readJson } from '../../../utils/route'

const Body = z.object({ name: z.string().min(1).max(300), gesture: Gesture, client: Client })

/** Another name, from where the session is not open; who has it open sees it, and it can be undone there. */
export default defineRoute(async event => {
  const { name, ...by } = await readJson(event, Body)
  return withEdits(store(), (_, edit) => edit(idOf(event, 'session'), { verb: 'setSession', args: { name } }, by))
})
