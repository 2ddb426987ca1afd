import { getRouterParam } from 'h3'
import { z } from 'zod'
import { readTemplate } from '@nullet/core/formats/template'
import { store } from '../../store/connect'
import { writeTemplate } from '../../store/templates'
import { defineRoute, readJson } from '../../utils/route'

const Id = z.string().regex(/^[\w-]{1,60}$/)

export default defineRoute(async event => {
  const id = Id.parse(getRouterParam(event, 'id'))
  const document = readTemplate(JSON.stringify(await readJson(event, z.unknown())))
  await writeTemplate(store(), id, document)
  return { id, name: document.name }
})
