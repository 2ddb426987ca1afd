// What a template holds: the network of a session without its tracks, and how those were connected.
import { z } from 'zod'
import { FamilyRule, TABLES } from './rows'

export const TEMPLATE_VERSION = 1
const CARRIED = ['rig', 'interface', 'port', 'unit', 'cable', 'channel', 'loop', 'slot', 'feed'] as const
type Carried = (typeof CARRIED)[number]

/** How tracks of the session it was taken from were connected: what tracks of another one are matched with. */
const Pattern = z.object({
  name: z.string(),
  family: z.string(),
  colour: z.number().int(),
  mains: z.array(z.string()),
  sends: z.array(
    z.object({
      to: z.string(),
      tap: z.enum(['input', 'pre', 'post']),
      levelDb: z.number().nullable(),
      pan: z.number().nullable()
    })
  ),
  keys: z.array(z.object({ slot: z.string(), tap: z.enum(['input', 'pre', 'post']), levelDb: z.number().nullable() }))
})
export type Pattern = z.output<typeof Pattern>

export const TemplateDocument = z.object({
  nulletTemplate: z.literal(TEMPLATE_VERSION, { error: `not a template of this version (${TEMPLATE_VERSION})` }),
  name: z.string().min(1).max(300),
  sampleRate: z.number().int(),
  families: z.array(FamilyRule).nullable().default(null),
  tracks: z.array(Pattern).max(5000).default([]),
  rows: z.object(
    Object.fromEntries(CARRIED.map(t => [t, z.array(TABLES[t]).default([])])) as {
      [T in Carried]: z.ZodDefault<z.ZodArray<(typeof TABLES)[T]>>
    }
  )
})
export type TemplateDocument = z.output<typeof TemplateDocument>
