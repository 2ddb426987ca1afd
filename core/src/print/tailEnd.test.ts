// Tails as they are measured: against the decay that a reverb is set to, an echo by its formula, what never ends.
import { describe, expect, it } from 'vitest'
import { compile } from '../compile/compile'
import { MemoryMedia } from '../run/memoryMedia'
import { PlanStream } from '../run/stream'
import { Sketch } from '../testing/sketch'
import { RATE, sine } from '../testing/sound'
import { tailEnd } from './tailEnd'

const FRAMES = RATE
async function tail(processor: string | null, params: Record<string, number> = {}, wish = { untilDb: -90, mostS: 60 }) {
  const k = new Sketch()
  k.medium('a', 1, FRAMES)
  k.bus('main', { role: 'main', layout: ['M'] })
  k.main(k.track('one', 'a', { layout: ['M'] }), 'main')
  if (processor) k.slot('one', processor, params)
  const media = new MemoryMedia()
  media.set('a', [sine(FRAMES, 1000, 0.5)])
  const plan = compile(k.session, { taps: [{ channel: 'main', tap: 'post' }] })
  return tailEnd(new PlanStream(plan, k.session, media), FRAMES, RATE, wish)
}

describe('the end of a tail', () => {
  it('is at once where nothing rings', async () => {
    expect(await tail(null)).toEqual({ frames: 0, staysDb: null })
  })

  it('of an echo is where its repeats have fallen below', async () => {
    // Each repeat is 20 dB lower: −6, −26 … −86, −106 dBFS; the one at −86 is the last that counts.
    const found = await tail('delay', { timeMs: 300, feedback: 10 })
    expect(found.staysDb).toBeNull()
    const repeats = found.frames / RATE / 0.3
    expect(repeats).toBeGreaterThan(3)
    expect(repeats).toBeLessThan(6)
  })

  it('of a longer reverb is longer, in the ratio of the decays', async () => {
    const [short, long] = [await tail('reverb', { decayS: 0.5 }), await tail('reverb', { decayS: 1 })]
    expect(short.staysDb).toBeNull()
    expect(long.frames / short.frames).toBeGreaterThan(1.6)
    expect(long.frames / short.frames).toBeLessThan(2.4)
  })

  it('of what never decays is where it is plain that it does not, and at what level it stays', async () => {
    const found = await tail('delay', { timeMs: 800, feedback: 98 })
    expect(found.frames / RATE).toBeLessThan(60.01)
    expect(found.staysDb).toBeGreaterThan(-60)
  })

  it('of a level that stays is where it has stayed for long enough', async () => {
    const k = new Sketch()
    k.medium('a', 1, 40 * RATE)
    k.bus('main', { role: 'main', layout: ['M'] })
    k.main(k.track('one', 'a', { layout: ['M'] }), 'main')
    const media = new MemoryMedia()
    media.set('a', [sine(40 * RATE, 1000, 0.01)])
    const plan = compile(k.session, { taps: [{ channel: 'main', tap: 'post' }] })
    const found = await tailEnd(new PlanStream(plan, k.session, media), RATE, RATE, { untilDb: -90, mostS: 30 })
    expect(found.frames / RATE).toBeLessThan(8.1)
    expect(found.staysDb).toBeCloseTo(-40, 1)
  })

  it('is looked for no longer than is said', async () => {
    const found = await tail('reverb', { decayS: 8 }, { untilDb: -90, mostS: 1 })
    expect(found.frames / RATE).toBeLessThan(1.01)
    expect(Number.isFinite(found.staysDb)).toBe(true)
  })
})
