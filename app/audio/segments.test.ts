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

  it('that are asked for together travel in one request, what comes next after it', async () => {
    const s = segments()
    await Promise.all([s.read('a', 0, 4096), s.read('b', 0, 4096)])
    expect(requests[0]!.map(p => [p.sha256, p.from])).toEqual([
      ['a', 0],
      ['b', 0]
    ])
    await vi.waitFor(() => expect(requests).toHaveLength(2))
    expect(requests[1]!.map(p => [p.sha256, p.from])).toEqual([
      ['a', 16384],
      ['a', 32768],
      ['a', 49152],
      ['b', 16384]
    ])
  })

  it('that are waited for do not wait for what comes next', async () => {
    const s = segments()
    await s.read('a', 0, 4096)
    const waiting = s.read('b', 16384, 1000)
    await waiting
    expect(requests.flat().filter(p => p.sha256 === 'b' && p.from === 16384)).toHaveLength(1)
  })

  it('of many legs come in as many answers as they need', async () => {
    answer({ c: 12 })
    const s = new Segments()
    s.setMedia(new Map([['c', { sha256: 'c', legs: 12, frames: 16384 * 70 }]]))
    const legs = await s.read('c', 0, 16384 * 70)
    expect(legs).toHaveLength(12)
    expect(legs[11]![16384 * 70 - 1]).toBe(sample('c', 11, 16384 * 70 - 1))
    for (const parts of requests) expect(parts.length * 12).toBeLessThanOrEqual(800)
    expect(requests).toHaveLength(2)
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
