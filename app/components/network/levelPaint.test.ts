import { expect, it } from 'vitest'
import { levelShare } from '~/numbers/levelScale'
import { LevelPaint, type LevelMark } from './levelPaint'

type Rect = [x: number, y: number, width: number, height: number]
const INK = { signal: 'green', mean: 'ink', over: 'red' }

/**
 * A ground of bars 100 × 13 px, one every 20 px from 10 px on in each of two columns, and canvases that write down what
 * is painted.
 */
function stage(bars: number, sight = { top: 0, bottom: 20 * bars }) {
  let done: { what: string; rect: Rect; alpha: number }[] = []
  let asked = 0
  const g = {
    fillStyle: '',
    globalAlpha: 1,
    globalCompositeOperation: 'source-over',
    clearRect: (...rect: Rect) => done.push({ what: 'cleared', rect, alpha: 1 }),
    fillRect: (...rect: Rect) => done.push({ what: g.fillStyle, rect, alpha: g.globalAlpha }),
    beginPath: () => {},
    moveTo: (x: number, y: number) => done.push({ what: g.globalCompositeOperation, rect: [x, y, 0, 0], alpha: 1 }),
    lineTo: () => {},
    fill: () => {},
    setTransform: () => {}
  }
  const canvases: ReturnType<typeof canvas>[] = []
  const canvas = () => ({
    width: 0,
    height: 0,
    style: { left: '', top: '', width: '', height: '' },
    getContext: () => g
  })
  const box = (left: number, top: number, width: number, height: number) => ({ left, top, width, height })
  // With a border of a pixel above.
  const ground = { getBoundingClientRect: () => box(5, -301, 140, 20 * bars + 1), clientLeft: 0, clientTop: 1 }
  const paint = new LevelPaint(
    count => {
      canvases.length = Math.min(canvases.length, count)
      while (canvases.length < count) canvases.push(canvas())
      return canvases as unknown as HTMLCanvasElement[]
    },
    () => ground as unknown as HTMLElement,
    () => sight
  )
  const mark = (i: number, more: Partial<LevelMark> = {}, column = 0): LevelMark => ({
    element: {
      getBoundingClientRect() {
        asked++
        return box(5 + 30 + 200 * column, -300 + 10 + 20 * i, 100, 13)
      }
    } as unknown as HTMLElement,
    meter: () => `channel/${i}`,
    notches: () => [],
    shown: () => 1,
    ...more
  })
  return {
    paint,
    canvases,
    mark,
    asked: () => asked,
    /** What a painting did, by what it was done with. */
    with(levels: Record<string, number>) {
      done = []
      paint.paint(new Map(Object.entries(levels)), INK)
      return done
    }
  }
}
Object.assign(globalThis, { devicePixelRatio: 1 })

it('paints peak and mean from the left end of a bar, as far as they reach on its scale', () => {
  const { paint, mark, with: painted } = stage(3)
  paint.add(mark(1))
  const of = painted({ 'channel/1': -20, 'rms/channel/1': -30 }).filter(d => d.what !== 'cleared')
  expect(of).toEqual([
    { what: 'green', rect: [0, 35, levelShare(-20) * 100, 4], alpha: 1 },
    { what: 'ink', rect: [0, 37, levelShare(-30) * 100, 2], alpha: 0.45 }
  ])
})

it('a level over 0 dB has the colour of what is wrong; one of a dimmed strip is dimmed', () => {
  const { paint, mark, with: painted } = stage(2)
  paint.add(mark(0, { shown: () => 0.5 }))
  const [peak] = painted({ 'channel/0': 0.8 }).filter(d => d.what !== 'cleared')
  expect([peak!.what, peak!.alpha]).toEqual(['red', 0.5])
})

it('paints only what has moved by a pixel, and clears what has ended', () => {
  const { paint, mark, with: painted } = stage(2)
  paint.add(mark(0))
  paint.add(mark(1))
  painted({ 'channel/0': -20, 'channel/1': -20 })
  expect(painted({ 'channel/0': -20.1, 'channel/1': -20 })).toEqual([])
  expect(painted({ 'channel/0': -30, 'channel/1': -20 }).map(d => d.what)).toEqual(['cleared', 'green', 'ink'])
  expect(painted({ 'channel/1': -20 }).map(d => d.what)).toEqual(['cleared'])
})

it('has a canvas for each column of bars, over them alone, and none where nothing sounds', () => {
  const { paint, mark, canvases, with: painted } = stage(40)
  for (const i of [0, 1, 30]) paint.add(mark(i))
  for (const i of [10, 12]) paint.add(mark(i, {}, 1))
  expect([painted({ 'channel/30': -70 }), canvases.length]).toEqual([[], 0])
  painted({ 'channel/1': -20, 'channel/12': -20 })
  const boxes = () => canvases.map(c => [c.style.left, c.style.top, c.style.width, c.style.height])
  expect(boxes()).toEqual([
    ['30px', '0px', '100px', '768px'],
    ['230px', '0px', '100px', '512px']
  ])
  expect([painted({}), canvases.length]).toEqual([[], 0])
})

it('lets the notches of a fader show through', () => {
  const { paint, mark, with: painted } = stage(1)
  let at = 0.5
  paint.add(mark(0, { notches: () => [at] }))
  const cut = () => painted({ 'channel/0': 0 }).filter(d => d.what === 'destination-out')
  expect(cut().map(d => d.rect[0])).toEqual([50 - 4.5])
  expect(cut()).toEqual([])
  at = 0.6
  expect(cut().map(d => d.rect[0])).toEqual([60 - 4.5])
})

it('lies over what is in sight, and asks where bars are only when they may have moved', () => {
  const sight = { top: 1000, bottom: 1400 }
  const { paint, canvases, mark, asked, with: painted } = stage(200, sight)
  const takeOut = Array.from({ length: 200 }, (_, i) => paint.add(mark(i)))
  const all = Object.fromEntries(Array.from({ length: 200 }, (_, i) => [`channel/${i}`, -20]))
  const peaks = () => painted(all).filter(d => d.what === 'green').length
  const first = peaks()
  expect(first).toBeGreaterThanOrEqual(20)
  expect(first).toBeLessThan(60)
  const [canvas] = canvases as [(typeof canvases)[0]]
  expect(parseFloat(canvas.style.top)).toBeLessThanOrEqual(1000)
  expect(parseFloat(canvas.style.top) + canvas.height).toBeGreaterThanOrEqual(1400)
  expect(asked()).toBe(200)
  expect([peaks(), asked()]).toEqual([0, 200])
  const { width, height } = canvas
  for (const [by, known] of [
    [10, true],
    [500, true],
    [-300, true],
    [0, false]
  ] as const) {
    sight.top += by
    sight.bottom += by
    if (!known) paint.moved()
    const before = asked()
    expect([peaks() >= 20, asked() - before]).toEqual([Math.abs(by) > 256 || !known, known ? 0 : 200])
    expect([canvas.width, canvas.height]).toEqual([width, height])
    expect(parseFloat(canvas.style.top)).toBeLessThanOrEqual(sight.top)
    expect(parseFloat(canvas.style.top) + height).toBeGreaterThanOrEqual(sight.bottom)
  }
  takeOut.forEach(out => out())
  expect(peaks()).toBe(0)
})
