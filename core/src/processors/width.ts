// Width: middle and side of each left and right pair set against each other. L' = (L + R)/2 + w·(L − R)/2, and R'
// likewise.
import { pairsIn } from '../session/speakers'
import type { Processor } from './processor'

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
    for (const [l, r] of pairsIn(signal.layout)) {
      legs[l] = builder.mix(`${key}/${signal.layout[l]}`, [
        { leg: signal.legs[l], gain: near },
        { leg: signal.legs[r], gain: far }
      ])
      legs[r] = builder.mix(`${key}/${signal.layout[r]}`, [
        { leg: signal.legs[l], gain: far },
        { leg: signal.legs[r], gain: near }
      ])
    }
    return { ...signal, legs }
  }
}
