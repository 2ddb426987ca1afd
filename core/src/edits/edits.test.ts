import { describe, expect, it } from 'vitest'
import { inverse, rows, withChanges, type Session } from '../session/session'
import { seriesNames } from '../session/series'
import { Sketch } from '../testing/sketch'
import { Refusal } from '../foundation/refusal'
import { applyEdit } from './apply'

function start(): Session {
  const k = new Sketch()
  k.bus('main', { role: 'main' })
  for (const id of ['low', 'edge', 'wide', 'shaker']) k.main(k.track(id), 'main')
  return k.session
}

const submix = (members: string[], id = 'drums') => ({
  verb: 'createSubmix',
  args: { id, name: 'Drums', order: 'b', members, to: 'main', feedIds: [...members.map(m => `n-${m}`), `n-${id}`] }
})

function refusal(act: () => unknown): Refusal {
  try {
    act()
  } catch (e) {
    if (e instanceof Refusal) return e
    throw e
  }
  throw new Error('was not refused')
}

const destination = (s: Session, from: string) => rows(s, 'feed').find(f => f.kind === 'main' && f.from === from)?.to

describe('a submix from a selection', () => {
  it('moves all main feeds in one step and goes where they went', () => {
    const { session, label } = applyEdit(start(), submix(['low', 'edge', 'wide']))
    expect(['low', 'edge', 'wide'].map(c => destination(session, c))).toEqual(['drums', 'drums', 'drums'])
    expect(destination(session, 'drums')).toBe('main')
    expect(destination(session, 'shaker')).toBe('main')
    expect(label).toBe('New submix “Drums” of 3')
  })

  it('is undone in one step, leaving exactly what was there', () => {
    const before = start()
    const { session, changes } = applyEdit(before, submix(['low', 'edge']))
    expect(withChanges(session, inverse(changes))).toEqual(before)
    expect(applyEdit(session, { verb: 'revert', args: { label: 'x', changes: inverse(changes) } }).session).toEqual(
      before
    )
  })
})

