import { z } from 'zod'
import { change, defineEdit } from './edit'

/** Many names at once, each its own. */
export const renameChannels = defineEdit({
  verb: 'renameChannels',
  args: z.object({ names: z.array(z.object({ id: z.string(), name: z.string() })).min(1) }),
  label: (_, { names }) => `Rename ${names.length} channels`,
  apply(draft, { names }) {
    for (const { id, name } of names) change(draft, 'channel', id, { name })
  }
})
