import { afterEach, describe, expect, it, vi } from 'vitest'
import { drawn } from './drawn'

/** A page whose frames are drawn when the test says so. */
function page(hidden = false) {
  const frames: (() => void)[] = []
  vi.useFakeTimers()
  vi.stubGlobal('document', { hidden })
  vi.stubGlobal('requestAnimationFrame', (f: () => void) => frames.push(f))
  let isDrawn = false
  void drawn().then(() => (isDrawn = true))
  return { frames, isDrawn: () => isDrawn }
}
afterEach(() => {
  vi.useRealTimers()
  vi.unstubAllGlobals()
})

describe('what comes after a drawing', () => {
  it('waits for the frame to be drawn, not only begun', async () => {
    const { frames, isDrawn } = page()
    await vi.advanceTimersByTimeAsync(50)
    expect([frames.length, isDrawn()]).toEqual([1, false])
    frames[0]!()
    await Promise.resolve()
    expect(isDrawn()).toBe(false)
    await vi.advanceTimersByTimeAsync(0)
    expect(isDrawn()).toBe(true)
  })

  it('waits half a second at most, and not at all where nothing is drawn', async () => {
    const { isDrawn } = page()
    await vi.advanceTimersByTimeAsync(499)
    expect(isDrawn()).toBe(false)
    await vi.advanceTimersByTimeAsync(1)
    expect(isDrawn()).toBe(true)
    const hidden = page(true)
    await Promise.resolve()
    expect([hidden.frames.length, hidden.isDrawn()]).toEqual([0, true])
    vi.unstubAllGlobals()
    await drawn()
  })
})
