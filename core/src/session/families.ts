// A family of sources, guessed from a file's name by a table of words. A session may keep a table of its own.
import { FAMILIES } from './familyTable'
import type { FamilyRule } from './rows'
import { settings, type Session } from './session'

/** The table that a session goes by: its own, else the built-in one. */
export const familyTable = (session: Session): readonly FamilyRule[] => settings(session).families ?? FAMILIES

export const familyColour = (family: string, table: readonly FamilyRule[] = FAMILIES): number =>
  table.find(f => f.family === family)?.colour ?? 8

/** The family that a part of a kit belongs to; any other is its own. */
export const familyWhole = (family: string, table: readonly FamilyRule[] = FAMILIES): string =>
  table.find(f => f.family === family)?.within ?? family

/** A name as words: case, take numbers and punctuation do not count, “KickIn” is two. */
export const wordsOf = (name: string): string =>
  name
    .normalize('NFC')
    .replace(/(\p{Ll})(?=\p{Lu})/gu, '$1 ')
    .replace(/(\p{Lu})(?=\p{Lu}\p{Ll}{2})/gu, '$1 ')
    .toLowerCase()
    .replace(/[^\p{L}\d]+/gu, ' ')
    .replace(/(?<!\d)(?!808(?!\d))\d+(?!\d)/g, ' ')
    .replace(/\s+/g, ' ')
    .trim()

const single = (word: string) => (word.length > 3 ? word.replace(/s$/, '') : word)

interface Known {
  parts: string[]
  /** In one form for one and many. */ first: string
  weight: number
}
const WEAK = 0.5,
  STRONG = 10,
  /** “tom” where the table has “toms”: it counts, but what is written alike counts more. */ OTHER_NUMBER = 0.9
const known = new WeakMap<FamilyRule, Known[]>()
const knownOf = (rule: FamilyRule): Known[] => {
  const there =
    known.get(rule) ??
    rule.words.map((word): Known => {
      const parts = wordsOf(word).split(' ')
      return {
        parts,
        first: single(parts[0] ?? ''),
        weight: word.endsWith('?') ? WEAK : word.endsWith('!') ? STRONG : parts.length
      }
    })
  known.set(rule, there)
  return there
}

/** How much a word of the table says about a name, both in parts; 0 where it does not occur. */
function weightIn(name: readonly string[], { parts, weight }: Known): number {
  let most = 0
  for (let at = 0; at + parts.length <= name.length; at++) {
    if (parts.every((p, i) => p === name[at + i])) return weight
    if (parts.every((p, i) => single(p) === single(name[at + i] ?? ''))) most = weight * OTHER_NUMBER
  }
  return most
}

/**
 * A guess, or nothing when no word is known or two families answer alike. The longest run of words decides; of two
 * parts of one family it is the family that both belong to.
 */
export function guessFamily(name: string, table: readonly FamilyRule[] = FAMILIES): { family: string; colour: number } {
  const words = wordsOf(name).split(' ').filter(Boolean),
    singles = new Set(words.map(single))
  const answers = table.map(rule => ({
    family: rule.family,
    whole: rule.within ?? rule.family,
    weight: Math.max(0, ...knownOf(rule).map(k => (singles.has(k.first) ? weightIn(words, k) : 0)))
  }))
  const most = Math.max(0, ...answers.map(a => a.weight))
  const best = most ? answers.filter(a => a.weight === most) : []
  const [first] = best
  if (!first || best.some(a => a.whole !== first.whole)) return { family: '', colour: 8 }
  // A part says more than the family that it belongs to; of two parts it is that family.
  const parts = best.filter(a => a.whole !== a.family)
  const family = parts.length > 1 ? first.whole : (parts[0] ?? first).family
  return { family, colour: familyColour(family, table) }
}
