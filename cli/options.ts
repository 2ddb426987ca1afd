// Arguments of commands: words and --options, checked.
import { parseArgs } from 'node:util'
import { Refusal } from '@nullet/core/foundation/refusal'
import { userPath } from './paths'

/** @param multiple options that may be given more than once; `flags` take no value */
export function readOptions(args: string[], single: string[], multiple: string[] = [], flags: string[] = []) {
  try {
    const { values, positionals } = parseArgs({
      args,
      allowPositionals: true,
      options: Object.fromEntries([
        ...single.map(o => [o, { type: 'string' }] as const),
        ...multiple.map(o => [o, { type: 'string', multiple: true }] as const),
        ...flags.map(o => [o, { type: 'boolean' }] as const)
      ])
    })
    if (positionals.length !== 1)
      throw new Refusal('badArguments', `One file or package is wanted, ${positionals.length} were given`)
    return {
      path: userPath(positionals[0]!),
      flags: new Set(flags.filter(f => (values as Record<string, unknown>)[f] === true)),
      values: values as Record<string, string | undefined>,
      many: values as Record<string, string[] | undefined>
    }
  } catch (error) {
    throw error instanceof Refusal ? error : new Refusal('badArguments', (error as Error).message)
  }
}

/** A session lasts no longer than a day. */
export const LONGEST_S = 24 * 3600

/** Seconds into frames. */
export function secondsOption(text: string | undefined, name: string, rate: number): number | undefined {
  if (text === undefined) return undefined
  const seconds = text.trim() === '' ? NaN : Number(text)
  if (seconds > LONGEST_S)
    throw new Refusal('badArguments', `--${name} ${text}: a session lasts at most ${LONGEST_S} s, a day`)
  if (!(seconds >= 0)) throw new Refusal('badArguments', `--${name} takes seconds, not “${text}”`)
  return Math.round(seconds * rate)
}

/** One of a few words. */
export function choiceOption<T extends string>(
  text: string | undefined,
  name: string,
  choices: readonly T[],
  usual: T
): T {
  if (text === undefined) return usual
  if (!choices.includes(text as T))
    throw new Refusal(
      'badArguments',
      `--${name} takes ${choices.slice(0, -1).join(', ')} or ${choices.at(-1)}, not “${text}”`
    )
  return text as T
}

/** A whole number from 0 on. */
export function wholeOption(text: string | undefined, name: string, most: number): number | undefined {
  if (text === undefined) return undefined
  if (!/^\d+$/.test(text) || Number(text) > most)
    throw new Refusal('badArguments', `--${name} takes a whole number from 0 to ${most}, not “${text}”`)
  return Number(text)
}
