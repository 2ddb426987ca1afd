// The JSON Schema of the session package, made from the same tables that read it.
import { z } from 'zod'
import { PackageDocument } from './package'

/** As it may be written by hand: defaults filled in by the reader. */
export const packageSchema = (): string =>
  `${JSON.stringify(
    {
      title: 'Nullet session package, session.json',
      ...(z.toJSONSchema(PackageDocument, { io: 'input', unrepresentable: 'any' }) as object)
    },
    null,
    2
  )}\n`