describe('refusals change nothing and say why', () => {
  it('a circle is named', () => {
    const session = applyEdit(applyEdit(start(), submix(['low'])).session, submix(['edge'], 'more')).session
    const there = applyEdit(session, { verb: 'setMainFeed', args: { ids: ['drums'], to: 'more', feedIds: [] } }).session
    const refused = refusal(() =>
      applyEdit(there, { verb: 'setMainFeed', args: { ids: ['more'], to: 'drums', feedIds: [] } })
    )
    expect(refused.kind).toBe('circle')
    expect(refused.message).toMatch(/Drums → Drums → Drums|Drums/)
    expect(refused.about.sort()).toEqual(['drums', 'more'])
  })

  it('a circle through a key is refused, but a key taken before a slot is none', () => {
    const k = new Sketch()
    k.bus('main', { role: 'main' })
    k.bus('a')
    k.bus('b')
    k.main('a', 'b')
    k.main('b', 'main')
    const slot = k.slot('a', 'compressor')
    expect(
      refusal(() => applyEdit(k.session, { verb: 'addKey', args: { ids: ['b'], slot, feedIds: ['k'] } })).kind
    ).toBe('circle')
    const early = applyEdit(k.session, { verb: 'addKey', args: { ids: ['a'], slot, tap: 'input', feedIds: ['k'] } })
    expect(early.session.feed.k.slot).toBe(slot)
  })

  it('a circle through the rig is refused', () => {
    const k = new Sketch()
    k.rig('r')
    k.interface('i', 'r', 1, 1)
    k.unit('w', 'r', 'wire')
    k.cable('r', 'i-out-1', 'w:0')
    k.cable('r', 'w:0', 'i-in-1')
    k.track('back')
    const one = applyEdit(k.session, {
      verb: 'addPortFeed',
      args: { feedId: 'in', channel: 'back', ports: ['i-in-1'], direction: 'in' }
    }).session
    expect(
      refusal(() =>
        applyEdit(one, {
          verb: 'addPortFeed',
          args: { feedId: 'out', channel: 'back', ports: ['i-out-1'], direction: 'out' }
        })
      ).kind
    ).toBe('circle')
  })

  it('a loop in use elsewhere names its holder', () => {
    const k = new Sketch()
    k.rig('r')
    k.interface('i', 'r', 1, 1)
    k.bus('one', { name: 'Kora bus' })
    k.bus('two')
    k.add('loop', { id: 'l', rig: 'r', name: 'Amp', outPorts: ['i-out-1'], inPorts: ['i-in-1'] })
    const add = (id: string, channel: string) => ({
      verb: 'addSlot',
      args: { id, channel, processor: 'loop', loop: 'l', order: 'a' }
    })
    const one = applyEdit(k.session, add('s1', 'one')).session
    const refused = refusal(() => applyEdit(one, add('s2', 'two')))
    expect(refused.kind).toBe('portTaken')
    expect(refused.message).toContain('Kora bus')
  })

  it('settings out of range name the setting and its range', () => {
    const k = new Sketch()
    k.bus('b')
    const id = k.slot('b', 'compressor')
    const refused = refusal(() =>
      applyEdit(k.session, { verb: 'setSlot', args: { id, fields: { params: { ratio: 900 } } } })
    )
    expect(refused.message).toBe('Compressor on “b”: Ratio cannot be 900; it takes 1 to 100 :1')
  })

  it.each([
    ['an unknown verb', { verb: 'explode', args: {} }, 'badArguments'],
    ['a channel that is gone', { verb: 'setChannels', args: { ids: ['nobody'], fields: { muted: true } } }, 'notFound'],
    ['an empty name', { verb: 'setChannels', args: { ids: ['low'], fields: { name: '' } } }, 'badArguments'],
    [
      'a name of 301 characters',
      { verb: 'setChannels', args: { ids: ['low'], fields: { name: 'x'.repeat(301) } } },
      'badArguments'
    ],
    ['a feed to nowhere', { verb: 'setMainFeed', args: { ids: ['low'], to: 'nobody', feedIds: [] } }, 'notFound'],
    ['arguments of the wrong kind', { verb: 'moveLevels', args: { ids: 'low' } }, 'badArguments']
  ])('%s', (_, message, kind) => {
    const before = start()
    const copy = structuredClone(before)
    expect(refusal(() => applyEdit(before, message)).kind).toBe(kind)
    expect(before).toEqual(copy)
  })
})

describe('undo by field', () => {
  const change = (session: Session, fields: object) =>
    applyEdit(session, { verb: 'setChannels', args: { ids: ['low'], fields } })

  it('keeps what somebody else changed in another field', () => {
    const mine = change(start(), { levelDb: -5 })
    const theirs = change(mine.session, { name: 'Low drum' }).session
    const back = applyEdit(theirs, { verb: 'revert', args: { label: 'Level', changes: inverse(mine.changes) } }).session
    expect(back.channel.low).toMatchObject({ levelDb: 0, name: 'Low drum' })
  })

  it('is refused where the same field has moved on', () => {
    const mine = change(start(), { levelDb: -5 })
    const theirs = change(mine.session, { levelDb: -9 }).session
    expect(
      refusal(() => applyEdit(theirs, { verb: 'revert', args: { label: 'Level', changes: inverse(mine.changes) } }))
        .kind
    ).toBe('stale')
  })
})

describe('removing a bus', () => {
  it('sends its members where it went, and takes its slots, sends and keys with it', () => {
    const k = new Sketch()
    k.bus('main', { role: 'main' })
    k.bus('sub')
    k.main('sub', 'main')
    k.main(k.track('t'), 'sub')
    k.track('u')
    k.key('u', k.slot('sub', 'compressor'))
    const { session } = applyEdit(k.session, { verb: 'removeChannels', args: { ids: ['sub'] } })
    expect(destination(session, 't')).toBe('main')
    expect(rows(session, 'slot')).toEqual([])
    expect(rows(session, 'feed').map(f => f.kind)).toEqual(['main'])
  })
})

