import { expect, it } from 'vitest'
import { base64, fitted } from './photo'

it('a picture keeps its shape, its longest side is cut, and a small one stays as it is', () => {
  expect(fitted(4000, 3000)).toEqual({ width: 1600, height: 1200 })
  expect(fitted(3000, 4000)).toEqual({ width: 1200, height: 1600 })
  expect(fitted(640, 480)).toEqual({ width: 640, height: 480 })
  expect(fitted(10_000, 1)).toEqual({ width: 1600, height: 1 })
})

it('bytes as text come back as they were', () => {
  const bytes = Uint8Array.from({ length: 1000 }, (_, n) => (n * 7) % 256)
  expect(Uint8Array.from(Buffer.from(base64(bytes), 'base64'))).toEqual(bytes)
  expect(base64(new Uint8Array(0))).toBe('')
})
