// Verbs that make, copy, link and reshape many channels.
import { describe, expect, it } from 'vitest'
import { Refusal } from '../foundation/refusal'
import { linkedWith } from '../session/linked'
import { Sketch } from '../testing/sketch'
import { firstBreach } from '../invariants'
import { inverse, rows, slotsOf, withChanges, type Session } from '../session/session'
import { applyEdit } from './apply'

function start(): Session {
  const k = new Sketch()
  k.bus('main', { role: 'main' })
  k.bus('drums')
  k.bus('hall', { role: 'return' })
  k.main('drums', 'main')
  k.main('hall', 'main')
  for (const id of ['low', 'edge', 'voice']) {
    k.medium(`m-${id}`, 1, 100)
    k.track(id, `m-${id}`)
    k.main(id, id === 'voice' ? 'main' : 'drums')
  }
  k.send('low', 'hall', -9)
  const slot = k.slot('drums', 'compressor')
  k.key('voice', slot)
  k.slot('low', 'equaliser')
  return k.session
}
const apply = (s: Session, verb: string, args: object) => applyEdit(s, { verb, args })
const refused = (s: Session, verb: string, args: object): Refusal => {
  try {
    apply(s, verb, args)
  } catch (e) {
    return e as Refusal
  }
  throw new Error('was not refused')
}
const feeds = (s: Session, from: string) =>
  rows(s, 'feed')
    .filter(f => f.from === from)
    .map(f => `${f.kind} ${f.to ?? f.slot}`)
    .sort()

describe('channels', () => {
  it('come several at once, with names, a layout and one destination, as one undo', () => {
    const before = start()
    const channels = ['Choir 1', 'Choir 2', 'Choir 3'].map((name, i) => ({
      id: `c${i}`,
      name,
      order: `z${i}`,
      feedId: `cf${i}`
    }))
    const { session, changes, label } = apply(before, 'createChannels', {
      channels,
      role: 'track',
      layout: ['M'],
      to: 'drums',
      family: 'Choir'
    })
    expect(channels.map(c => session.channel[c.id])).toMatchObject([
      { name: 'Choir 1', kind: 'track', layout: ['M'] },
      { name: 'Choir 2' },
      { name: 'Choir 3' }
    ])
    expect(feeds(session, 'c2')).toEqual(['main drums'])
    expect(label).toBe('3 new channels')
    expect(withChanges(session, inverse(changes))).toEqual(before)
  })

  it('are copied with what is chosen to go along, and nothing else', () => {
    const copy = (of: string, along: string[]) =>
      apply(start(), 'duplicateChannels', { copies: [{ of, id: 'copy', name: 'Copy', order: 'z' }], along }).session
    expect(feeds(copy('low', []), 'copy')).toEqual([])
    expect(
      rows(copy('low', ['clips']), 'clip')
        .filter(c => c.channel === 'copy')
        .map(c => c.medium)
    ).toEqual(['m-low'])
    expect(feeds(copy('low', ['main', 'sends']), 'copy')).toEqual(['main drums', 'send hall'])
    expect(slotsOf(copy('low', ['slots']), 'copy').map(s => s.processor)).toEqual(['equaliser'])
    const bus = copy('drums', ['slots', 'main', 'arriving'])
    expect(
      rows(bus, 'feed')
        .filter(f => f.to === 'copy')
        .map(f => f.from)
        .sort()
    ).toEqual(['edge', 'low'])
    const slot = slotsOf(bus, 'copy')[0].id
    expect(
      rows(bus, 'feed')
        .filter(f => f.slot === slot)
        .map(f => f.from)
    ).toEqual(['voice'])
    expect(firstBreach(bus)).toBeNull()
  })

  it('copied together keep their connections among the copies', () => {
    const s = apply(start(), 'duplicateChannels', {
      copies: ['low', 'drums'].map(of => ({ of, id: `${of}2`, name: `${of} again`, order: `z${of}` })),
      along: ['main']
    }).session
    expect(feeds(s, 'low2')).toEqual(['main drums2'])
    expect(feeds(s, 'drums2')).toEqual(['main main'])
  })

  it('a loop stays with the original: it can be in one place at a time', () => {
    const k = new Sketch()
    k.rig('r')
    k.interface('io', 'r', 1, 1)
    k.add('loop', { id: 'l', rig: 'r', name: 'Amp', outPorts: ['io-out-1'], inPorts: ['io-in-1'] })
    k.track('kora')
    k.track('other')
    k.slot('kora', 'loop', {}, { loop: 'l' })
    const s = apply(k.session, 'duplicateChannels', {
      copies: [{ of: 'kora', id: 'copy', name: 'C', order: 'z' }],
      along: ['slots']
    }).session
    expect(slotsOf(s, 'copy')).toEqual([])
    const slot = slotsOf(s, 'kora')[0].id
    expect(refused(s, 'moveSlot', { id: slot, channel: 'other', order: 'a', afterFader: false, copy: 'x' }).kind).toBe(
      'portTaken'
    )
    expect(
      slotsOf(apply(s, 'moveSlot', { id: slot, channel: 'other', order: 'a', afterFader: false }).session, 'other')
    ).toHaveLength(1)
  })

  it('that split feed several buses; the same one twice stays one', () => {
    const s = apply(start(), 'addMainFeed', { ids: ['drums', 'low'], to: 'hall', feedIds: ['x1', 'x2'] }).session
    expect(feeds(s, 'drums')).toEqual(['main hall', 'main main'])
    expect(feeds(apply(s, 'addMainFeed', { ids: ['drums'], to: 'hall', feedIds: ['x3'] }).session, 'drums')).toEqual([
      'main hall',
      'main main'
    ])
    expect(refused(s, 'addMainFeed', { ids: ['main'], to: 'drums', feedIds: ['x4'] }).kind).toBe('circle')
  })

  it('removed with what they are linked to: the link loses them, and goes when one is left', () => {
    const linked = apply(start(), 'setLink', {
      id: 'k',
      fields: { name: 'Drum faders', order: 'a', members: ['low', 'edge', 'voice'] }
    }).session
    expect(apply(linked, 'removeChannels', { ids: ['low'] }).session.link.k.members).toEqual(['edge', 'voice'])
    expect(apply(linked, 'removeChannels', { ids: ['low', 'edge'] }).session.link).toEqual({})
  })
})

