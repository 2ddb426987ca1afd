import { effectScope, nextTick, ref, watchEffect } from 'vue'
import { expect, it } from 'vitest'
import { Dice } from '@nullet/core/testing/generated'
import { AT_ONCE, Resting } from './resting'

/** A Map whose strips show a number, and count how often they do. */
function map() {
  const idle: (() => void)[] = []
  const resting = new Resting(act => idle.push(act))
  const number = ref(0)
  const strips = new Map<string, { shows: number; times: number; out: () => void }>()
  /** As a Map does: what there is is drawn, what is gone is taken out. */
  function draw(): void {
    for (const [id, strip] of strips)
      if (!resting.made.value.has(id)) {
        strip.out()
        strips.delete(id)
      }
    for (const id of resting.made.value) {
      if (strips.has(id)) continue
      const strip = { shows: NaN, times: 0, out: () => {} },
        scope = effectScope(true)
      scope.run(() =>
        watchEffect(() => {
          strip.shows = number.value
          strip.times++
        })
      )
      const takeOut = resting.take(id, [scope])
      strip.out = () => {
        takeOut()
        scope.stop()
      }
      strips.set(id, strip)
    }
  }
  const see = (all: string[], near: string[]) => {
    resting.see(all, new Set(near))
    draw()
    return nextTick()
  }
  /** Until there is nothing left to do. @returns how often there was something */
  async function rest(): Promise<number> {
    let turns = 0
    for (; idle.length; turns++) {
      idle.shift()!()
      await nextTick()
      await nextTick()
      draw()
    }
    return turns
  }
  return { resting, number, strips, see, rest, idle }
}
const ids = (count: number) => Array.from({ length: count }, (_, i) => `s${i}`)

it('what is in sight is made at once, the rest some by some when there is nothing else to do', async () => {
  const { strips, see, rest } = map()
  await see(ids(20), ['s3', 's4'])
  expect([...strips.keys()]).toEqual(['s3', 's4'])
  expect(await rest()).toBe(Math.ceil(18 / AT_ONCE))
  expect([...strips.keys()].sort()).toEqual(ids(20).sort())
})

it('out of sight nothing is worked out, until it comes into sight or there is time', async () => {
  const { resting, number, strips, see, rest } = map(),
    all = ids(6)
  await see(all, ['s0', 's1'])
  await rest()
  const times = () => all.map(id => strips.get(id)!.times)
  number.value = 1
  await nextTick()
  expect(times()).toEqual([2, 2, 1, 1, 1, 1])
  await see(all, ['s1', 's2'])
  expect(times()).toEqual([2, 2, 2, 1, 1, 1])
  number.value = 2
  await nextTick()
  expect(times()).toEqual([2, 3, 3, 1, 1, 1])
  resting.changed()
  expect(await rest()).toBe(2)
  expect(all.map(id => strips.get(id)!.shows)).toEqual([2, 2, 2, 2, 2, 2])
  number.value = 3
  await nextTick()
  expect(times()).toEqual([3, 4, 4, 2, 2, 2])
})

it('whatever comes, goes and changes: what is in sight is there and shows what is; what is gone is not', async () => {
  const { resting, number, strips, see, rest, idle } = map(),
    dice = new Dice(78)
  for (let turn = 0; turn < 300; turn++) {
    const all = ids(30).filter(() => dice.chance(0.8)),
      from = dice.below(25),
      near = all.slice(from, from + dice.below(8))
    await see(all, near)
    if (dice.chance(0.5)) {
      number.value++
      resting.changed()
      await nextTick()
    }
    for (const id of near) expect(strips.get(id)!.shows).toBe(number.value)
    expect([...strips.keys()].every(id => all.includes(id))).toBe(true)
    if (dice.chance(0.3)) {
      await rest()
      expect([...strips.keys()].sort()).toEqual([...all].sort())
      for (const strip of strips.values()) expect(strip.shows).toBe(number.value)
    } else if (idle.length && dice.chance(0.5)) {
      // A hand comes in between.
      idle.shift()!()
    }
  }
})
