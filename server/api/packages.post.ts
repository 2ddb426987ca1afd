import { createWriteStream } from 'node:fs'
import { join } from 'node:path'
import { pipeline } from 'node:stream/promises'
import { getQuery } from 'h3'
import { z } from 'zod'
import { inTemporary } from '../../host/temporary'
import { store } from '../store/connect'
import { importPackage } from '../store/packages'
import { withBody } from '../utils/body'
import { AddressId, defineRoute } from '../utils/route'

const Query = z.object({ id: AddressId })

/** The body is a zipped session package. */
export default defineRoute(async event => {
  const { id } = Query.parse(getQuery(event))
  return inTemporary('upload', async folder => {
    const path = join(folder, 'package.zip')
    await withBody(event, body => pipeline(body, createWriteStream(path)))
    return importPackage(store(), id, path)
  })
})
