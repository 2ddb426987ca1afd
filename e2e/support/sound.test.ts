import { expect, it } from 'vitest'
import { whiteNoise } from '@nullet/core/testing/sound'
import { heardIn } from './sound'

const render = [whiteNoise(6000, 1), whiteNoise(6000, 2)]
const heard = (from: number, to: number) => render.map(leg => leg.slice(from, to))
/** As it comes out of an output that ran dry for so many frames. */
const dry = (at: number, frames: number) =>
  heard(1000, 4000).map(leg => Float32Array.from([...leg.slice(0, at), ...new Float32Array(frames), ...leg.slice(at)]))

it('says where it lies in the render, also of what is silent at first', () => {
  expect(heardIn({ legs: heard(1000, 4000), gaps: 0 }, render)).toBe(1000)
  expect(heardIn({ legs: heard(1000, 4000), gaps: 0 }, render, 500)).toBe(1500)
  const late = render.map(leg => Float32Array.from([...new Float32Array(200), ...leg]))
  expect(heardIn({ legs: late.map(leg => leg.slice(50, 3000)), gaps: 0 }, late)).toBe(50)
})

it('finds a sample that is another, on any leg, and a zero of the other sign', () => {
  for (const [leg, n] of [
    [0, 2999],
    [1, 0],
    [1, 700]
  ] as const) {
    const legs = heard(1000, 4000)
    legs[leg]![n]! += 1e-7
    for (const gaps of [0, 1])
      expect(() => heardIn({ legs, gaps }, render, 0, true)).toThrow(new RegExp(`^frame ${n}: `))
  }
  const silent = render.map(leg => leg.map((v, n) => (n < 100 ? 0 : v)))
  const legs = silent.map(leg => leg.slice(0, 1000))
  legs[1]![3] = -0
  expect(() => heardIn({ legs, gaps: 0 }, silent)).toThrow(/^frame 3: /)
  expect(() => heardIn({ legs: [new Float32Array(500), new Float32Array(500)], gaps: 0 }, render)).toThrow(/nothing/)
})

it('allows silence only where the output says that it ran dry, where that may be, and where nothing is lost by it', () => {
  expect(heardIn({ legs: dry(700, 128), gaps: 1 }, render, 0, true)).toBe(1000)
  expect(heardIn({ legs: dry(3000, 128), gaps: 1 }, render, 0, true)).toBe(1000)
  expect(() => heardIn({ legs: dry(700, 128), gaps: 0 }, render, 0, true)).toThrow(/^frame 700: /)
  expect(() => heardIn({ legs: dry(700, 128), gaps: 1 }, render)).toThrow(/^frame 700: /)
  const lost = dry(700, 128).map(leg => Float32Array.from([...leg.slice(0, 828), ...leg.slice(829)]))
  expect(() => heardIn({ legs: lost, gaps: 1 }, render, 0, true)).toThrow(/^frame 828: /)
})
