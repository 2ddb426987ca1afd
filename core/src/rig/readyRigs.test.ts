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

  it('becomes rows whose ids begin with its own, in the order of the room', () => {
    const rig = {
      ...READY_RIGS[2]!,
      outs: 2,
      ins: 1,
      digitalOuts: 0,
      units: [{ model: 'tape-deck', name: 'Deck', from: [2, 1], to: [1] }]
    }
    const made = rigRows(rig, 'own', 'a0').map(({ table, row: { order, ...row } }) => ({ table, ...row, has: !!order }))
    expect(made).toEqual([
      { table: 'rig', id: 'own', name: 'Plain room', has: true },
      {
        table: 'interface',
        id: 'own-io',
        rig: 'own',
        name: 'Eight by eight',
        reportedLatencySamples: 128,
        trueLatencySamples: 128,
        referenceDbu: 18,
        has: false
      },
      ...[
        ['out', 1],
        ['out', 2],
        ['in', 1]
      ].map(([direction, n]) => ({
        table: 'port',
        id: `own-io-${direction}-${n}`,
        interface: 'own-io',
        name: `Line ${direction} ${n}`,
        direction,
        signal: 'analog',
        has: true
      })),
      { table: 'unit', id: 'own-unit-1', rig: 'own', name: 'Deck', model: 'tape-deck', has: true },
      {
        table: 'cable',
        id: 'own-unit-1-to-0',
        rig: 'own',
        fromPort: 'own-io-out-2',
        toUnit: 'own-unit-1',
        toJack: 0,
        has: false
      },
      {
        table: 'cable',
        id: 'own-unit-1-to-1',
        rig: 'own',
        fromPort: 'own-io-out-1',
        toUnit: 'own-unit-1',
        toJack: 1,
        has: false
      },
      {
        table: 'cable',
        id: 'own-unit-1-from-0',
        rig: 'own',
        fromUnit: 'own-unit-1',
        fromJack: 0,
        toPort: 'own-io-in-1',
        has: false
      }
    ])
    const orders = rigRows(rig, 'own', 'a0').flatMap(r =>
      r.table === 'port' || r.table === 'unit' ? [r.row.order] : []
    )
    expect([...orders].sort()).toEqual(orders)
    expect(new Set(orders).size).toBe(4)
  })

  it('has three that are ready, each with its ports and its units’ places', () => {
    expect(READY_RIGS.map(r => [r.name, r.outs, r.ins, r.digitalOuts + r.digitalIns, r.referenceDbu])).toEqual([
      ['Re-amp room', 8, 8, 0, 18],
      ['Summing room', 20, 8, 0, 18],
      ['Plain room', 8, 8, 0, 18]
    ])
    expect(READY_RIGS.flatMap(r => r.units.map(u => [u.name, u.from, u.to]))).toEqual([
      ['Tube amplifier', [5], [5]],
      ['Valve compressor', [3, 4], [3, 4]],
      ['Summing unit', [3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15, 16, 17, 18], [3, 4, 5, 6]]
    ])
  })

  it('of two interfaces: the second has its own ports by name, and a clock that is locked or drifts', () => {
    const [room] = READY_RIGS
    const second = {
      interface: 'Expander',
      outs: 2,
      ins: 1,
      digitalOuts: 0,
      digitalIns: 1,
      referenceDbu: 20,
      reportedLatencySamples: 64,
      clock: 'free',
      driftPpm: 12
    } as const
    const made = (clock: 'free' | 'locked') =>
      applyEdit(new Sketch().session, {
        verb: 'addRows',
        args: { label: 'New rig', rows: rigRows({ ...room!, second: { ...second, clock } }, 'own', 'a0') }
      }).session
    const session = made('free')
    expect(firstBreach(session)).toBeNull()
    const ofSecond = rows(session, 'port').filter(p => p.interface === 'own-io2')
    expect(ofSecond.map(p => [p.name, p.direction, p.signal])).toEqual([
      ['Expander line out 1', 'out', 'analog'],
      ['Expander line out 2', 'out', 'analog'],
      ['Expander line in 1', 'in', 'analog'],
      ['Expander digital in 1', 'in', 'digital']
    ])
    expect(new Set(rows(session, 'port').map(p => p.order)).size).toBe(rows(session, 'port').length)
    expect(session.interface['own-io2']).toMatchObject({ clock: 'free', driftPpm: 12, referenceDbu: 20 })
    expect(made('locked').interface['own-io2']).toMatchObject({ clock: 'locked', driftPpm: 0 })
  })
})
