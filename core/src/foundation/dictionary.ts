// Maps by name without a prototype: “constructor” or “__proto__” names an entry or nothing.

/** A copy of the entries in a map without a prototype. */
export const dictionary = <T>(entries: Readonly<Record<string, T>> = {}): Record<string, T> =>
  Object.assign(Object.create(null) as Record<string, T>, entries)

/** The same from a list, each entry under the name that `key` gives it. */
export const dictionaryBy = <T>(list: readonly T[], key: (entry: T) => string): Record<string, T> =>
  dictionary(Object.fromEntries(list.map(entry => [key(entry), entry])))