describe('links', () => {
  it('say what moves along, in the respects that are chosen', () => {
    const s = apply(start(), 'setLink', {
      id: 'k',
      fields: { name: 'One', order: 'a', members: ['low', 'edge'], solos: false }
    }).session
    expect([
      linkedWith(s, ['low'], 'levels'),
      linkedWith(s, ['low'], 'solos'),
      linkedWith(s, ['voice'], 'levels')
    ]).toEqual([['low', 'edge'], ['low'], ['voice']])
  })

  it('moved up together stop where the highest one does, and keep their distances', () => {
    const s = start()
    s.channel.low.levelDb = 9
    s.channel.edge.levelDb = -20
    s.channel.voice.levelDb = null
    const levels = (x: Session) => ['low', 'edge', 'voice'].map(id => x.channel[id].levelDb)
    expect(levels(apply(s, 'moveLevels', { ids: ['low', 'edge', 'voice'], byDb: 6 }).session)).toEqual([12, -17, null])
    expect(levels(apply(s, 'moveLevels', { ids: ['low', 'edge', 'voice'], byDb: -6 }).session)).toEqual([3, -26, null])
  })

  it('take a strip out of the link it was in before', () => {
    let s = apply(start(), 'setLink', {
      id: 'k',
      fields: { name: 'One', order: 'a', members: ['low', 'edge', 'voice'] }
    }).session
    s = apply(s, 'setLink', { id: 'q', fields: { name: 'Two', order: 'b', members: ['edge', 'drums'] } }).session
    expect(s.link.k.members).toEqual(['low', 'voice'])
    expect(refused(s, 'setLink', { id: 'k', fields: { members: ['low'] } }).message).toMatch(/two strips/)
    expect(apply(s, 'removeLink', { id: 'k' }).session.link).not.toHaveProperty('k')
  })
})

