// An edit as data: what is sent, kept and proposed. What the verbs do is in edits/.
import { z } from 'zod'

export const EditMessage = z.object({ verb: z.string().max(60), args: z.unknown() })
export type EditMessage = z.infer<typeof EditMessage>
