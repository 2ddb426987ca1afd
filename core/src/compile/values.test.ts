// A value that changes in a plan that runs: its operations are what a new plan would have, whatever was changed before.
import { describe, expect, it } from 'vitest'
import { isPlaced, type Op } from '../plan/operations'
import type { TableName } from '../session/rows'
import { rows, withChanges, type Session } from '../session/session'
import { Dice } from '../testing/generated'
import { carriedOut } from '../testing/carriedOut'
import { generatedEdit } from '../testing/generatedEdits'
import { demoLike } from '../testing/demoLike'
import { Sketch } from '../testing/sketch'
import { times } from '../testing/lengths'
import { compile } from './compile'
import type { CompileOptions, Plan } from './plan'
import { RunningPlan } from './values'

const LIVE: CompileOptions = { taps: [], live: true, heard: { channel: 'main', latency: 8192 } }

/** What the operations of a plan do, whatever their buffers are called. */
function saying(ops: readonly Op[]): Map<string, string> {
  const legs = new Map(ops.flatMap(op => op.outs.map((leg, i): [number, string] => [leg, `${op.key} ${i}`])))
  return new Map(
    ops.map(op => [
      op.key,
      JSON.stringify([op.kind, op.ins.map(leg => legs.get(leg)), op.params.slice(isPlaced(op) ? 1 : 0), op.state])
    ])
  )
}

function network(): Session {
  const k = new Sketch('Values')
  k.bus('main', { role: 'main' })
  k.bus('drums')
  k.bus('hall', { role: 'return' })
  k.medium('m', 1, 4800)
  k.medium('n', 2, 4800)
  k.track('t', 'm')
  k.track('u', 'n')
  k.track('led', 'm')
  for (const id of ['t', 'u']) k.main(id, 'drums')
  for (const id of ['drums', 'hall', 'led']) k.main(id, 'main')
  k.add('feed', { id: 'send', kind: 'send', from: 't', to: 'hall', levelDb: -9 })
  k.add('slot', { id: 'eq', channel: 'drums', processor: 'equaliser', params: { kind1: 'bell', db1: 4, hz1: 900 } })
  k.add('slot', { id: 'comp', channel: 'u', processor: 'compressor', params: { thresholdDb: -30 }, keyLowCutHz: 90 })
  k.add('slot', { id: 'room', channel: 'hall', processor: 'reverb', params: { decayS: 2 }, mix: 0.5 })
  k.add('slot', { id: 'stop', channel: 'main', processor: 'limiter', params: { ceilingDb: -1 } })
  k.add('slot', { id: 'moved', channel: 'led', processor: 'equaliser', params: { kind1: 'bell', db1: 1 } })
  k.add('envelope', { id: 'e', slot: 'moved', field: 'db1', points: [[0, -3]] })
  k.add('envelope', { id: 'ride', channel: 'led', field: 'levelDb', points: [[0, -3]] })
  k.add('envelope', { id: 'turn', channel: 'led', field: 'pan', points: [[0, 0.2]] })
  k.add('feed', { id: 'key', kind: 'key', from: 't', slot: 'comp', tap: 'pre' })
  k.session.session.session.heardChannel = 'main'
  return k.session
}

/** With a room: a DI through an amplifier, a loop in a slot, stems into a sum, a route inside the interface. */
function withRoom(): Session {
  const k = new Sketch('Room')
  k.bus('main', { role: 'main' })
  k.medium('m', 1, 4800)
  for (const id of ['di', 'voice', 'bells']) k.main(k.track(id, 'm'), 'main')
  k.rig('r')
  k.interface('io', 'r', 6, 6, { trueLatencySamples: 31.4 })
  k.unit('amp', 'r', 'tube-amplifier')
  k.unit('eq', 'r', 'passive-equaliser')
  k.unit('sum', 'r', 'summing-8')
  k.unit('who', 'r', 'player', {}, { plays: 'm' })
  k.cable('r', 'io-out-1', 'amp:0', { id: 'to-amp' })
  k.cable('r', 'amp:0', 'io-in-1')
  k.cable('r', 'io-out-2', 'eq:0')
  k.cable('r', 'eq:0', 'io-in-2')
  k.cable('r', 'io-out-3', 'sum:0')
  k.cable('r', 'io-out-4', 'sum:1')
  k.cable('r', 'who:0', 'sum:2')
  k.cable('r', 'sum:0', 'io-in-3')
  k.cable('r', 'sum:1', 'io-in-4')
  k.add('cable', { id: 'route', rig: 'r', fromPort: 'io-in-2', toPort: 'io-out-4', inside: true, levelDb: -20 })
  k.add('feed', { id: 'dry', kind: 'port', from: 'di', ports: ['io-out-1'], tap: 'input', levelDb: -6 })
  k.track('amped')
  k.main('amped', 'main')
  k.add('feed', { id: 'mic', kind: 'input', to: 'amped', ports: ['io-in-1'] })
  k.session.channel.amped.listen = 'feed'
  k.add('loop', { id: 'l', rig: 'r', name: 'Eq', outPorts: ['io-out-2'], inPorts: ['io-in-2'] })
  k.add('slot', { id: 'looped', channel: 'voice', processor: 'loop', loop: 'l', mix: 0.7 })
  k.add('feed', { id: 'stem', kind: 'port', from: 'bells', ports: ['io-out-3', 'io-out-4'] })
  k.bus('back')
  k.main('back', 'main')
  k.add('feed', { id: 'sum-in', kind: 'input', to: 'back', ports: ['io-in-3', 'io-in-4'] })
  k.session.session.session.heardChannel = 'main'
  k.session.session.session.rig = 'r'
  return k.session
}

