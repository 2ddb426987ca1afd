import { describe, expect, it } from 'vitest'
import { Sketch } from '../testing/sketch'
import { networkPicture } from './networkPicture'

describe('the picture of a network', () => {
  it('has a column a tier and a way a main feed', () => {
    const k = new Sketch()
    k.track('a', undefined, { colour: 3 })
    k.track('b', undefined, { colour: 4 })
    k.bus('sub', { colour: 5 })
    k.bus('main', { role: 'main', colour: 8 })
    k.bus('gone', { parked: true })
    k.main('a', 'sub')
    k.main('b', 'main')
    k.main('sub', 'main')
    k.send('a', 'main', -6)
    expect(networkPicture(k.session)).toEqual({
      columns: [[3, 4], [5], [8]],
      ways: [
        [0, 0, 1, 0],
        [0, 1, 2, 0],
        [1, 0, 2, 0]
      ]
    })
  })
  it('of an empty session is empty', () => {
    expect(networkPicture(new Sketch().session)).toEqual({ columns: [], ways: [] })
  })
})
