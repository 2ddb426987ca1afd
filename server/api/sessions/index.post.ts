import { z } from 'zod'
import { emptySession, makeRow } from '@nullet/core/session/session'
import { store } from '../../store/connect'
import { createSession } from '../../store/sessions'
import { AddressId, defineRoute, readJson } from '../../utils/route'

const Body = z.object({
  id: AddressId,
  name: z.string().min(1).max(300),
  sampleRate: z.number().int().min(8000).max(384000)
})

/** An empty session: one main, so that what is brought in can be heard. */
export default defineRoute(async event => {
  const { id, name, sampleRate } = await readJson(event, Body)
  const session = emptySession(name, { sampleRate, heardChannel: 'main' })
  session.channel.main = makeRow('channel', {
    id: 'main',
    name: 'Main',
    kind: 'bus',
    role: 'main',
    colour: 8,
    order: 'a0'
  })
  await createSession(store(), id, session)
  return { id }
})
