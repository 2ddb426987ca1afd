import { describe, expect, it } from 'vitest'
import { applyEdit } from '../edits/apply'
import { firstBreach } from '../invariants/index'
import { rows } from '../session/session'
import { Sketch } from '../testing/sketch'
import { READY_RIGS, rigRows } from './readyRigs'
import { UNITS } from './units'

describe('a rig described in few words', () => {
  it.each(READY_RIGS.map(r => [r.name, r] as const))('%s: every jack is cabled, no rule is broken', (_, rig) => {
    const { session } = applyEdit(new Sketch().session, {
      verb: 'addRows',
      args: { label: 'New rig', rows: rigRows(rig, 'own', 'a0') }
    })
    expect(firstBreach(session)).toBeNull()
    const ports = rows(session, 'port')
    expect(ports.filter(p => p.direction === 'out')).toHaveLength(rig.outs)
    expect(ports.filter(p => p.direction === 'in')).toHaveLength(rig.ins)
    for (const unit of rows(session, 'unit')) {
      const model = UNITS[unit.model]!
      const cables = rows(session, 'cable')
      expect(cables.filter(c => c.toUnit === unit.id)).toHaveLength(model.inputs.length)
      expect(cables.filter(c => c.fromUnit === unit.id)).toHaveLength(model.outputs.length)
    }
  })

  it('has digital ports after its line ports, and what its driver says', () => {
    const rig = { ...READY_RIGS[2]!, outs: 2, ins: 1, digitalOuts: 1, digitalIns: 2, reportedLatencySamples: 64 }
    const { session } = applyEdit(new Sketch().session, {
      verb: 'addRows',
      args: { label: 'New rig', rows: rigRows(rig, 'own', 'a0') }
    })
    const names = rows(session, 'port').map(p => `${p.name}, ${p.signal}`)
    expect(new Set(names)).toEqual(
      new Set([
        'Line out 1, analog',
        'Line out 2, analog',
        'Digital out 1, digital',
        'Line in 1, analog',
        'Digital in 1, digital',
        'Digital in 2, digital'
      ])
    )
    expect(session.interface['own-io']!.reportedLatencySamples).toBe(64)
  })
})
