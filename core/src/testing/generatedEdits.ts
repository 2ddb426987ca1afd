// Edits as hands make them, in any order, the same for the same seed: for histories and for tests of rules. Most can be
// carried out; some cannot, as in life.
import { PROCESSORS } from '../processors/table'
import { UNITS } from '../rig/units'
import { mayJoin } from '../propose/pairs'
import type { Dice } from './generated'
import { bus, db, isMono, newIds, one, order, ports, some, type Hand, type NewId } from './hand'
import { AUDIO_VERBS, type Verbs } from './generatedAudioEdits'
import { RIG_TABLES } from '../session/rigDocument'
import { rowsOfRig } from '../session/rigRows'
import { TAPS } from '../session/rows'
import { inverse, rows, type RowChange, type Session } from '../session/session'

export interface GeneratedEdit {
  verb: string
  args: Record<string, unknown>
}

const setting = (
  hand: Hand,
  list: readonly { name: string; choices?: readonly string[]; min?: number; max?: number; medium?: true }[]
) => {
  const p = list[hand.dice.below(list.length)]
  if (!p) return {}
  return { [p.name]: p.choices ? hand.dice.pick(p.choices) : p.min! + hand.dice.next() * (p.max! - p.min!) }
}

const end = (hand: Hand, side: 'from' | 'to') =>
  hand.dice.chance(0.5) || !rows(hand.session, 'unit').length
    ? { port: one(hand, 'port', (p: { direction: string }) => (p.direction === 'out') === (side === 'from')) }
    : { unit: one(hand, 'unit'), jack: hand.dice.below(2) }

