// What each rule says of what breaks it, to the word, and what is there after mending: the least that makes it legal.
import { describe, expect, it } from 'vitest'
import { TABLE_NAMES, type TableName } from '../session/rows'
import { REFERENCES, withChanges, type Session } from '../session/session'
import { demoLike } from '../testing/demoLike'
import { Dice } from '../testing/generated'
import { times } from '../testing/lengths'
import type { Sketch } from '../testing/sketch'
import { breachBy, firstBreach, mended } from '.'

interface Case {
  breaks(k: Sketch): void
  says: string
  about: string[]
  kind?: string
  /** What mending says it did. */
  notes: string[]
  /** Fields of rows afterwards; null for a row that is gone. */
  then?: Partial<Record<TableName, Record<string, object | null>>>
}

/** The demonstration's small sister with a take, a second loop's ports and a link. */
function session(): Sketch {
  const k = demoLike()
  k.add('take', { id: 'first', channel: 'low', name: 'First' })
  k.add('take', { id: 'other-take', channel: 'edge', name: 'Other' })
  k.add('link', { id: 'pair', name: 'Pair', members: ['voice', 'other'] })
  k.interface('desk-b', 'loft', 3, 3)
  k.unit('two', 'loft', 'valve-compressor', {}, { name: 'Valve compressor' })
  k.rig('dome', { name: 'Dome' })
  k.interface('far', 'dome', 1, 1)
  k.unit('stranger', 'dome', 'wire', {}, { name: 'Stranger' })
  return k
}

const slotOf = (k: Sketch, channel: string, processor: string) =>
  Object.values(k.session.slot).find(s => s.channel === channel && s.processor === processor)!.id
const set = (k: Sketch, table: keyof Session, id: string, fields: object) =>
  Object.assign((k.session[table] as Record<string, object>)[id]!, fields)

