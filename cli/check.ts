import { observe } from '@nullet/core/checks/observe'
import { runChecks } from '@nullet/core/checks/table'
import { sessionFrames } from '@nullet/core/graph/sessionLength'
import { settings } from '@nullet/core/session/session'
import { openPackage, PackageMedia } from '../host/packageFile'
import { readOptions, secondsOption } from './options'

/**
 * `nullet check`: everything in a package that is probably wrong, and how it could be mended. Clipping shows by
 * rendering.
 */
export async function check(args: string[]) {
  const { path, values } = readOptions(args, ['from', 'to'])
  const pack = await openPackage(path),
    media = new PackageMedia(pack)
  try {
    const { session } = pack
    const rate = settings(session).sampleRate
    const from = secondsOption(values.from, 'from', rate) ?? 0
    const to = secondsOption(values.to, 'to', rate) ?? sessionFrames(session)
    const seen =
      to > from && Object.keys(session.channel).length
        ? await observe(session, await media.prepare(), { from, frames: to - from })
        : undefined
    const findings = runChecks(session, undefined, seen)
    return { session: settings(session).name, notes: pack.notes, count: findings.length, findings }
  } finally {
    media.close()
    await pack.dispose()
  }
}