/** Arguments for each verb, from what is there. */
const VERBS: Verbs = {
  ...AUDIO_VERBS,
  createBus: h => ({
    id: h.newId(),
    name: `Bus ${h.dice.below(100)}`,
    role: h.dice.pick(['submix', 'return', 'stem'] as const),
    order: order(h),
    to: bus(h),
    feedId: h.newId(),
    ...(h.dice.chance(0.3) ? { slot: { id: h.newId(), processor: 'reverb', params: {} } } : {})
  }),
  createSubmix: h => {
    const members = some(h, 'channel', 3)
    return {
      id: h.newId(),
      name: 'Together',
      order: order(h),
      members,
      to: bus(h),
      feedIds: newIds(h, members.length + 1)
    }
  },
  createChannels: h => ({
    channels: Array.from({ length: 1 + h.dice.below(3) }, (_, i) => ({
      id: h.newId(),
      name: `New ${i}`,
      order: order(h),
      feedId: h.newId()
    })),
    role: h.dice.pick(['track', 'submix'] as const),
    layout: ['L', 'R'],
    to: bus(h)
  }),
  removeChannels: h => ({ ids: some(h, 'channel', 2), ...(h.dice.chance(0.3) ? { to: bus(h) } : {}) }),
  duplicateChannels: h => ({
    copies: [{ of: one(h, 'channel'), id: h.newId(), name: 'Copy', order: order(h) }],
    along: h.dice.some(['clips', 'slots', 'main', 'sends', 'keys', 'arriving', 'envelopes'], 5)
  }),
  joinTracks: h => {
    const tries = Array.from({ length: 4 }, () => one(h, 'channel', isMono)).map(left => ({
      left,
      right: one(h, 'channel', (c: { id: string }) => !mayJoin(h.session, left, c.id))
    }))
    const { left, right } = tries.find(t => t.right !== 'nobody') ?? tries[0]!
    return { pairs: [{ left, right, name: 'Both' }] }
  },
  splitTracks: h => {
    const id = one(h, 'channel', (c: { kind: string; layout: string[] }) => c.kind === 'track' && c.layout.length > 1),
      legs = h.session.channel[id]?.layout.length ?? 2
    return { tracks: [{ id, others: Array.from({ length: legs - 1 }, () => ({ id: h.newId(), order: order(h) })) }] }
  },
  renameChannels: h => ({ names: [{ id: one(h, 'channel'), name: `Name ${h.dice.below(1000)}` }] }),
  setChannels: h => ({
    ids: some(h, 'channel', 4),
    fields: h.dice.pick([
      { levelDb: db(h) },
      { muted: h.dice.chance(0.5) },
      { soloed: h.dice.chance(0.5) },
      { pan: h.dice.next() * 2 - 1 },
      { colour: h.dice.below(12) },
      { trimDb: db(h) },
      { parked: h.dice.chance(0.2) },
      { flippedLegs: [h.dice.below(3)] },
      { reference: h.dice.chance(0.3) ? null : one(h, 'channel') }
    ])
  }),
  setLayout: h => ({
    ids: [one(h, 'channel')],
    layout: h.dice.pick([['M'], ['L', 'R'], ['L', 'R', 'C'], ['L', 'L']]),
    dropping: h.dice.chance(0.7)
  }),
  moveLevels: h => ({ ids: some(h, 'channel', 3), byDb: h.dice.below(13) - 6 }),
  moveGain: h => ({ bus: bus(h), byDb: h.dice.below(7) - 3, into: h.dice.pick(['level', 'trim'] as const) }),
  setMainFeed: h => {
    const ids = some(h, 'channel', 3)
    return {
      ids,
      to: h.dice.chance(0.15) ? null : h.dice.chance(0.1) ? one(h, 'channel') : bus(h),
      feedIds: newIds(h, ids.length)
    }
  },
  addMainFeed: h => ({ ids: [one(h, 'channel')], to: bus(h), feedIds: newIds(h, 1) }),
  addSend: h => ({
    ids: [one(h, 'channel')],
    to: h.dice.chance(0.1) ? one(h, 'channel') : bus(h),
    tap: h.dice.pick(TAPS),
    levelDb: db(h),
    feedIds: newIds(h, 1)
  }),
  addKey: h => ({ ids: [one(h, 'channel')], slot: one(h, 'slot'), feedIds: newIds(h, 1) }),
  silentTrigger: h => ({ ids: [one(h, 'channel')], slot: one(h, 'slot'), feedIds: newIds(h, 1) }),
  addPortFeed: h => {
    const direction = h.dice.pick(['out', 'in'] as const)
    return { feedId: h.newId(), channel: one(h, 'channel'), ports: ports(h, direction), direction }
  },
  setFeeds: h => ({
    ids: some(h, 'feed', 3),
    fields: h.dice.pick([
      { levelDb: db(h) },
      { tap: h.dice.pick(TAPS) },
      { muted: h.dice.chance(0.5) },
      { to: one(h, 'channel') },
      { ports: ports(h, 'out') }
    ])
  }),
  removeFeeds: h => ({ ids: some(h, 'feed', 2) }),
  writeCrosspoints: h => ({
    cells: [
      {
        from: one(h, 'channel'),
        to: h.dice.pick([{ bus: bus(h) }, { slot: one(h, 'slot') }, { port: one(h, 'port') }]),
        write: h.dice.pick(['main', 'also', 'post', 'pre', 'none'] as const),
        feedId: h.newId()
      }
    ]
  }),
  addSlot: h => {
    const loop = h.dice.chance(0.2) ? one(h, 'loop') : null,
      processor = loop ? 'loop' : h.dice.pick(Object.keys(PROCESSORS))
    return {
      id: h.newId(),
      channel: one(h, 'channel'),
      processor,
      loop,
      order: order(h),
      afterFader: h.dice.chance(0.3)
    }
  },
  setSlot: h => {
    const id = one(h, 'slot'),
      p = PROCESSORS[h.session.slot[id]?.processor ?? '']
    return {
      id,
      fields: h.dice.pick([
        { mix: h.dice.next() },
        { state: h.dice.pick(['on', 'bypassed', 'off'] as const) },
        { params: setting(h, p?.parameters ?? []) },
        { params: { decayS: 1e9 } }
      ])
    }
  },
  moveSlot: h => ({
    id: one(h, 'slot'),
    channel: one(h, 'channel'),
    order: order(h),
    afterFader: h.dice.chance(0.3),
    ...(h.dice.chance(0.3) ? { copy: h.newId() } : {})
  }),
  removeSlot: h => ({ id: one(h, 'slot') }),
  setLoop: h =>
    h.dice.chance(0.4)
      ? {
          id: h.newId(),
          rig: one(h, 'rig'),
          fields: { name: 'Loop', outPorts: ports(h, 'out'), inPorts: ports(h, 'in') }
        }
      : {
          id: one(h, 'loop'),
          fields: h.dice.pick([{ sendDb: db(h) }, { outPorts: ports(h, 'out') }, { inPorts: ports(h, 'in') }])
        },
  removeLoop: h => ({ id: one(h, 'loop') }),
  // Rooms stay for what is done in them: more than half of these find nobody.
  removeUnit: h => ({ id: h.dice.chance(0.4) ? one(h, 'unit') : 'nobody' }),
  removeRig: h => ({ id: h.dice.chance(0.6) ? one(h, 'rig') : 'nobody' }),
  setRig: h => ({ id: one(h, 'rig'), fields: { name: `Room ${h.dice.below(9)}` } }),
  setPort: h => ({
    id: one(h, 'port'),
    fields: h.dice.pick([{ name: `Port ${h.dice.below(9)}` }, { trimDb: h.dice.below(60) / 10 - 3 }])
  }),
  matchRig: h => {
    const id = one(h, 'rig'),
      all = rowsOfRig(h.session, id)
    const rows = RIG_TABLES.flatMap(table => all[table].map(row => ({ table, row: row as Record<string, unknown> })))
    return { id, from: 'what it was', rows: rows.filter(r => r.table !== 'cable' || !h.dice.chance(0.1)) }
  },
  addCable: h => ({
    id: h.newId(),
    rig: one(h, 'rig'),
    ...h.dice.pick([
      { from: end(h, 'from'), to: end(h, 'to') },
      { from: end(h, 'from'), to: end(h, 'to'), normalled: h.dice.pick(['half', 'full'] as const) },
      { from: { port: one(h, 'port') }, to: { port: one(h, 'port') }, inside: true, levelDb: db(h) }
    ])
  }),
  setCable: h => ({
    id: one(h, 'cable'),
    fields: h.dice.pick([
      { inverts: h.dice.chance(0.5) },
      { normalled: h.dice.pick([null, 'half', 'full'] as const) },
      { levelDb: h.dice.chance(0.2) ? null : db(h) }
    ])
  }),
  removeCable: h => ({ id: one(h, 'cable') }),
  setUnit: h => {
    const id = one(h, 'unit'),
      model = UNITS[h.session.unit[id]?.model ?? '']
    return h.dice.chance(0.2)
      ? {
          id: h.newId(),
          rig: one(h, 'rig'),
          fields: { name: 'Unit', model: h.dice.pick(Object.keys(UNITS)), order: order(h) }
        }
      : {
          id,
          fields: h.dice.pick([
            { powered: h.dice.chance(0.5) },
            { inverts: h.dice.chance(0.5) },
            { plays: h.dice.chance(0.3) ? null : one(h, 'medium') },
            { settings: setting(h, model?.settings ?? []) }
          ])
        }
  },
  setInterface: h => ({ id: one(h, 'interface'), fields: { driftPpm: h.dice.below(9) } }),
  setLink: h => ({
    id: h.dice.chance(0.5) ? h.newId() : one(h, 'link'),
    fields: { name: 'Linked', members: some(h, 'channel', 3) }
  }),
  removeLink: h => ({ id: one(h, 'link') }),
  setEnvelope: h => {
    const [owner, field] = h.dice.pick([
      ['channel', 'levelDb'],
      ['channel', 'pan'],
      ['feed', 'levelDb'],
      ['slot', 'mix']
    ] as const)
    const values = { levelDb: [0, -20, null], pan: [0, 1, -1], mix: [0, 1, 0.5] }[field]
    return {
      id: h.newId(),
      target: { owner, row: one(h, owner), field },
      points: [0, 1, 2].map(i => [i * 1000, h.dice.pick<number | null>(values)])
    }
  },
  removeEnvelopes: h => ({ ids: [one(h, 'envelope')] }),
  copyEnvelopes: h => ({
    ids: [one(h, 'envelope')],
    from: one(h, 'channel'),
    to: some(h, 'channel', 2),
    prefix: h.newId()
  }),
  setPhrase: h => ({
    id: h.dice.chance(0.6) ? h.newId() : one(h, 'phrase'),
    channel: one(h, 'channel'),
    fields: { notes: [[0, 1, 60, 100]] }
  }),
  removePhrases: h => ({ ids: [one(h, 'phrase')] }),
  setSession: h =>
    h.dice.pick([
      { heardLevelDb: db(h) },
      { heardChannel: one(h, 'channel') },
      { name: `Session ${h.dice.below(100)}` },
      { beatsPerBar: 1 + h.dice.below(8) }
    ]),
  several: h => ({
    label: 'Two at once',
    edits: [
      generatedEdit(h.dice, h.session, h.newId, 'setChannels'),
      generatedEdit(h.dice, h.session, h.newId, 'addSend')
    ]
  })
}
export const GENERATED_VERBS = Object.keys(VERBS)