describe('many at once', () => {
  it('levels move relatively and −∞ stays', () => {
    const before = applyEdit(start(), {
      verb: 'setChannels',
      args: { ids: ['edge'], fields: { levelDb: null } }
    }).session
    const { session } = applyEdit(before, { verb: 'moveLevels', args: { ids: ['low', 'edge'], byDb: -3 } })
    expect([session.channel.low.levelDb, session.channel.edge.levelDb]).toEqual([-3, null])
  })

  it('a cable into a jack pulls the one that was there', () => {
    const k = new Sketch()
    k.rig('r')
    k.interface('i', 'r', 2, 1)
    k.unit('w', 'r', 'wire')
    const old = k.cable('r', 'i-out-1', 'w:0')
    const { session } = applyEdit(k.session, {
      verb: 'addCable',
      args: { id: 'new', rig: 'r', from: { port: 'i-out-2' }, to: { unit: 'w', jack: 0 } }
    })
    expect(Object.keys(session.cable)).toEqual(['new'])
    expect(old).not.toBe('new')
  })
})

describe('names in series', () => {
  it('count where # stands, or behind, and are one edit', () => {
    expect(seriesNames('Mic ## close', 3)).toEqual(['Mic 01 close', 'Mic 02 close', 'Mic 03 close'])
    expect(seriesNames('Choir', 2)).toEqual(['Choir 1', 'Choir 2'])
    const { session, changes, label } = applyEdit(start(), {
      verb: 'renameChannels',
      args: { names: ['low', 'edge'].map((id, i) => ({ id, name: seriesNames('Drum #', 2)[i] })) }
    })
    expect([session.channel.low.name, session.channel.edge.name]).toEqual(['Drum 1', 'Drum 2'])
    expect(changes).toHaveLength(2)
    expect(label).toBe('Rename 2 channels')
  })
})

describe('crosspoints', () => {
  function grid() {
    const k = new Sketch()
    k.bus('main', { role: 'main' })
    k.bus('hall', { role: 'return' })
    k.main('hall', 'main')
    for (const id of ['a', 'b', 'c']) k.track(id)
    k.main('a', 'main')
    k.slot('hall', 'compressor')
    k.rig('r')
    k.interface('io', 'r', 2, 2)
    return k.session
  }
  const slot = Object.keys(grid().slot)[0]
  const write = (session: Session, from: string[], to: object, write: string) =>
    applyEdit(session, {
      verb: 'writeCrosspoints',
      args: { cells: from.map(f => ({ from: f, to, write, feedId: `${f}-${write}` })) }
    })
  const feeds = (s: Session) =>
    rows(s, 'feed')
      .filter(f => f.from !== 'hall')
      .map(f => `${f.kind} ${f.from} ${f.to ?? f.slot ?? f.ports}${f.kind === 'send' ? ` ${f.tap}` : ''}`)
      .sort()

  it('are painted in one edit: mains move, sends are added once and change their tap', () => {
    const { session, label } = write(grid(), ['a', 'b', 'c'], { bus: 'hall' }, 'main')
    expect(label).toBe('Write 3 crosspoints')
    expect(feeds(session)).toEqual(['main a hall', 'main b hall', 'main c hall'])
    const sent = write(
      write(grid(), ['a', 'b'], { bus: 'hall' }, 'post').session,
      ['b'],
      { bus: 'hall' },
      'pre'
    ).session
    expect(feeds(sent)).toEqual(['main a main', 'send a hall post', 'send b hall pre'])
  })

  it('hold keys and ports, and are cleared', () => {
    const both = write(write(grid(), ['a', 'b'], { slot }, 'post').session, ['c'], { port: 'io-out-1' }, 'post').session
    expect(feeds(both)).toEqual([`key a ${slot}`, `key b ${slot}`, 'main a main', 'port c io-out-1'])
    expect(feeds(write(both, ['a', 'b'], { slot }, 'none').session)).toEqual(['main a main', 'port c io-out-1'])
    expect(feeds(write(both, ['a'], { bus: 'main' }, 'none').session)).not.toContain('main a main')
  })

  it('that would close a circle are refused whole', () => {
    expect(() => write(grid(), ['a', 'main'], { bus: 'hall' }, 'post')).toThrow(/circle/)
  })
})
