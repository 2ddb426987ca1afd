import { expect, it } from 'vitest'
import { canonical } from '@nullet/core/foundation/hash'
import { Sketch } from '@nullet/core/testing/sketch'
import { rehearse } from './rehearsal'

function network(tracks: number): Sketch {
  const k = new Sketch()
  k.bus('main')
  for (let i = 0; i < tracks; i++) {
    k.track(`t${i}`)
    k.main(`t${i}`, 'main')
  }
  return k
}

it('goes through with all tracks of a wide session, and leaves the session as it is', () => {
  const { session } = network(128),
    before = canonical(session)
  expect(rehearse(session)).toBe(true)
  expect(canonical(session)).toBe(before)
})

it('is not worth it for a few tracks', () => expect(rehearse(network(12).session)).toBe(false))
