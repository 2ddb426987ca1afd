import { describe, expect, it } from 'vitest'
import { PROCESSORS, settingsOf } from '@nullet/core/processors/table'
import type { Params } from '@nullet/core/session/rows'
import { CURVES, makeupOf, showsReduction } from './curves'

const out = (id: string, db: number, params: Params = {}) => CURVES[id]!.out(db, settingsOf(PROCESSORS[id]!, params))

describe('curves of the rail', () => {
  it('follow the processors that they stand for', () => {
    expect(out('compressor', 0, { thresholdDb: -20, ratio: 4, kneeDb: 0 })).toBeCloseTo(-15, 9)
    expect([out('gate', -50, { thresholdDb: -40, rangeDb: 30 }), out('gate', -30, { thresholdDb: -40 })]).toEqual([
      -80, -30
    ])
    expect([out('limiter', -20, { driveDb: 6 }), out('limiter', -3, { driveDb: 6, ceilingDb: -1 })]).toEqual([-14, -1])
    expect(out('saturation', -80)).toBeCloseTo(-80, 1)
    expect(out('saturation', 0, { driveDb: 0 })).toBeCloseTo(-3.01, 2)
  })
  it('know which processors turn level down', () => {
    expect(Object.keys(PROCESSORS).filter(showsReduction).sort()).toEqual(['compressor', 'ducker', 'gate', 'limiter'])
    expect([makeupOf({ makeupDb: 3 }), makeupOf({})]).toEqual([3, 0])
  })
})
