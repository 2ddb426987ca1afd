import { getRouterParam } from 'h3'
import { z } from 'zod'
import { EditMessage } from '@nullet/core/edits/apply'
import { assertAlive, store } from '../../../store/connect'
import { storeEdit } from '../../../store/sessions'
import { defineRoute, readJson } from '../../../utils/route'

const Body = z.object({ base: z.number().int(), tab: z.string().max(60), edit: EditMessage })

/** An edit on top of a revision: stored, or what was missed. */
export default defineRoute(async event => {
  const { base, tab, edit } = await readJson(event, Body)
  await assertAlive(store())
  return storeEdit(store(), getRouterParam(event, 'id')!, base, edit, tab)
})