export function generatedEdit(
  dice: Dice,
  session: Session,
  newId: NewId,
  verb = dice.pick(GENERATED_VERBS)
): GeneratedEdit {
  return { verb, args: VERBS[verb]!({ dice, session, newId }) }
}

/**
 * What nobody's hand would send: taken ids, ids that mean something to programs, text and numbers without a place, undo
 * that lies.
 */
export function hostileEdit(
  dice: Dice,
  session: Session,
  newId: NewId,
  known: readonly RowChange[] = []
): GeneratedEdit {
  const odd = dice.pick<unknown>([
    '__proto__',
    'constructor',
    'toString',
    '',
    ' ',
    '../x',
    'a\0b',
    '\ud800',
    'x'.repeat(400),
    2 ** 53,
    -1,
    1e308,
    null,
    [],
    {},
    true
  ])
  const made = generatedEdit(dice, session, newId)
  const hand = { dice, session, newId }
  switch (dice.below(6)) {
    case 0:
      return { ...made, args: withOne(dice, made.args, odd) }
    case 1:
      return { verb: dice.pick(['constructor', '__proto__', 'hasOwnProperty', 'explode', '']), args: made.args }
    case 2:
      return { verb: 'createBus', args: { id: one(hand, 'channel'), name: 'Taken', role: 'submix', order: 'a' } }
    case 3:
      return {
        verb: 'revert',
        args: {
          label: 'Undo',
          changes: [
            {
              table: dice.pick(['session', 'channel', 'feed'] as const),
              id: dice.pick(['__proto__', 'session', one(hand, 'channel')]),
              before: dice.chance(0.5) ? null : { id: 'session' },
              after: dice.chance(0.5) ? null : { id: odd }
            }
          ]
        }
      }
    case 4:
      return { verb: 'revert', args: { label: 'Undo', changes: inverse(known) } }
    default:
      return {
        verb: 'addRows',
        args: {
          label: 'Rows',
          rows: [
            {
              table: dice.pick(['channel', 'slot', 'feed', 'loop', 'print', 'session'] as const),
              row: {
                id: dice.chance(0.5) ? odd : newId(),
                name: odd,
                kind: 'main',
                processor: 'reverb',
                params: { decayS: 1e9 },
                channel: one(hand, 'channel')
              }
            }
          ]
        }
      }
  }
}

/** One value somewhere inside, put in the place of another. */
function withOne(dice: Dice, args: Record<string, unknown>, odd: unknown): Record<string, unknown> {
  const key = dice.pick(Object.keys(args)),
    value = args[key]
  const inside =
    typeof value === 'object' &&
    value !== null &&
    !Array.isArray(value) &&
    Object.keys(value).length > 0 &&
    dice.chance(0.7)
  return {
    ...args,
    [key]: inside
      ? withOne(dice, value as Record<string, unknown>, odd)
      : Array.isArray(value) && dice.chance(0.7)
        ? [odd]
        : odd
  }
}
