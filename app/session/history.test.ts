// What can be taken back and made again, from the log: every order of doing, taking back and making again.
import { describe, expect, it } from 'vitest'
import { Dice } from '@nullet/core/testing/generated'
import { History, type Recalled } from './history'

const step = (gesture: string, reverts: string | null = null): Recalled => ({
  gesture,
  label: reverts ? `Undo: ${reverts}` : gesture,
  changes: [],
  reverts
})
const names = (h: History) => ({ undos: h.undos.map(s => s.label), redos: h.redos.map(s => s.label) })

describe('recalling', () => {
  it('what was taken back can be made again, unless something was done since', () => {
    const history = new History()
    history.recall([step('a'), step('b'), step('u', 'b')])
    expect(names(history)).toEqual({ undos: ['a'], redos: ['b'] })
    const later = new History()
    later.recall([step('a'), step('b'), step('u', 'b'), step('c')])
    expect(names(later)).toEqual({ undos: ['a', 'c'], redos: [] })
  })
  it('what this page did lies above, and nothing older can be made again then', () => {
    const history = new History()
    history.done({ gesture: 'n', label: 'n', changes: [] })
    history.recall([step('a'), step('b'), step('u', 'b')])
    expect(names(history)).toEqual({ undos: ['a', 'n'], redos: [] })
  })
  it('takes back what is not in the log without a word', () => {
    const history = new History()
    history.recall([step('u', 'older'), step('a')])
    expect(names(history)).toEqual({ undos: ['a'], redos: [] })
  })
  it('gives the same as the page that did it, in 200 histories', () => {
    for (let seed = 1; seed <= 200; seed++) {
      const dice = new Dice(seed),
        live = new History(),
        log: Recalled[] = []
      for (let i = 0; i < 30; i++) {
        const way = dice.pick(['do', 'undo', 'redo'] as const)
        if (way === 'do') {
          live.done({ gesture: `g${i}`, label: `l${i}`, changes: [] })
          log.push({ gesture: `g${i}`, label: `l${i}`, changes: [], reverts: null })
          continue
        }
        const next = live.next(way)
        if (!next) continue
        live.moved(way, { gesture: `g${i}`, label: next.step.label, changes: [] })
        log.push(step(`g${i}`, next.step.gesture))
      }
      const recalled = new History()
      recalled.recall(log)
      expect(recalled).toEqual(live)
    }
  })
})
