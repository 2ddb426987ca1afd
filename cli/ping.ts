import { Refusal } from '@nullet/core/foundation/refusal'
import { ping } from '@nullet/core/measure/ping'
import { rows } from '@nullet/core/session/session'
import { openPackage } from '../host/packageFile'
import { readOptions } from './options'

/** `nullet ping`: measures a loop of a package on its simulated rig. */
export async function pingLoop(args: string[]) {
  const { path, values } = readOptions(args, ['loop', 'seed', 'level'])
  const pack = await openPackage(path)
  try {
    const loops = rows(pack.session, 'loop')
    const found = loops.filter(l => l.id === values.loop || l.name === values.loop)
    if (found.length !== 1) {
      throw new Refusal(found.length ? 'ambiguous' : 'notFound',
        `--loop ${values.loop ?? ''}: ${found.length ? 'several loops have this name' : 'there is no such loop'}. There are: ${loops.map(l => l.name).join(', ')}`)
    }
    const result = await ping(pack.session, found[0], {
      seed: values.seed === undefined ? undefined : Number(values.seed), levelDb: values.level === undefined ? undefined : Number(values.level) })
    return { loop: found[0].name, ...result }
  } finally { await pack.dispose() }
}
