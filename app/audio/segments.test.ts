// Audio parts for the engine: exact, few requests, the next ones early.
import { afterEach, describe, expect, it, vi } from 'vitest'
import { Segments } from './segments'
import { METER_SLOTS, WRAP, ahead, meterMemory, meterSlot, metersOver } from './ring'

const sample = (medium: string, leg: number, n: number) => medium.charCodeAt(0) + leg * 1000 + n
interface Part {
  sha256: string
  from: number
  frames: number
}
const requests: Part[][] = []

function answer(legs: Record<string, number>): void {
  vi.stubGlobal('fetch', async (_: string, { body }: { body: string }) => {
    const { parts } = JSON.parse(body) as { parts: Part[] }
    requests.push(parts)
    const all = parts.flatMap(p =>
      Array.from({ length: legs[p.sha256]! }, (_, leg) =>
        Array.from({ length: p.frames }, (_, i) => sample(p.sha256, leg, p.from + i))
      ).flat()
    )
    return { ok: true, arrayBuffer: async () => Float32Array.from(all).buffer }
  })
}
afterEach(() => {
  vi.unstubAllGlobals()
  requests.length = 0
})

function segments(): Segments {
  answer({ a: 1, b: 2 })
  const s = new Segments()
  s.setMedia(
    new Map([
      ['a', { sha256: 'a', legs: 1, frames: 70000 }],
      ['b', { sha256: 'b', legs: 2, frames: 20000 }]
    ])
  )
  return s
}

describe('segments', () => {
  it('give every frame as it is stored, over any border, and zero beyond the end', async () => {
    const s = segments()
    const [leg] = await s.read('a', 16000, 1000)
    expect(leg[0]).toBe(sample('a', 0, 16000))
    expect(leg[999]).toBe(sample('a', 0, 16999))
    const [left, right] = await s.read('b', 16300, 200)
    expect([left[150], right[150]]).toEqual([sample('b', 0, 16450), sample('b', 1, 16450)])
  })

  it('that are asked for together travel in one request, with those that come next', async () => {
    const s = segments()
    await Promise.all([s.read('a', 0, 4096), s.read('b', 0, 4096)])
    expect(requests).toHaveLength(1)
    expect(requests[0].filter(p => p.sha256 === 'a').map(p => p.from)).toEqual([0, 16384, 32768, 49152])
  })

  it('that are there are read without waiting', async () => {
    const s = segments()
    await s.read('a', 0, 4096)
    expect(s.read('a', 4096, 4096)).toBeInstanceOf(Array)
  })
})

describe('the ring', () => {
  it('counts over its wrap', () => {
    expect(ahead(WRAP - 10, 5)).toBe(15)
    expect(ahead(100, 100)).toBe(0)
  })
  it('keeps the meters of different blocks apart for as long as it holds them', () => {
    for (const width of [3, 4099]) {
      const { values, width: room } = metersOver(meterMemory(width))
      expect(room).toBe(width)
      const places = new Set(Array.from({ length: METER_SLOTS }, (_, i) => meterSlot(i * 128, width)))
      expect(places.size).toBe(METER_SLOTS)
      expect(Math.max(...places)).toBe(values.length - width)
      expect(meterSlot(METER_SLOTS * 128, width)).toBe(meterSlot(0, width))
    }
  })
})
