// A function that remembers the last thing it was asked.

export function latest<R>(of: (asked: number) => R): (asked: number) => R {
  let last = NaN,
    value: R
  return asked => {
    if (asked !== last) value = of((last = asked))
    return value
  }
}
