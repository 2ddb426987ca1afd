import { z } from 'zod'
import { readTemplate } from '@nullet/core/formats/template'
import { store } from '../../../store/connect'
import { writeTemplate } from '../../../store/templates'
import { defineRoute, idOf, MANY_ROWS_BYTES, readJson } from '../../../utils/route'

export default defineRoute(async event => {
  const id = idOf(event, 'template')
  const document = readTemplate(JSON.stringify(await readJson(event, z.unknown(), MANY_ROWS_BYTES)))
  await writeTemplate(store(), id, document)
  return { id, name: document.name }
})
