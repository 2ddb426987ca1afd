// Arguments of commands: words and --options, checked.
import { parseArgs } from 'node:util'
import { Refusal } from '@nullet/core/foundation/refusal'

/** @param multiple options that may be given more than once */
export function readOptions(args: string[], single: string[], multiple: string[] = []) {
  try {
    const { values, positionals } = parseArgs({
      args, allowPositionals: true,
      options: Object.fromEntries([...single.map(o => [o, { type: 'string' }] as const), ...multiple.map(o => [o, { type: 'string', multiple: true }] as const)])
    })
    if (positionals.length !== 1) throw new Refusal('badArguments', `One file or package is wanted, ${positionals.length} were given`)
    return { path: positionals[0], values: values as Record<string, string | undefined>, many: values as Record<string, string[] | undefined> }
  } catch (error) {
    throw error instanceof Refusal ? error : new Refusal('badArguments', (error as Error).message)
  }
}

/** Seconds into frames. */
export function secondsOption(text: string | undefined, name: string, rate: number): number | undefined {
  if (text === undefined) return undefined
  const seconds = Number(text)
  if (!(seconds >= 0)) throw new Refusal('badArguments', `--${name} takes seconds, not “${text}”`)
  return Math.round(seconds * rate)
}
