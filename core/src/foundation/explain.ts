// What a schema found wrong, as plain sentences: “levelDb must be at most 48”. Words that a schema was given stay; the
// library's own are translated.
import type { z } from 'zod'

type Issue = z.core.$ZodIssue & Record<string, unknown>

const plural = (n: unknown, one: string, many: string) => `${n} ${n === 1 ? one : many}`
const THINGS: Record<string, [string, string]> = { string: ['character', 'characters'], array: ['entry', 'entries'] }
const KINDS: Record<string, string> = {
  number: 'a number',
  int: 'a whole number',
  string: 'text',
  boolean: 'true or false',
  array: 'a list',
  object: 'a group of fields',
  record: 'a group of fields',
  tuple: 'a list',
  null: 'nothing'
}

function size(issue: Issue, limit: unknown, most: boolean): string {
  const things = THINGS[issue.origin as string]
  if (things) return `${most ? 'has at most' : 'must have at least'} ${plural(limit, ...things)}`
  const words = most ? ['at most', 'less than'] : ['at least', 'more than']
  return `must be ${words[issue.inclusive === false ? 1 : 0]} ${limit}`
}

const WORDS: Record<string, (issue: Issue) => string> = {
  too_big: i => size(i, i.maximum, true),
  too_small: i => size(i, i.minimum, false),
  invalid_value: i => `must be one of ${(i.values as unknown[]).join(', ')}`,
  invalid_type: i =>
    i.message.endsWith('received undefined')
      ? 'is missing'
      : `must be ${KINDS[i.expected as string] ?? String(i.expected)}`,
  unrecognized_keys: i => `has what is not known here: ${(i.keys as string[]).join(', ')}`,
  invalid_union: () => 'is of none of the kinds known here',
  invalid_key: () => 'has a name that cannot be used'
}

/** How the library begins its own messages. */
const LIBRARY = /^(Invalid|Too (big|small)|Unrecognized|Expected)/
const TOLD = 3

function sentence(issue: Issue): string {
  const path = issue.path.map(String).join('.')
  if (LIBRARY.test(issue.message)) return `${path || 'it'} ${WORDS[issue.code!]?.(issue) ?? 'is not right'}`
  return path ? `${path}: ${issue.message}` : issue.message
}

/** @returns the first few faults in one line */
export function explain(error: z.ZodError): string {
  const told = error.issues.slice(0, TOLD).map(issue => sentence(issue as Issue))
  const more = error.issues.length - told.length
  return `${told.join('; ')}${more > 0 ? `; and ${more} more` : ''}`
}
