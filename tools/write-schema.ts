// Writes the documents that are made from the code: the JSON Schema of the session package and the table of units.
// `node build/schema.mjs`
import { writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { packageSchema } from '@nullet/core/formats/schema'
import { unitTable } from '@nullet/core/formats/unitTable'

const write = (file: string, text: string) => writeFileSync(join(process.cwd(), 'docs', file), text)
write('session-package.schema.json', packageSchema())
write('units.md', unitTable())
