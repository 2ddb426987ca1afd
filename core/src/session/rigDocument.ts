// What an entry of the rig library holds: the rows of one room, with ids that mean nothing outside of it.
import { z } from 'zod'
import { TABLES, type TableName } from './rows'

export const RIG_DOCUMENT_VERSION = 1
export const RIG_TABLES = ['interface', 'port', 'unit', 'cable'] as const satisfies readonly TableName[]
export type RigTable = (typeof RIG_TABLES)[number]
/** What stands in a document where a row names its rig. */
export const THE_RIG = 'rig'

export const RigDocument = z.object({
  nulletRig: z.literal(RIG_DOCUMENT_VERSION, { error: `not a rig of this version (${RIG_DOCUMENT_VERSION})` }),
  name: z.string().min(1).max(300),
  rows: z.object(
    Object.fromEntries(RIG_TABLES.map(t => [t, z.array(TABLES[t]).max(5000).default([])])) as {
      [T in RigTable]: z.ZodDefault<z.ZodArray<(typeof TABLES)[T]>>
    }
  )
})
export type RigDocument = z.output<typeof RigDocument>
