import { createWriteStream } from 'node:fs'
import { mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { pipeline } from 'node:stream/promises'
import { getQuery } from 'h3'
import { z } from 'zod'
import { store } from '../store/connect'
import { importPackage } from '../store/packages'
import { withBody } from '../utils/body'
import { AddressId, defineRoute } from '../utils/route'

const Query = z.object({ id: AddressId })

/** The body is a zipped session package. */
export default defineRoute(async event => {
  const { id } = Query.parse(getQuery(event))
  const folder = await mkdtemp(join(tmpdir(), 'nullet-upload-'))
  try {
    const path = join(folder, 'package.zip')
    await withBody(event, body => pipeline(body, createWriteStream(path)))
    return await importPackage(store(), id, path)
  } finally { await rm(folder, { recursive: true, force: true }) }
})