describe('slots', () => {
  it('go to another channel with their keys, moved or copied', () => {
    const before = start(),
      slot = slotsOf(before, 'drums')[0].id
    const moved = apply(before, 'moveSlot', { id: slot, channel: 'edge', order: 'a0', afterFader: true }).session
    expect(slotsOf(moved, 'edge')).toMatchObject([{ id: slot, afterFader: true }])
    expect(rows(moved, 'feed').filter(f => f.slot === slot)).toHaveLength(1)
    const copied = apply(before, 'moveSlot', {
      id: slot,
      channel: 'edge',
      order: 'a0',
      afterFader: false,
      copy: 'n'
    }).session
    expect([slotsOf(copied, 'drums').length, slotsOf(copied, 'edge').length]).toEqual([1, 1])
    expect(
      rows(copied, 'feed')
        .filter(f => f.slot === 'n')
        .map(f => f.from)
    ).toEqual(['voice'])
  })

  it('that would steer themselves are refused by the circle', () => {
    const before = start(),
      slot = slotsOf(before, 'drums')[0].id
    expect(refused(before, 'moveSlot', { id: slot, channel: 'voice', order: 'a0', afterFader: false }).message).toMatch(
      /circle: .*voice/
    )
  })
})

describe('a silent trigger', () => {
  it('steers from before its fader and is not heard, in one edit; a key that was there is kept', () => {
    const before = start(),
      slot = slotsOf(before, 'drums')[0].id
    const { session, changes, label } = apply(before, 'silentTrigger', {
      ids: ['voice', 'low'],
      slot,
      feedIds: ['n1', 'n2']
    })
    for (const id of ['voice', 'low'])
      expect(
        rows(session, 'feed')
          .filter(f => f.from === id)
          .map(f => [f.kind, f.tap])
      ).toEqual([['key', 'pre']])
    expect(label).toMatch(/2 channels as silent trigger of “drums”/)
    expect(withChanges(session, inverse(changes))).toEqual(before)
  })
})

describe('a layout', () => {
  it('that leaves legs without a place is refused with what would be lost, unless it is meant', () => {
    const k = new Sketch()
    k.bus('main', { role: 'main', layout: ['L', 'R', 'C', 'LFE', 'Ls', 'Rs'] })
    k.medium('m', 6, 10)
    k.main(k.track('wide', 'm', { layout: ['L', 'R', 'C', 'LFE', 'Ls', 'Rs'], flippedLegs: [0, 5] }), 'main')
    const no = refused(k.session, 'setLayout', { ids: ['main'], layout: ['L', 'R'] })
    expect(no.kind).toBe('layout')
    expect(no.message).toBe('In stereo something would be lost: LFE of “wide” in “main”')
    const done = apply(k.session, 'setLayout', { ids: ['wide', 'main'], layout: ['L', 'R'], dropping: true }).session
    expect(done.channel.wide).toMatchObject({ layout: ['L', 'R'], flippedLegs: [0] })
  })
})

describe('several edits as one', () => {
  it('are undone as one and refused as one', () => {
    const before = start()
    const two = [
      { verb: 'setMainFeed', args: { ids: ['voice'], to: 'drums', feedIds: ['x'] } },
      { verb: 'setChannels', args: { ids: ['voice'], fields: { colour: 3 } } }
    ]
    const { session, changes, label } = apply(before, 'several', { label: 'Two things', edits: two })
    expect(label).toBe('Two things')
    expect(withChanges(session, inverse(changes))).toEqual(before)
    // The key from the voice into the drums' compressor is legal; a key back from it would not be.
    const no = refused(before, 'several', {
      label: 'x',
      edits: [...two, { verb: 'setMainFeed', args: { ids: ['main'], to: 'drums', feedIds: ['y'] } }]
    })
    expect(no.kind).toBe('circle')
    expect(refused(before, 'several', { label: 'x', edits: [{ verb: 'dance', args: {} }] }).message).toMatch(
      /no edit called “dance”/
    )
  })
})

describe('names', () => {
  it.each(['<img src=x onerror=alert(1)>', 'Drums 🥁🥁', 'טרק ימני', 'x'.repeat(300)])(
    'of any kind are kept as they are: %s',
    name => {
      expect(apply(start(), 'setChannels', { ids: ['low'], fields: { name } }).session.channel.low.name).toBe(name)
    }
  )
  it('of 301 characters, or none, are refused', () => {
    expect(refused(start(), 'setChannels', { ids: ['low'], fields: { name: 'x'.repeat(301) } }).message).toMatch(
      /at most 300/
    )
    expect(refused(start(), 'setChannels', { ids: ['low'], fields: { name: '' } }).message).toMatch(/must not be empty/)
  })
})
