// Width: middle and side of each left and right pair set against each other. L' = (L + R)/2 + w·(L − R)/2, and R'
// likewise.
import type { Processor } from './processor'

const PAIRS = [
  ['L', 'R'],
  ['Ls', 'Rs']
] as const

export const width: Processor = {
  id: 'width',
  label: 'Width',
  version: 1,
  keyed: false,
  linear: true,
  parameters: [{ name: 'width', label: 'Width', unit: '%', min: 0, max: 200, initial: 100 }],
  build(signal, { builder, key, params }) {
    const w = (params.width as number) / 100,
      near = (1 + w) / 2,
      far = (1 - w) / 2
    const legs = [...signal.legs]
    for (const [left, right] of PAIRS) {
      const [l, r] = [signal.layout.indexOf(left), signal.layout.indexOf(right)]
      if (l < 0 || r < 0) continue
      legs[l] = builder.mix(`${key}/${left}`, [
        { leg: signal.legs[l], gain: near },
        { leg: signal.legs[r], gain: far }
      ])
      legs[r] = builder.mix(`${key}/${right}`, [
        { leg: signal.legs[l], gain: far },
        { leg: signal.legs[r], gain: near }
      ])
    }
    return { ...signal, legs }
  }
}
