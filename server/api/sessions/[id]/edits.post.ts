import { z } from 'zod'
import { EditMessage } from '@nullet/core/session/editMessage'
import { assertAlive, store } from '../../../store/connect'
import { postEdit } from '../../../store/edits'
import { defineRoute, idOf, MANY_ROWS_BYTES, readJson } from '../../../utils/route'
import { Client, Gesture, KnownGesture, Revision } from '../../../utils/gesture'

const Body = z.object({
  base: Revision,
  era: z.string().max(60),
  gesture: Gesture,
  client: Client,
  edit: EditMessage,
  reverts: KnownGesture.optional()
})

/** An edit on top of a revision: stored once, however often it is asked for; or what was missed. */
export default defineRoute(async event => {
  const { edit, gesture, client, reverts, ...from } = await readJson(event, Body, MANY_ROWS_BYTES)
  await assertAlive(store())
  return postEdit(store(), idOf(event, 'session'), from, edit, { gesture, client, reverts })
})
