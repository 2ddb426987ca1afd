import { Refusal } from '@nullet/core/foundation/refusal'
import { ping } from '@nullet/core/measure/ping'
import { rows } from '@nullet/core/session/session'
import { openPackage } from '../host/packageFile'
import { readOptions, wholeOption } from './options'

/** `nullet ping`: measures a loop of a package on its simulated rig. */
export async function pingLoop(args: string[]) {
  const { path, values } = readOptions(args, ['loop', 'seed', 'level', 'averages'])
  const pack = await openPackage(path)
  try {
    const loops = rows(pack.session, 'loop')
    const found = loops.filter(l => l.id === values.loop || l.name === values.loop)
    if (found.length !== 1) {
      throw new Refusal(
        found.length ? 'ambiguous' : 'notFound',
        `--loop ${values.loop ?? ''}: ${found.length ? 'several loops have this name' : 'there is no such loop'}. There are: ${loops.map(l => l.name).join(', ')}`
      )
    }
    const result = await ping(pack.session, found[0], {
      seed: wholeOption(values.seed, 'seed', 2 ** 31),
      levelDb: levelOption(values.level),
      averages: averagesOption(values.averages)
    })
    return { loop: found[0].name, ...result }
  } finally {
    await pack.dispose()
  }
}

function levelOption(text: string | undefined): number | undefined {
  if (text === undefined) return undefined
  const level = text.trim() === '' ? NaN : Number(text)
  if (!(level >= -60 && level <= 0)) throw new Refusal('badArguments', `--level takes −60 to 0 dBFS, not “${text}”`)
  return level
}

function averagesOption(text: string | undefined): number | undefined {
  const count = wholeOption(text, 'averages', 16)
  if (count === 0) throw new Refusal('badArguments', '--averages takes 1 to 16, not 0')
  return count
}
