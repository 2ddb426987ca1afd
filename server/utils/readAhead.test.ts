// What is read ahead comes whole, in order, and no further ahead than it should.
import { describe, expect, it } from 'vitest'
import { readAhead } from './readAhead'

const piece = (n: number) => new Uint8Array(10).fill(n)
const turn = () => new Promise(done => setImmediate(done))

describe('reading ahead', () => {
  it('begins at once, stops at its limit, and goes on when pieces are taken', async () => {
    let read = 0
    const ahead = readAhead(
      (async function* () {
        for (let n = 0; n < 8; n++) {
          read++
          yield piece(n)
        }
      })(),
      30
    )
    for (let i = 0; i < 20; i++) await turn()
    expect(read).toBe(3)
    const got: number[] = []
    for await (const p of ahead) got.push(p[0]!)
    expect(got).toEqual([0, 1, 2, 3, 4, 5, 6, 7])
  })

  it('gives what came before the source failed, then its fault', async () => {
    const ahead = readAhead(
      (async function* () {
        yield piece(1)
        throw new Error('cut')
      })(),
      100
    )
    await turn()
    const got: number[] = []
    await expect(
      (async () => {
        for await (const p of ahead) got.push(p[0]!)
      })()
    ).rejects.toThrow('cut')
    expect(got).toEqual([1])
  })

  it('lets go of the source where it is left', async () => {
    let isClosed = false
    const ahead = readAhead(
      (async function* () {
        try {
          for (;;) yield piece(1)
        } finally {
          isClosed = true
        }
      })(),
      20
    )
    for await (const _ of ahead) break
    expect(isClosed).toBe(true)
  })
})
