import { runChecks } from '@nullet/core/checks/table'
import { settings } from '@nullet/core/session/session'
import { openPackage } from '../host/packageFile'
import { readOptions } from './options'

/** `nullet check`: everything in a package that is probably wrong, and how it could be mended. */
export async function check(args: string[]) {
  const pack = await openPackage(readOptions(args, []).path)
  try {
    const findings = runChecks(pack.session)
    return { session: settings(pack.session).name, notes: pack.notes, count: findings.length, findings }
  } finally { await pack.dispose() }
}
