// How lines of feeds look, in words of what they are: the same on a canvas and in a picture of paths.

/** Of the theme. */
export const FEED_INK = {
  main: '--ink-3',
  send: '--acting',
  key: '--key',
  signal: '--signal',
  ink: '--ink',
  ground: '--ground'
}
export type FeedInk = keyof typeof FEED_INK

export interface Look {
  ink: FeedInk
  /** How much of it shows. It is said of the stroke: an opacity of its own would be a picture to lay over. */
  shown: number
  width: number
  /** Px drawn, px left out. */
  dashes: number[]
  /** Filled, not drawn along. */
  filled: boolean
}

const known = new Map<string, Look>()

/** @param words `main`, `send` or `key`; `lit`, `dimmed`, `closed`: nothing passes; `crowded`; `end` of a key */
export function lookOf(words: string): Look {
  const found = known.get(words)
  if (found) return found
  const is = new Set(words.split(' '))
  const look: Look = {
    ink: is.has('send') ? 'send' : is.has('key') ? 'key' : is.has('lit') ? 'signal' : 'main',
    shown: is.has('closed') ? 0.15 : is.has('dimmed') ? 0.14 : is.has('lit') ? 1 : is.has('main') ? 0.55 : 0.3,
    width: is.has('lit') && !is.has('crowded') ? 2 : 1,
    dashes: is.has('crowded') ? [] : is.has('send') ? [5, 3] : is.has('key') ? [1.5, 3] : [],
    filled: is.has('end')
  }
  known.set(words, look)
  return look
}
