// Writes the JSON Schema of the session package from the Zod schemas. `node build/schema.mjs`
import { writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { packageSchema } from '@nullet/core/formats/schema'

writeFileSync(join(process.cwd(), 'docs/session-package.schema.json'), packageSchema())