function change(s: Session, table: TableName, id: string, fields: object) {
  const before = (s[table] as Record<string, object>)[id]!
  const changes = [{ table, id, before, after: { ...before, ...fields } }]
  return { session: withChanges(s, changes), changes }
}

describe('a value in a plan that runs', () => {
  it.each<[TableName, string, object, number]>([
    ['channel', 't', { levelDb: -6 }, 1],
    ['channel', 'led', { levelDb: -6 }, 1],
    ['channel', 't', { muted: true }, 1],
    ['channel', 't', { trimDb: -3 }, 1],
    ['channel', 'u', { flippedLegs: [1] }, 1],
    ['channel', 'u', { mutedLegs: [0] }, 1],
    ['channel', 't', { pan: 0.3 }, 1],
    // At the very end a leg comes to nothing in one leg of what it is placed in.
    ['channel', 't', { pan: -1 }, 1],
    ['channel', 'u', { pan: 1 }, 1],
    ['channel', 'u', { pan: -1 }, 1],
    ['channel', 'drums', { trimDb: 2 }, 1],
    ['channel', 'main', { name: 'All', colour: 3, family: 'x' }, 0],
    ['feed', 'send', { levelDb: -3 }, 1],
    ['feed', 'send', { pan: 0.2 }, 1],
    ['feed', 'send', { muted: true }, 1],
    ['feed', 'key', { levelDb: -3 }, 1],
    ['slot', 'eq', { params: { kind1: 'bell', db1: -4, hz1: 1200 } }, 1],
    ['slot', 'comp', { params: { thresholdDb: -12, ratio: 8 } }, 1],
    ['slot', 'comp', { keyLowCutHz: 200 }, 1],
    ['slot', 'comp', { mix: 0.4 }, 1],
    ['slot', 'room', { params: { decayS: 3 } }, 1],
    ['slot', 'stop', { params: { ceilingDb: -3 } }, 1],
    [
      'envelope',
      'ride',
      {
        points: [
          [0, -9],
          [4800, -3]
        ]
      },
      1
    ],
    ['envelope', 'turn', { points: [[0, -0.6]] }, 1],
    ['session', 'session', { heardLevelDb: -12 }, 1]
  ])('%s %s: %j is written into it', (table, id, fields, least) => {
    const before = network(),
      running = new RunningPlan(before, LIVE),
      count = running.plan.ops.length
    const { session, changes } = change(before, table, id, fields)
    const written = running.changed(session, changes)!
    expect(written.length).toBeGreaterThanOrEqual(least)
    expect(written.length).toBeLessThan(20)
    expect(running.plan.ops).toHaveLength(count)
    expect(saying(running.plan.ops)).toEqual(saying(compile(session, LIVE).ops))
    // The same once more writes nothing.
    expect(running.changed(session, changes)).toEqual([])
  })

  it.each<[TableName, string, object]>([
    ['feed', 'dry', { levelDb: -12 }],
    ['feed', 'dry', { muted: true }],
    ['feed', 'stem', { levelDb: -3, pan: 0.4 }],
    ['feed', 'stem', { pan: -1 }],
    ['feed', 'mic', { levelDb: -3 }],
    ['channel', 'bells', { muted: true }],
    ['loop', 'l', { sendDb: -4 }],
    ['loop', 'l', { returnDb: 3, inverted: true }],
    ['slot', 'looped', { mix: 0.2 }],
    ['port', 'io-out-3', { trimDb: 0.4 }],
    ['cable', 'route', { levelDb: -9 }],
    ['cable', 'to-amp', { inverts: true }],
    ['unit', 'amp', { settings: { driveDb: 9, trebleDb: 2 } }],
    ['unit', 'eq', { settings: { lowDb: 5, highDb: 2, airDb: 3 } }],
    ['unit', 'sum', { settings: { outputDb: -6, monitorDb: -3 } }],
    ['unit', 'who', { settings: { levelDbu: -3 } }]
  ])('of the rig, %s %s: %j is written into it', (table, id, fields) => {
    const before = withRoom(),
      running = new RunningPlan(before, LIVE),
      count = running.plan.ops.length
    const { session, changes } = change(before, table, id, fields)
    const written = running.changed(session, changes)
    expect(written?.length).toBeGreaterThan(0)
    expect(running.plan.ops).toHaveLength(count)
    expect(saying(running.plan.ops)).toEqual(saying(compile(session, LIVE).ops))
    expect(running.changed(session, changes)).toEqual([])
    // What is written next starts from there.
    const { session: again, changes: back } = change(session, table, id, before[table][id] as object)
    expect(running.changed(again, back)!.length).toBe(written!.length)
    expect(saying(running.plan.ops)).toEqual(saying(compile(before, LIVE).ops))
  })

  it.each<[TableName, string, object]>([
    ['unit', 'amp', { powered: false }],
    ['unit', 'who', { plays: null }],
    ['cable', 'route', { levelDb: null }],
    ['interface', 'io', { trueLatencySamples: 40 }],
    ['feed', 'stem', { ports: ['io-out-3'] }]
  ])('of the rig, %s %s: %j is another plan', (table, id, fields) => {
    const before = withRoom(),
      running = new RunningPlan(before, LIVE)
    const { session, changes } = change(before, table, id, fields)
    expect(running.changed(session, changes)).toBeNull()
  })

  it.each<[TableName, string, object]>([
    ['channel', 't', { soloed: true }],
    ['channel', 't', { parked: true }],
    ['channel', 't', { lowCutHz: 90 }],
    ['slot', 'eq', { state: 'off' }],
    ['slot', 'eq', { params: { kind1: 'bell', db1: 4, hz1: 900, kind2: 'bell', db2: 3 } }],
    ['slot', 'comp', { keyLowCutHz: null }],
    ['slot', 'comp', { params: { thresholdDb: -30, lookAheadMs: 4 } }],
    ['slot', 'stop', { params: { ceilingDb: -1, lookAheadMs: 5 } }],
    ['feed', 'send', { to: 'main' }],
    // Room is made for eight points, then for twice as many.
    ['envelope', 'ride', { points: Array.from({ length: 9 }, (_, i) => [i * 100, -i]) }],
    ['session', 'session', { tempo: [[0, 90]] }],
    ['session', 'session', { heardAs: 'mono' }],
    ['session', 'session', { heardChannel: 'drums' }]
  ])('%s %s: %j is another plan', (table, id, fields) => {
    const before = network(),
      running = new RunningPlan(before, LIVE)
    const { session, changes } = change(before, table, id, fields)
    expect(running.changed(session, changes)).toBeNull()
  })

  it('of a slot that an envelope moves: what is beside the envelope is written, and it goes on from there', () => {
    const before = network(),
      running = new RunningPlan(before, LIVE),
      { moves } = running.plan
    const { session, changes } = change(before, 'slot', 'moved', { params: { kind1: 'bell', db1: 1, hz1: 400 } })
    expect(running.changed(session, changes)!.length).toBeGreaterThan(0)
    const anew = compile(session, LIVE)
    expect(saying(running.plan.ops)).toEqual(saying(anew.ops))
    // The same list, which whoever plays it holds, with another entry.
    expect(running.plan.moves).toBe(moves)
    expect(running.plan.moves).toEqual(anew.moves)
  })

  it('the points of an envelope in a slot are followed from the next block on', () => {
    const before = network(),
      running = new RunningPlan(before, LIVE)
    const { session, changes } = change(before, 'envelope', 'e', { points: [[0, 5]] })
    expect(running.changed(session, changes)).not.toBeNull()
    const fields = (plan: Plan) => plan.moves.map(m => m.fields.map(f => [f.name, f.points]))
    expect(fields(running.plan)).toEqual(fields(compile(session, LIVE)))
  })

  it('rows that come or go are another plan', () => {
    const before = network(),
      running = new RunningPlan(before, LIVE)
    const gone = [{ table: 'feed' as const, id: 'send', before: before.feed.send, after: null }]
    expect(running.changed(withChanges(before, gone), gone)).toBeNull()
  })

  it('after any history of generated edits is what a new plan has', () => {
    let written = 0,
      compiled = 0
    for (let seed = 1; seed <= times(12, 200); seed++) {
      const dice = new Dice(seed)
      let session = seed % 2 ? network() : demoLike().session,
        serial = 0
      const heard = rows(session, 'channel').find(c => c.role === 'main')!.id
      const live: CompileOptions = { ...LIVE, heard: { channel: heard, latency: 16384 } }
      let running = new RunningPlan(session, live)
      for (let n = 0; n < 40; n++) {
        const done = carriedOut(
          session,
          generatedEdit(dice, session, () => `n${seed}-${++serial}`)
        )
        if (!done) continue
        const { changes } = done
        session = done.session
        if (!session.channel[heard]) break
        if (running.changed(session, changes)) {
          written++
          expect(saying(running.plan.ops), `seed ${seed}, edit ${n}`).toEqual(saying(compile(session, live).ops))
        } else {
          compiled++
          running = new RunningPlan(session, live)
        }
      }
    }
    expect(written).toBeGreaterThan(30)
    expect(compiled).toBeGreaterThan(30)
  }, 120_000)
})
