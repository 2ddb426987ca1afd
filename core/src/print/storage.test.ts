import { describe, expect, it } from 'vitest'
import { applyEdit } from '../edits/apply'
import { Dice } from '../testing/generated'
import { Sketch } from '../testing/sketch'
import { rows } from '../session/session'
import { bytesOf, goEdit, heldAudio, printedBytes, toGo } from './storage'

/** A recording; a print that is heard, one that is parked; takes of which the third is heard; what nothing plays. */
function kept(): Sketch {
  const k = new Sketch('Kept')
  k.bus('main', { role: 'main' })
  const medium = (id: string, frames: number, file = `audio/${id}.wav`) => k.medium(id, 1, frames, { sha256: id, file })
  medium('recorded', 1000, 'kora.wav')
  k.track('kora', 'recorded', { layout: ['M'] })
  for (const id of ['heard', 'parked']) {
    medium(id, 500)
    k.track(`t-${id}`, id, { layout: ['M'], parked: id === 'parked' })
    k.add('print', {
      id: `p-${id}`,
      channel: `t-${id}`,
      source: 'kora',
      tap: 'pre',
      clip: `t-${id}-clip`,
      printedAt: '2026-01-09'
    })
  }
  k.track('tried', undefined, { layout: ['M'] })
  for (const n of [1, 2, 3]) {
    medium(`try${n}`, 100 * n)
    k.add('take', { id: `take${n}`, channel: 'tried', name: `Try ${n}`, order: `a${n}` })
    k.add('clip', { id: `c${n}`, channel: 'tried', medium: `try${n}`, take: `take${n}` })
    k.add('print', {
      id: `p${n}`,
      channel: 'tried',
      source: 'kora',
      tap: 'pre',
      clip: `c${n}`,
      printedAt: `2026-01-0${4 - n}`
    })
  }
  k.session.channel.tried!.take = 'take3'
  medium('former', 400, 'audio/p-heard.wav')
  return k
}
const uses = (k: Sketch) => Object.fromEntries(heldAudio(k.session).map(h => [h.medium.id, h.use]))

describe('audio that a session keeps', () => {
  it('is told by what it is for, the largest first', () => {
    expect(uses(kept())).toEqual({
      ...{ recorded: 'recorded', heard: 'heard', parked: 'parked' },
      ...{ try1: 'take', try2: 'take', try3: 'heard', former: 'unused' }
    })
    const held = heldAudio(kept().session)
    expect(held.map(h => h.bytes)).toEqual([4000, 2000, 2000, 1600, 1200, 800, 400])
    expect(held.find(h => h.medium.id === 'try2')).toMatchObject({
      tracks: ['tried'],
      printedAt: '2026-01-02',
      takes: ['take2']
    })
    expect(bytesOf({ legs: 12, frames: 48_000 })).toBe(2_304_000)
  })

  it('counts prints alone, and the same audio once', () => {
    const k = kept()
    expect(printedBytes(heldAudio(k.session))).toBe(2000 + 2000 + 1600 + 1200 + 800 + 400)
    Object.assign(k.session.medium.former!, { sha256: 'heard', frames: 500 })
    expect(printedBytes(heldAudio(k.session))).toBe(2000 + 2000 + 1200 + 800 + 400)
  })

  it('what was brought in is never what may go, also where nothing plays it and a package called it', () => {
    const k = kept()
    k.medium('idle', 1, 300, { sha256: 'idle', file: 'audio/Kora DI.wav' })
    expect(uses(k).idle).toBe('recorded')
    expect(toGo(k.session, heldAudio(k.session), 0).map(h => h.medium.id)).not.toContain('idle')
  })

  it('an impulse response is never what may go', () => {
    const k = kept()
    k.add('slot', { id: 'room', channel: 'kora', processor: 'convolution', params: { response: 'former' } })
    expect(uses(k).former).toBe('recorded')
  })
})

describe('a budget', () => {
  const going = (k: Sketch, budget: number) => toGo(k.session, heldAudio(k.session), budget).map(h => h.medium.id)
  it('is kept by what nothing plays first, then takes that are not heard, the oldest first', () => {
    expect(going(kept(), 8000)).toEqual([])
    expect(going(kept(), 7999)).toEqual(['former'])
    expect(going(kept(), 6000)).toEqual(['former', 'try2'])
    expect(going(kept(), 0)).toEqual(['former', 'try2', 'try1'])
  })

  it('a take that is the best stays', () => {
    const k = kept()
    k.session.take.take2!.rating = 'best'
    expect(going(k, 0)).toEqual(['former', 'try1'])
  })

  it('what goes is one step, and what is heard stays as it is: 100 generated budgets', () => {
    for (let seed = 1; seed <= 100; seed++) {
      const k = kept(),
        budget = new Dice(seed).below(9000)
      const held = heldAudio(k.session),
        gone = toGo(k.session, held, budget)
      if (!gone.length) continue
      const after = applyEdit(k.session, goEdit(k.session, gone)).session
      expect(
        rows(after, 'medium')
          .map(m => m.id)
          .sort()
      ).toEqual(
        held
          .map(h => h.medium.id)
          .filter(id => !gone.some(g => g.medium.id === id))
          .sort()
      )
      for (const id of ['recorded', 'heard', 'parked', 'try3']) expect(after.medium[id]).toBeDefined()
      expect(after.channel.tried!.take).toBe('take3')
      if (printedBytes(held) > budget && printedBytes(heldAudio(after)) > budget)
        expect(toGo(after, heldAudio(after), budget)).toEqual([])
    }
  })

  it('audio that something plays is not removed', () => {
    const remove = (k: Sketch, id: string) => applyEdit(k.session, { verb: 'removeMedia', args: { ids: [id] } })
    expect(() => remove(kept(), 'heard')).toThrow('“t-heard” plays audio that was to be removed')
    const k = kept()
    k.add('slot', { id: 'room', channel: 'kora', processor: 'convolution', params: { response: 'former' } })
    expect(() => remove(k, 'former')).toThrow('“kora” plays audio that was to be removed')
    expect(remove(kept(), 'former').session.medium.former).toBeUndefined()
  })
})