const CASES: Record<string, Case> = {
  'a row that is none': {
    breaks: k => void (k.session.channel.odd = 'text' as never),
    says: 'The channel “odd”: it is not a row',
    about: ['odd'],
    notes: [expect.stringContaining('which is not its own') as never]
  },
  'a row that lacks a field': {
    breaks: k => void delete (k.session.channel.low as Partial<Row>).muted,
    says: 'The channel “Frame drum low”: it lacks the field “muted”',
    about: ['low'],
    notes: ['The track “Frame drum low” was brought into range: it lacks the field “muted”'],
    then: { channel: { low: { muted: false } } }
  },
  'numbers beyond either end, and one that is not whole': {
    breaks: k => {
      set(k, 'channel', 'low', { trimDb: 900 })
      set(k, 'channel', 'edge', { pan: -9 })
      set(k, 'clip', 'voice-clip', { startFrame: 3.6 })
    },
    says: expect.stringContaining('The channel “Frame drum low”: trimDb must be at most') as never,
    about: ['low'],
    notes: expect.arrayContaining([expect.stringContaining('was brought into range')]) as never,
    then: { channel: { low: { trimDb: 48 }, edge: { pan: -1 } }, clip: { 'voice-clip': { startFrame: 4 } } }
  },
  'a name that is too long': {
    breaks: k => set(k, 'channel', 'low', { name: 'n'.repeat(400) }),
    says: expect.stringContaining('name') as never,
    about: ['low'],
    notes: [expect.stringContaining('was brought into range') as never],
    then: { channel: { low: { name: 'n'.repeat(300) } } }
  },
  'a row that cannot be kept at all': {
    breaks: k => set(k, 'feed', 'f0001', { kind: 'hug' }),
    says: expect.stringContaining('The feed “f0001”: kind') as never,
    about: ['f0001'],
    notes: [expect.stringContaining('was left out') as never],
    then: { feed: { f0001: null } }
  },
  'a feed whose source is not there': {
    breaks: k => void k.add('feed', { id: 'x', kind: 'main', from: 'gone', to: 'main' }),
    says: 'The main feed from “gone” to “Main” (feed “x”) names the channel “gone” in its field from; there is none',
    about: ['x', 'gone'],
    kind: 'notFound',
    notes: [
      'The main feed from “gone” to “Main” named “gone”, which is not there, and does so no more',
      'The main feed from nowhere to “Main” lacks a source; it was removed'
    ],
    then: { feed: { x: null } }
  },
  'a list of which one is not there': {
    breaks: k => set(k, 'link', 'pair', { members: ['voice', 'gone', 'other'] }),
    says: 'The link “Pair” (link “pair”) names the channel “gone” in its field members; there is none',
    about: ['pair', 'gone'],
    kind: 'notFound',
    notes: ['The link “Pair” named “gone”, which is not there, and does so no more'],
    then: { link: { pair: { members: ['voice', 'other'] } } }
  },
  'a clip whose track is gone': {
    breaks: k => set(k, 'clip', 'low-clip', { channel: 'gone' }),
    says: expect.stringContaining('names the channel “gone” in its field channel; there is none') as never,
    about: ['low-clip', 'gone'],
    kind: 'notFound',
    notes: [expect.stringContaining('named “gone”, which is not there, and was left out') as never],
    then: { clip: { 'low-clip': null } }
  },
  'notes on a bus': {
    breaks: k => void k.add('phrase', { id: 'p', channel: 'drums', name: 'Riff', voice: 'pluck' }),
    says: 'The phrase “Riff” lies on the bus “Drums”; only tracks hold clips, takes, notes and prints',
    about: ['p', 'drums'],
    notes: ['The phrase “Riff” lay on the bus “Drums” and was left out'],
    then: { phrase: { p: null } }
  },
  'a track that plays another one’s take': {
    breaks: k => set(k, 'channel', 'low', { take: 'other-take' }),
    says: 'The track “Frame drum low” names the take “Other”, which is none of “Frame drum low”',
    about: ['low', 'other-take'],
    notes: ['The track “Frame drum low” named the take “other-take” of another track, and is in none now'],
    then: { channel: { low: { take: null } } }
  },
  'a clip in another track’s take': {
    breaks: k => set(k, 'clip', 'low-clip', { take: 'other-take' }),
    says: 'The clip “m-low” names the take “Other”, which is none of “Frame drum low”',
    about: ['low-clip', 'other-take'],
    notes: ['The clip “m-low” named the take “other-take” of another track, and is in none now'],
    then: { clip: { 'low-clip': { take: null, channel: 'low' } } }
  },
  'a send with ports': {
    breaks: k => void k.add('feed', { id: 'x', kind: 'send', from: 'low', to: 'hall', ports: ['desk-out-2'] }),
    says: 'The send from “Frame drum low” to “Hall” has ports, which a send feed cannot have',
    about: ['x'],
    notes: ['The send from “Frame drum low” to “Hall” has ports, which a send feed cannot have; it was removed'],
    then: { feed: { x: null } }
  },
  'an input feed from a port out': {
    breaks: k => void k.add('feed', { id: 'x', kind: 'input', to: 'low', ports: ['desk-out-2'] }),
    says: 'The input feed from “Out 2” to “Frame drum low” names “Out 2”, which is not a port in',
    about: ['x', 'desk-out-2'],
    notes: ['The input feed from “Out 2” to “Frame drum low” names “Out 2”, which is not a port in; it was removed'],
    then: { feed: { x: null } }
  },
  'a port feed that names a port twice': {
    breaks: k => void k.add('feed', { id: 'x', kind: 'port', from: 'low', ports: ['desk-out-2', 'desk-out-2'] }),
    says: 'The port feed from “Frame drum low” to “Out 2”, “Out 2” names a port twice',
    about: ['x', 'desk-out-2', 'desk-out-2'],
    notes: ['The port feed from “Frame drum low” to “Out 2”, “Out 2” names a port twice; it was removed'],
    then: { feed: { x: null } }
  },
  'a key into what takes none': {
    breaks: k => void k.add('feed', { id: 'x', kind: 'key', from: 'low', slot: slotOf(k, 'hall', 'reverb') }),
    says: 'The key feed from “Frame drum low” to “Hall” steers Reverb, which has no key input',
    about: ['x', 's0011'],
    notes: ['The key feed from “Frame drum low” to “Hall” steers Reverb, which has no key input; it was removed'],
    then: { feed: { x: null } }
  },
  'a feed into a track that two feeds leave': {
    breaks: k => {
      k.add('feed', { id: 'also', kind: 'main', from: 'low', to: 'singers' })
      k.add('feed', { id: 'x', kind: 'send', from: 'other', to: 'low', levelDb: -6 })
    },
    says:
      'The send from “Choir 2” to “Frame drum low” ends at a track. ' +
      '“Frame drum low” plays what lies on it: feed a bus instead',
    about: ['x', 'low'],
    notes: [
      'The send from “Choir 2” to “Frame drum low” ended at a track and goes to the new bus “Frame drum low (fed)” now'
    ],
    then: { feed: { x: { from: 'other', kind: 'send', levelDb: -6 } } }
  },
  'a speaker twice': {
    breaks: k => set(k, 'channel', 'hall', { layout: ['L', 'R', 'L', 'L'], flippedLegs: [1, 7], mutedLegs: [0, 4] }),
    says: 'The bus “Hall” names the speaker L twice in its layout L R L L',
    about: ['hall'],
    kind: 'layout',
    notes: ['The bus “Hall” names the speaker L twice in its layout L R L L; it is L R L2 L3 now'],
    then: { channel: { hall: { layout: ['L', 'R', 'L2', 'L3'], flippedLegs: [1], mutedLegs: [0] } } }
  },
  'a muted leg that is not there': {
    breaks: k => set(k, 'channel', 'low', { mutedLegs: [1, 0] }),
    says: 'The track “Frame drum low” has no leg 2: its layout is M',
    about: ['low'],
    kind: 'layout',
    notes: ['The track “Frame drum low” has no leg 2: its layout is M; it is M now'],
    then: { channel: { low: { mutedLegs: [0] } } }
  },
  'settings of a slot beyond either end, of no choice, and not known': {
    breaks: k => {
      k.slot('hall', 'reverb', { decayS: 99, preDelayMs: -5, size: 50, sparkle: 3 }, { id: 'x' })
      k.slot('hall', 'convolution', { response: 'dome', gainDb: 'loud' }, { id: 'y' })
    },
    says: expect.stringContaining('Reverb on “Hall”: ') as never,
    about: ['x'],
    notes: [
      'Reverb on “Hall”: Decay was 99, now 12',
      'Reverb on “Hall”: Pre-delay was -5, now 0',
      'Reverb on “Hall”: the setting “sparkle” is not known and was left out',
      'Impulse reverb on “Hall”: Gain was loud, now 0'
    ],
    then: {
      slot: { x: { params: { decayS: 12, preDelayMs: 0, size: 50 } }, y: { params: { response: 'dome', gainDb: 0 } } }
    }
  },
  'a choice that there is not': {
    breaks: k => void k.slot('hall', 'tremolo', { shape: 'square' }, { id: 'x' }),
    says: expect.stringContaining('Tremolo on “Hall”: ') as never,
    about: ['x'],
    notes: ['Tremolo on “Hall”: Shape was “square”, now sine'],
    then: { slot: { x: { params: { shape: 'sine' } } } }
  },
  'a unit of no kind and one set too far': {
    breaks: k => {
      k.unit('odd', 'loft', 'mystery', { glow: 3 }, { name: 'Odd' })
      k.unit('far-set', 'loft', 'tube-amplifier', { driveDb: 70 }, { name: 'Loud' })
    },
    says: 'Unit “Odd”: there is no unit of the kind “mystery”',
    about: ['odd'],
    notes: [
      'The unit “Odd” was of the kind “mystery”, which is not known, and is a wire now',
      'Tube amplifier “Loud”: Drive was 70, now 42'
    ],
    then: { unit: { 'odd': { model: 'wire', settings: {} }, 'far-set': { settings: { driveDb: 42 } } } }
  },
  'a clip of legs that its audio lacks': {
    breaks: k => set(k, 'clip', 'low-clip', { legMap: [0, 2, -1] }),
    says: 'The clip “m-low” plays leg 3 of “m-low”, which has 1',
    about: ['low-clip'],
    kind: 'layout',
    notes: ['The clip “m-low” played legs that its audio has not; nothing plays there now'],
    then: { clip: { 'low-clip': { legMap: [0, -1, -1] } } }
  },
  'a response that is too long': {
    breaks: k => {
      k.medium('long', 2, 30 * 48000 + 1, { name: 'Long room' })
      k.slot('hall', 'convolution', { response: 'long', endS: 2 }, { id: 'x' })
    },
    says: 'Impulse reverb on “Hall”: “Long room” is 30.0 s long; an impulse response has between one sample and 30 s',
    about: ['x', 'long'],
    notes: ['Impulse reverb on “Hall”: its impulse response was not there, and the first built-in one is used'],
    then: { slot: { x: { params: { endS: 2 } } } }
  },
  'a response that is not there': {
    breaks: k => void k.slot('hall', 'convolution', { response: 'gone' }, { id: 'x' }),
    says: 'Impulse reverb on “Hall”: there is no impulse response “gone” in this session',
    about: ['x', 'gone'],
    kind: 'notFound',
    notes: ['Impulse reverb on “Hall”: its impulse response was not there, and the first built-in one is used'],
    then: { slot: { x: { params: {} } } }
  },
  ...Object.fromEntries(
    (
      [
        ['a cable from nowhere', { fromPort: null }, 'nowhere → In 1', 'leads from nowhere'],
        [
          'a cable from two places',
          { fromPort: 'desk-out-2', fromUnit: 'amp' },
          'Out 2 → In 1',
          'leads from two places'
        ],
        ['a cable to nowhere', { toPort: null }, 'Out 1 → nowhere', 'leads to nowhere'],
        ['a cable to two places', { toPort: 'desk-in-2', toUnit: 'two' }, 'Out 1 → In 2', 'leads to two places'],
        ['a cable from an input', { fromPort: 'desk-in-2' }, 'In 2 → In 1', 'leads from “In 2”, which is an input'],
        ['a cable to an output', { toPort: 'desk-out-2' }, 'Out 1 → Out 2', 'leads to “Out 2”, which is an output'],
        [
          'a cable from another rig',
          { fromPort: 'far-out-1' },
          'Out 1 → In 1',
          'leads from “Out 1”, which is in another rig'
        ],
        ['a cable to another rig', { toPort: 'far-in-1' }, 'Out 1 → In 1', 'leads to “In 1”, which is in another rig'],
        [
          'a cable to a unit elsewhere',
          { toPort: null, toUnit: 'stranger' },
          'Out 1 → Stranger, In 1',
          'leads to “Stranger”, which is in another rig'
        ],
        [
          'a cable from a jack that is not there',
          { fromPort: null, fromUnit: 'two', fromJack: 2 },
          'Valve compressor → In 1',
          'leads from jack 3 of “Valve compressor”, which has 2'
        ],
        [
          'a cable to a jack that is not there',
          { toPort: null, toUnit: 'two', toJack: 2 },
          'Out 1 → Valve compressor',
          'leads to jack 3 of “Valve compressor”, which has 2'
        ],
        [
          'a second plug in a port',
          { toPort: 'desk-in-1' },
          'Out 1 → In 1',
          'goes into “In 1”, where another one is plugged in already'
        ],
        [
          'a second plug in a jack',
          { toPort: null, toUnit: 'amp', toJack: 0 },
          'Out 1 → Tube amplifier, Instrument in',
          'goes into “Tube amplifier”, where another one is plugged in already'
        ]
      ] as const
    ).map(([name, ends, cable, fault]): [string, Case] => [
      name,
      {
        breaks: k =>
          void k.add('cable', { id: 'zz', rig: 'loft', fromPort: 'desk-b-out-1', toPort: 'desk-b-in-1', ...ends }),
        says: `The cable ${cable} ${fault}`,
        about: ['zz'],
        notes: [`The cable ${cable} ${fault}; it was removed`],
        then: { cable: { zz: null } }
      }
    ])
  ),
  'a loop slot without a loop': {
    breaks: k => void k.slot('hall', 'loop', {}, { id: 'x' }),
    says: 'A slot on “Hall” is to hold a loop and names none',
    about: ['x'],
    notes: ['A slot on “Hall” is to hold a loop and names none; it was left out'],
    then: { slot: { x: null } }
  },
  'a processor that names a loop': {
    breaks: k => void k.slot('hall', 'delay', {}, { id: 'x', loop: 'amp-loop' }),
    says: 'A slot on “Hall” holds delay and names a loop as well',
    about: ['x'],
    notes: ['A slot on “Hall” holds delay and names a loop as well; the loop was removed from it'],
    then: { slot: { x: { processor: 'delay', loop: null } } }
  },
  'a loop out of an input': {
    breaks: k => set(k, 'loop', 'amp-loop', { outPorts: ['desk-in-2', 'desk-out-2', 'desk-out-2'] }),
    says: '“Amp loop” names “In 2”, which is not a port out',
    about: ['amp-loop', 'desk-in-2'],
    notes: ['“Amp loop” names “In 2”, which is not a port out; it has only ports that it can have now'],
    then: { loop: { 'amp-loop': { outPorts: ['desk-out-2'], inPorts: ['desk-in-1'] } } }
  },
  'a loop back at a port of another rig': {
    breaks: k => set(k, 'loop', 'amp-loop', { inPorts: ['desk-in-1', 'far-in-1'] }),
    says: '“Amp loop” names “In 1”, which is in another rig',
    about: ['amp-loop', 'far-in-1'],
    notes: ['“Amp loop” names “In 1”, which is in another rig; it has only ports that it can have now'],
    then: { loop: { 'amp-loop': { inPorts: ['desk-in-1'] } } }
  },
  'a loop that names a port twice': {
    breaks: k => set(k, 'loop', 'amp-loop', { inPorts: ['desk-in-1', 'desk-in-1'] }),
    says: '“Amp loop” names a port twice',
    about: ['amp-loop', 'desk-in-1', 'desk-in-1'],
    notes: ['“Amp loop” names a port twice; it has only ports that it can have now'],
    then: { loop: { 'amp-loop': { inPorts: ['desk-in-1'] } } }
  },
  'a loop that comes back three times': {
    breaks: k => set(k, 'loop', 'amp-loop', { inPorts: ['desk-in-1', 'desk-in-2', 'desk-b-in-1'] }),
    says: '“Amp loop” returns on 3 ports; a loop returns on one or two',
    about: ['amp-loop', 'desk-in-1', 'desk-in-2', 'desk-b-in-1'],
    kind: 'layout',
    notes: ['“Amp loop” returns on 3 ports; a loop returns on one or two; it has only ports that it can have now'],
    then: { loop: { 'amp-loop': { inPorts: ['desk-in-1', 'desk-in-2'] } } }
  },
  'one loop twice': {
    breaks: k => void k.slot('singers', 'loop', {}, { id: 'x', loop: 'amp-loop' }),
    says: '“Amp loop” is in use on “Drums”. A second use means another pass: print there first, or remove the other one.',
    about: ['amp-loop', 'drums'],
    kind: 'portTaken',
    notes: ['“Amp loop” is in use on “Drums”: “Amp loop” was removed from “Singers” and waits'],
    then: { slot: { 'x': null, 'amp-slot': { loop: 'amp-loop' } }, loop: { 'amp-loop': {} } }
  },
  'two loops that come back at one port': {
    breaks: k => {
      k.add('loop', { id: 'l', rig: 'loft', name: 'Second', outPorts: ['desk-out-2'], inPorts: ['desk-in-1'] })
      k.slot('singers', 'loop', {}, { id: 'x', loop: 'l' })
    },
    says: '“In 1” is in use by “Amp loop” on “Drums”. A second use means another pass: print there first, or remove the other one.',
    about: ['l', 'drums'],
    kind: 'portTaken',
    notes: ['“In 1” is in use by “Amp loop” on “Drums”: “Second” was removed from “Singers” and waits'],
    then: { slot: { x: null } }
  },
  'two loops through both sides of a unit that mixes them': {
    breaks: k => {
      k.unit('deck', 'loft', 'tape-deck', {}, { name: 'Deck' })
      for (const n of [1, 2]) {
        k.cable('loft', `desk-b-out-${n}`, `deck:${n - 1}`)
        k.cable('loft', `deck:${n - 1}`, `desk-b-in-${n}`)
        k.add('loop', {
          id: `l${n}`,
          rig: 'loft',
          name: `Side ${n}`,
          outPorts: [`desk-b-out-${n}`],
          inPorts: [`desk-b-in-${n}`]
        })
      }
      k.slot('singers', 'loop', {}, { id: 'x1', loop: 'l1' })
      k.slot('hall', 'loop', {}, { id: 'x2', loop: 'l2' })
    },
    says: '“Deck” is in use by “Side 1” on “Singers”. A second use means another pass: print there first, or remove the other one.',
    about: ['l2', 'singers'],
    kind: 'portTaken',
    notes: ['“Deck” is in use by “Side 1” on “Singers”: “Side 2” was removed from “Hall” and waits'],
    then: { slot: { x1: { loop: 'l1' }, x2: null } }
  },
  'a port feed of which one port is a loop’s': {
    breaks: k => void k.add('feed', { id: 'x', kind: 'port', from: 'main', ports: ['desk-out-2', 'desk-out-1'] }),
    says: '“Out 1” is in use by “Amp loop” on “Drums”: the port feed from “Main” to “Out 2”, “Out 1” cannot end there',
    about: ['x', 'desk-out-1', 'drums'],
    kind: 'portTaken',
    notes: [
      '“Out 1” is in use by “Amp loop” on “Drums”: the port feed from “Main” to “Out 2”, “Out 1” ends there no more'
    ],
    then: { feed: { x: { ports: ['desk-out-2'] } } }
  },
  'a port feed onto a loop’s port alone': {
    breaks: k => void k.add('feed', { id: 'x', kind: 'port', from: 'main', ports: ['desk-out-1'] }),
    says: '“Out 1” is in use by “Amp loop” on “Drums”: the port feed from “Main” to “Out 1” cannot end there',
    about: ['x', 'desk-out-1', 'drums'],
    kind: 'portTaken',
    notes: ['“Out 1” is in use by “Amp loop” on “Drums”: the port feed from “Main” to “Out 1” ends there no more'],
    then: { feed: { x: null } }
  },
  'a strip in two links': {
    breaks: k => void k.add('link', { id: 'trio', name: 'Trio', members: ['low', 'edge', 'voice'] }),
    says: 'The link “Trio”: “Choir 1” is in “Pair” already',
    about: ['trio'],
    notes: ['The link “Trio”: “Choir 1” is in “Pair” already; it joins each strip once now'],
    then: { link: { trio: { members: ['low', 'edge'] }, pair: { members: ['voice', 'other'] } } }
  },
  'a strip twice in a link': {
    breaks: k => set(k, 'link', 'pair', { members: ['voice', 'other', 'voice'] }),
    says: 'The link “Pair”: it names a strip twice',
    about: ['pair'],
    notes: ['The link “Pair”: it names a strip twice; it joins each strip once now'],
    then: { link: { pair: { members: ['voice', 'other'] } } }
  },
  'a link of one': {
    breaks: k => set(k, 'link', 'pair', { members: ['voice'] }),
    says: 'The link “Pair”: a link needs two strips',
    about: ['pair'],
    notes: ['The link “Pair”: a link needs two strips; it was removed'],
    then: { link: { pair: null } }
  },
  'an envelope of what keeps still': {
    breaks: k => void k.add('envelope', { id: 'e', channel: 'low', field: 'trimDb' }),
    says: 'The envelope “e” moves “trimDb”, which cannot move',
    about: ['e'],
    notes: ['The envelope “e” moves “trimDb”, which cannot move, and was left out'],
    then: { envelope: { e: null } }
  },
  'two envelopes of one level': {
    breaks: k => {
      for (const id of ['e1', 'e2']) k.add('envelope', { id, channel: 'low', field: 'levelDb' })
    },
    says: 'The envelope “e2” moves what another one moves already',
    about: ['e2'],
    notes: ['The envelope “e2” moves what another one moves already, and was left out'],
    then: { envelope: { e1: {}, e2: null } }
  },
  'a point beyond the range of a level': {
    breaks: k =>
      void k.add('envelope', {
        id: 'e',
        channel: 'low',
        field: 'levelDb',
        points: [
          [0, null],
          [9, 40],
          [20, -3]
        ]
      }),
    says: 'Level ride of “Frame drum low” cannot be 40 at frame 9; it takes -60 to 12 dB',
    about: ['e'],
    notes: ['The envelope “e”: a point was beyond -60 to 12 dB and is at the edge now'],
    then: {
      envelope: {
        e: {
          points: [
            [0, null],
            [9, 12],
            [20, -3]
          ]
        }
      }
    }
  },
  'points of a placement beyond both ends, and one of nothing': {
    breaks: k =>
      void k.add('envelope', {
        id: 'e',
        channel: 'low',
        field: 'pan',
        points: [
          [0, -2],
          [5, 3],
          [9, null]
        ]
      }),
    says: expect.stringContaining('3 points are beyond -1 to 1') as never,
    about: ['e'],
    notes: ['The envelope “e”: 3 points were beyond -1 to 1 and are at the edge now'],
    then: {
      envelope: {
        e: {
          points: [
            [0, -1],
            [5, 1],
            [9, -1]
          ]
        }
      }
    }
  },
  'a circle of three': {
    breaks: k => {
      k.bus('a', { name: 'A' })
      k.main('drums', 'a')
      k.add('feed', { id: 'zz', kind: 'main', from: 'a', to: 'drums' })
    },
    says: expect.stringMatching(/^That would make a circle: (Drums → A → Drums|A → Drums → A)$/) as never,
    about: expect.arrayContaining(['a', 'drums']) as never,
    kind: 'circle',
    notes: [
      expect.stringMatching(/^There was a circle \(.*\): the main feed from “A” to “Drums” was removed$/) as never
    ],
    then: { feed: { zz: null } }
  },
  'what feeds itself': {
    breaks: k => void k.add('feed', { id: 'zz', kind: 'send', from: 'hall', to: 'hall', levelDb: -6 }),
    says: 'That would make a circle: “Hall” feeds itself',
    about: ['hall'],
    kind: 'circle',
    notes: ['There was a circle (“Hall” feeds itself): the send from “Hall” to “Hall” was removed'],
    then: { feed: { zz: null } }
  },
  'a key of what comes behind it': {
    breaks: k => void k.add('feed', { id: 'zz', kind: 'key', from: 'main', slot: slotOf(k, 'singers', 'compressor') }),
    says: expect.stringContaining('That would make a circle: ') as never,
    about: expect.arrayContaining(['main', 'singers']) as never,
    kind: 'circle',
    notes: [expect.stringContaining(': the key feed from “Main” to “Singers” was removed') as never],
    then: { feed: { zz: null } }
  },
  'out by a port and back into where it came from': {
    breaks: k => {
      k.cable('loft', 'desk-b-out-1', 'desk-b-in-1')
      k.add('feed', { id: 'zo', kind: 'port', from: 'hall', ports: ['desk-b-out-1'] })
      k.add('feed', { id: 'zi', kind: 'input', to: 'hall', ports: ['desk-b-in-1'] })
    },
    says: 'That would make a circle: “Hall” feeds itself',
    about: ['hall'],
    kind: 'circle',
    notes: ['There was a circle (“Hall” feeds itself): the port feed from “Hall” to “Out 1” was removed'],
    then: { feed: { zo: null, zi: {} } }
  },
  'a print that plays into its own source': {
    breaks: k => void k.add('print', { id: 'p', channel: 'low', source: 'drums', tap: 'post', clip: 'low-clip' }),
    says: expect.stringContaining('That would make a circle: ') as never,
    about: expect.arrayContaining(['low', 'drums']) as never,
    kind: 'circle',
    notes: [expect.stringContaining('There was a circle (') as never]
  }
}
type Row = { muted: boolean }

