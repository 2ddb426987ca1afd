// Operations that share a kernel's lanes: the same samples however many run beside one another.
import { describe, expect, it } from 'vitest'
import { compile } from '../compile/compile'
import type { Params } from '../session/rows'
import { Dice } from '../testing/generated'
import { times } from '../testing/lengths'
import { Sketch } from '../testing/sketch'
import { renderTaps, whiteNoise } from '../testing/sound'
import { schedule } from './schedule'

const FRAMES = 4000,
  MOST = 9
const media = Object.fromEntries(
  Array.from({ length: MOST }, (_, i) => [`m${i}`, [whiteNoise(FRAMES, i + 1, 0.3 + i / 20)]])
)

/** So many tracks of one leg, with slots that `fill` gives them. */
function tracks(count: number, fill: (k: Sketch, track: string, i: number) => void = chain) {
  const k = new Sketch()
  k.bus('main', { role: 'main' })
  for (let i = 0; i < count; i++) {
    k.medium(`m${i}`, 1, FRAMES)
    k.main(k.track(`t${i}`, `m${i}`, { layout: ['M'] }), 'main')
    fill(k, `t${i}`, i)
  }
  return k.session
}

function chain(k: Sketch, track: string, i: number) {
  k.slot(track, 'equaliser', { kind1: 'bell', hz1: 200 + 300 * i, db1: 6, kind2: 'low shelf', db2: -3 })
  k.slot(track, 'compressor', { thresholdDb: -20 - i, ratio: 2 + i, attackMs: 1 + i, releaseMs: 40 + 10 * i })
}

/** An equaliser of three bands, of which some move, for some of the time. */
const filter = (dice: Dice) => (k: Sketch, track: string) => {
  const settings: Params = {}
  for (let n = 1; n <= 3; n++) {
    settings[`kind${n}`] = dice.pick(['bell', 'low shelf', 'high shelf', 'notch'])
    settings[`db${n}`] = dice.next() * 24 - 12
    settings[`hz${n}`] = 100 * 2 ** (6 * dice.next())
  }
  const slot = k.slot(track, 'equaliser', settings)
  for (const field of dice.some(['db1', 'db2', 'hz2', 'db3', 'q3'], dice.below(4))) {
    const value = () => (field.startsWith('hz') ? 500 + 5000 * dice.next() : 0.2 + 8 * dice.next())
    const [at, to] = [dice.below(FRAMES), dice.below(FRAMES)].sort((a, b) => a - b)
    k.move({ slot }, field, [
      [at!, value()],
      [to! + 1, value()]
    ])
  }
}

describe('operations side by side', () => {
  it('give each the same samples as alone, for any number of them', async () => {
    const alone: Float32Array[] = []
    for (let i = 0; i < MOST; i++) {
      const s = tracks(MOST)
      for (let n = 0; n < MOST; n++) if (n !== i) s.channel[`t${n}`] = { ...s.channel[`t${n}`]!, parked: true }
      const taps = [{ channel: `t${i}`, tap: 'pre' as const }]
      alone.push((await renderTaps(s, media, FRAMES, { taps })).get(`t${i}@pre`)![0]!)
    }
    for (let count = 1; count <= MOST; count++) {
      const taps = Array.from({ length: count }, (_, i) => ({ channel: `t${i}`, tap: 'pre' as const }))
      const together = await renderTaps(tracks(count), media, FRAMES, { taps })
      for (let i = 0; i < count; i++) expect(together.get(`t${i}@pre`)![0], `${i} of ${count}`).toEqual(alone[i])
    }
  })

  it.each(Array.from({ length: times(6, 100) }, (_, i) => i + 1))(
    'give each filter the same samples as alone, whatever moves in which of them: seed %i',
    async seed => {
      const session = tracks(MOST, filter(new Dice(seed)))
      const taps = (ids: string[]) => ({ taps: ids.map(id => ({ channel: id, tap: 'pre' as const })) })
      const ids = Array.from({ length: MOST }, (_, i) => `t${i}`)
      const together = await renderTaps(session, media, FRAMES, taps(ids))
      for (const id of ids) {
        const alone = await renderTaps(session, media, FRAMES, taps([id]))
        expect(together.get(`${id}@pre`), id).toEqual(alone.get(`${id}@pre`))
      }
    }
  )

  it('share lanes: four detectors, two legs of a filter; what is left over has lanes of its own', () => {
    const taps = [{ channel: 'main', tap: 'post' as const }]
    const { steps } = schedule(compile(tracks(MOST), { taps }).ops)
    const widths = (kind: string) =>
      steps.filter(s => s.lanes[0]!.kind === kind).map(s => [s.lanes.length, s.width, s.ins.length, s.outs.length])
    expect(widths('compressor')).toEqual([
      [4, 4, 4, 4],
      [4, 4, 4, 4],
      [1, 2, 2, 2]
    ])
    expect(widths('equaliser').at(-1)).toEqual([1, 2, 2, 2])
    expect(widths('mix').every(([lanes]) => lanes === 1)).toBe(true)
  })
})
