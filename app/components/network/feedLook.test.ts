import { expect, it } from 'vitest'
import { lookOf } from './feedLook'

it('a feed is solid, a send dashed, a key dotted with an end that is filled', () => {
  expect(lookOf('main').dashes).toEqual([])
  const [send, key] = [lookOf('send').dashes, lookOf('key').dashes]
  expect(send[0]).toBeGreaterThan(send[1]!)
  expect(key[0]).toBeLessThan(key[1]!)
  expect([lookOf('key').filled, lookOf('end key').filled]).toEqual([false, true])
})

it('what is lit stands out of everything, in the colour of the signal; what is crowded stays thin and solid', () => {
  for (const kind of ['main', 'send', 'key']) {
    const [lit, plain, dimmed, closed] = [`${kind} lit`, kind, `${kind} dimmed`, `${kind} closed`].map(lookOf)
    expect([lit!.shown, lit!.width]).toEqual([1, 2])
    expect(plain!.shown).toBeLessThan(lit!.shown)
    for (const less of [dimmed!, closed!]) expect(less.shown).toBeLessThan(plain!.shown)
    expect(lookOf(`${kind} lit crowded`)).toMatchObject({ width: 1, dashes: [] })
  }
  expect([lookOf('main lit').ink, lookOf('send lit').ink, lookOf('key lit').ink]).toEqual(['signal', 'send', 'key'])
})