describe('what breaks a rule is said to the word, and mended to the least that is legal', () => {
  it.each(Object.keys(CASES))('%s', name => {
    const { breaks, says, about, kind, notes, then } = CASES[name]!
    const k = session()
    expect(firstBreach(k.session)).toBeNull()
    breaks(k)
    expect(firstBreach(k.session)).toEqual({ kind: kind ?? 'badArguments', message: says, about })
    const result = mended(k.session)
    expect(result.notes).toEqual(notes)
    expect(firstBreach(result.session)).toBeNull()
    for (const [table, rows] of Object.entries(then ?? {}))
      for (const [id, fields] of Object.entries(rows!)) {
        const row = (result.session[table as TableName] as Record<string, unknown>)[id]
        if (fields === null) expect(row, id).toBeUndefined()
        else expect(row, id).toMatchObject(fields)
      }
  })
})

describe('an edit that changes a field', () => {
  it('of any row to any value of another one is seen by the rule that it breaks, and by no other', () => {
    const dice = new Dice(5),
      k = session()
    k.add('phrase', { id: 'p', channel: 'low', name: 'Riff' })
    k.add('print', { id: 'print', channel: 'edge', source: 'singers', tap: 'post', clip: 'edge-clip' })
    k.add('envelope', { id: 'e1', channel: 'low', field: 'levelDb', points: [[0, -3]] })
    k.add('envelope', { id: 'e2', slot: 's0011', field: 'mix', points: [[0, 0.5]] })
    k.add('feed', { id: 'out', kind: 'port', from: 'voice', ports: ['desk-b-out-1'] })
    k.add('feed', { id: 'back', kind: 'input', to: 'other', ports: ['desk-b-in-1'] })
    k.cable('loft', 'desk-b-out-2', 'two:0')
    k.cable('loft', 'two:0', 'desk-b-in-2')
    expect(firstBreach(k.session)).toBeNull()
    const tables = TABLE_NAMES.filter(t => Object.keys(k.session[t]).length)
    const seen = new Set<string>()
    for (let n = 0; n < times(6000, 60_000); n++) {
      const table = dice.pick(tables),
        all = Object.values(k.session[table]) as Record<string, unknown>[]
      const before = dice.pick(all),
        field = dice.pick(Object.keys(before).filter(f => f !== 'id'))
      const target = REFERENCES[table]?.[field as never] as TableName | undefined
      const named = target && dice.pick([...Object.keys(k.session[target]), 'gone'])
      const value = dice.pick<unknown>([
        dice.pick(all)[field],
        dice.pick(Object.values(k.session[dice.pick(tables)]) as Record<string, unknown>[])[field],
        named && (Array.isArray(before[field]) ? [named] : named),
        dice.pick<unknown>([null, [], -3, 1e9, 'x', {}, { decayS: 1e9 }])
      ])
      if (value === undefined) continue
      const change = { table, id: before.id as string, before, after: { ...before, [field]: value } }
      const next = withChanges(k.session, [change])
      const breach = firstBreach(next)
      expect(endOf(breachBy(next, [change])), JSON.stringify(change)).toEqual(breach)
      if (breach) seen.add(`${table}.${field}`)
    }
    expect(seen.size).toBeGreaterThan(60)
  })
})

function endOf<T>(steps: Generator<void, T>): T {
  for (;;) {
    const { done, value } = steps.next()
    if (done) return value
  }
}
