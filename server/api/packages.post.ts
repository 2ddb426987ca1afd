import { createWriteStream } from 'node:fs'
import { join } from 'node:path'
import { pipeline } from 'node:stream/promises'
import { getQuery } from 'h3'
import { z } from 'zod'
import { inTemporary } from '../../host/temporary'
import { store } from '../store/connect'
import { importPackage } from '../store/packages'
import { Arrival, withArrival } from '../utils/arrival'
import { AddressId, defineRoute } from '../utils/route'

const Query = z.object({ id: AddressId })

/** The body is a zipped session package, or what is not here of it yet. */
export default defineRoute(async event => {
  const query = getQuery(event),
    { id } = Query.parse(query)
  return withArrival(event, Arrival.parse(query), body =>
    inTemporary('upload', async folder => {
      const path = join(folder, 'package.zip')
      await pipeline(body, createWriteStream(path))
      return importPackage(store(), id, path)
    })
  )
})
