// Each cause of silence to the word: what is said, what it is about, and what would mend it.
import { describe, expect, it } from 'vitest'
import type { EditMessage } from '../session/editMessage'
import { Sketch } from '../testing/sketch'
import { whySilent, type Cause } from './whySilent'

function session(): Sketch {
  const k = new Sketch()
  k.rig('r', { name: 'Loft' })
  k.rig('far', { name: 'Dome' })
  k.interface('io', 'r', 2, 2)
  k.interface('there', 'far', 1, 1)
  k.medium('m', 1, 10)
  k.bus('main', { role: 'main', name: 'Main' })
  k.bus('drums', { name: 'Drums' })
  k.track('t', 'm', { name: 'Kora' })
  k.main('t', 'drums', { id: 'td' })
  k.main('drums', 'main', { id: 'dm' })
  Object.assign(k.session.session.session, { heardChannel: 'main', rig: 'r' })
  return k
}
const channel = (id: string, fields: object) => ({ verb: 'setChannels', args: { ids: [id], fields } })
const feed = (id: string, fields: object) => ({ verb: 'setFeeds', args: { ids: [id], fields } })
const edit = (label: string, edit: EditMessage) => ({ label, edit })
const setSession = (args: object) => ({ verb: 'setSession', args })
const printOf = (k: Sketch, source: string, more: object = {}) => {
  k.main(k.track('p', 'm', { name: 'Print' }), 'main', { id: 'pm' })
  k.add('print', { id: 'row', channel: 'p', source, tap: 'post', clip: 'p-clip', takesOver: true, ...more })
}
/** A loop in a slot of the bus, with its cable back pulled. */
function withLoop(k: Sketch, slot: object = {}, loop: object = {}): void {
  k.unit('box', 'r', 'wire', {}, { name: 'Box' })
  k.cable('r', 'io-out-1', 'box:0')
  k.add('loop', { id: 'l', rig: 'r', name: 'Spring', outPorts: ['io-out-1'], inPorts: ['io-in-1'], ...loop })
  k.add('slot', { id: 's', channel: 'drums', processor: 'loop', loop: 'l', ...slot })
}
const BYPASS = edit('Bypass the slot', { verb: 'setSlot', args: { id: 's', fields: { state: 'bypassed' } } })

const CASES: Record<string, { of?: string; plant(k: Sketch): void; causes: (Partial<Cause> | string)[] }> = {
  'nothing': { plant: () => {}, causes: [] },
  'a track without a clip': {
    plant: k => delete k.session.clip['t-clip'],
    causes: [{ cause: 'noClip', sentence: '“Kora” has no clip.', about: ['t'], fix: undefined }]
  },
  'takes none of which is heard': {
    plant: k => {
      k.add('take', { id: 'x', channel: 't', name: 'X' })
      k.session.clip['t-clip']!.take = 'x'
    },
    causes: ['None of the takes of “Kora” is heard.']
  },
  'phrases without notes, or at −∞': {
    plant: k => {
      delete k.session.clip['t-clip']
      k.add('phrase', { id: 'a', channel: 't' })
      k.add('phrase', { id: 'b', channel: 't', levelDb: null, notes: [[0, 1, 60, 90]] })
    },
    causes: ['The phrases of “Kora” hold no notes that can be heard.']
  },
  'phrases of which one sounds': {
    plant: k => {
      delete k.session.clip['t-clip']
      k.add('phrase', { id: 'a', channel: 't' })
      k.add('phrase', { id: 'b', channel: 't', notes: [[0, 1, 60, 90]] })
    },
    causes: []
  },
  'a clip at −∞': {
    plant: k => (k.session.clip['t-clip']!.gainDb = null),
    causes: [{ cause: 'emptyClip', sentence: 'The clip of “Kora” has a gain of −∞.', about: ['t'] }]
  },
  'a clip of silence': {
    plant: k => Object.assign(k.session.medium.m!, { sha256: 'a', peakDb: -130 }),
    causes: ['The clip of “Kora” holds nothing but silence.']
  },
  'a clip whose audio has no peak at all': {
    plant: k => Object.assign(k.session.medium.m!, { sha256: 'a', peakDb: null }),
    causes: ['The clip of “Kora” holds nothing but silence.']
  },
  'a clip as quiet as can still be heard': {
    plant: k => Object.assign(k.session.medium.m!, { sha256: 'a', peakDb: -120 }),
    causes: []
  },
  'silence beside a clip at −∞': {
    plant: k => {
      Object.assign(k.session.medium.m!, { sha256: 'a', peakDb: -130 })
      k.add('clip', { id: 'second', channel: 't', medium: 'm', gainDb: null })
    },
    causes: ['The clip of “Kora” holds nothing but silence.']
  },
  'one clip of two that is closed': {
    plant: k => k.add('clip', { id: 'second', channel: 't', medium: 'm', gainDb: null }),
    causes: []
  },
  'a bus that nothing feeds': {
    of: 'drums',
    plant: k => delete k.session.feed.td,
    causes: [{ cause: 'unfed', sentence: 'Nothing feeds “Drums”.', about: ['drums'] }]
  },
  'a bus whose feeders are closed, each in its way': {
    of: 'drums',
    plant: k => {
      const more: [string, Record<string, unknown>, Record<string, unknown>][] = [
        ['a', { trimDb: null }, {}],
        ['b', { mutedLegs: [0] }, {}],
        ['c', { levelDb: null }, {}],
        ['d', {}, { muted: true }],
        ['e', {}, { levelDb: null }],
        ['f', { parked: true }, {}]
      ]
      k.session.channel.t!.muted = true
      for (const [id, fields, of] of more) k.main(k.track(id, 'm', fields), 'drums', { id: `z${id}`, ...of })
    },
    causes: [
      {
        cause: 'feedersClosed',
        sentence:
          'Nothing arrives at “Drums”: “Kora” is muted, “a” has its trim at −∞, “b” has all its legs muted and 4 more.',
        about: ['drums', 't', 'a', 'b', 'c', 'd', 'e', 'f']
      }
    ]
  },
  'a bus with three feeders that are closed': {
    of: 'drums',
    plant: k => {
      delete k.session.feed.td
      k.main(k.track('c', 'm', { levelDb: null }), 'drums', { id: 'z1' })
      k.main(k.track('d', 'm'), 'drums', { id: 'z2', muted: true })
      k.main(k.track('e', 'm'), 'drums', { id: 'z3', levelDb: null })
    },
    causes: ['Nothing arrives at “Drums”: “c” is at −∞, “d” has a muted feed, “e” sends at −∞.']
  },
  'a bus with a feeder of which one is open': {
    of: 'drums',
    plant: k => {
      k.session.channel.t!.muted = true
      k.main(k.track('u', 'm'), 'drums')
    },
    causes: []
  },
  'a bus fed before a fader that is closed': {
    of: 'drums',
    plant: k => {
      k.session.channel.t!.levelDb = null
      k.session.feed.td!.tap = 'pre'
    },
    causes: []
  },
  'a bus fed only by ports that are closed or elsewhere': {
    of: 'drums',
    plant: k => {
      delete k.session.feed.td
      k.add('feed', { id: 'i', kind: 'input', to: 'drums', ports: ['io-in-1', 'io-in-2'], muted: true })
      k.add('feed', { id: 'j', kind: 'input', to: 'drums', ports: ['there-in-1'] })
    },
    causes: ['Nothing arrives at “Drums”: “In 1, In 2” closed, “In 1” is in another rig.']
  },
  'a bus whose feeder is replaced by a print of it, in another room': {
    of: 'drums',
    plant: k => {
      k.session.feed.td!.to = 'main'
      k.main('t', 'drums', { id: 'zz' })
      printOf(k, 't')
    },
    causes: ['Nothing arrives at “Drums”: “Kora” is replaced by its print.']
  },
  'a channel that is parked': {
    plant: k => (k.session.channel.t!.parked = true),
    causes: [
      {
        cause: 'parked',
        sentence: '“Kora” is parked.',
        about: ['t'],
        fix: edit('Bring it back', channel('t', { parked: false }))
      }
    ]
  },
  'a trim at −∞, and legs that are muted': {
    plant: k => Object.assign(k.session.channel.drums!, { trimDb: null, mutedLegs: [0, 1] }),
    causes: [
      {
        cause: 'trim',
        sentence: 'The trim of “Drums” is at −∞.',
        about: ['drums'],
        fix: edit('Set it to 0 dB', channel('drums', { trimDb: 0 }))
      },
      {
        cause: 'legs',
        sentence: 'All legs of “Drums” are muted.',
        about: ['drums'],
        fix: edit('Open them', channel('drums', { mutedLegs: [] }))
      }
    ]
  },
  'one leg of two that is muted': { plant: k => (k.session.channel.drums!.mutedLegs = [1]), causes: [] },
  'a mute, and a fader at −∞': {
    plant: k => Object.assign(k.session.channel.t!, { muted: true, levelDb: null }),
    causes: [
      {
        cause: 'muted',
        sentence: '“Kora” is muted.',
        about: ['t'],
        fix: edit('Open it', channel('t', { muted: false }))
      },
      {
        cause: 'level',
        sentence: 'The level of “Kora” is at −∞.',
        about: ['t'],
        fix: edit('Set it to 0 dB', channel('t', { levelDb: 0 }))
      }
    ]
  },
  'a ride that stays at −∞, of the channel and of its feed': {
    plant: k => {
      k.move({ channel: 't' }, 'levelDb', [[0, null]], { id: 'r1' })
      k.move({ feed: 'td' }, 'levelDb', [[0, null]], { id: 'r2' })
    },
    causes: [
      {
        cause: 'ride',
        sentence: 'The level ride of “Kora” stays at −∞ from beginning to end.',
        about: ['t'],
        fix: edit('Remove the ride', { verb: 'removeEnvelopes', args: { ids: ['r1'] } })
      },
      {
        cause: 'ride',
        sentence: 'The level ride of the feed from “Kora” to “Drums” stays at −∞ from beginning to end.',
        about: ['t'],
        fix: edit('Remove the ride', { verb: 'removeEnvelopes', args: { ids: ['r2'] } })
      }
    ]
  },
  'a feed that is muted and at −∞': {
    plant: k => Object.assign(k.session.feed.dm!, { muted: true, levelDb: null }),
    causes: [
      {
        cause: 'feedMuted',
        sentence: 'The feed from “Drums” to “Main” is muted.',
        about: ['drums'],
        fix: edit('Open it', feed('dm', { muted: false }))
      },
      {
        cause: 'feedLevel',
        sentence: 'The feed from “Drums” to “Main” is at −∞.',
        about: ['drums'],
        fix: edit('Set it to 0 dB', feed('dm', { levelDb: 0 }))
      }
    ]
  },
  'no main feed at all': {
    plant: k => delete k.session.feed.dm,
    causes: [{ cause: 'nowhere', sentence: '“Drums” has no main feed: it leads nowhere.', about: ['drums'] }]
  },
  'only a send': {
    plant: k => {
      delete k.session.feed.dm
      k.send('drums', 'main', -6)
    },
    causes: ['“Drums” has no main feed: it leads nowhere.']
  },
  'a feed to ports of another room': {
    plant: k => {
      delete k.session.feed.dm
      k.add('feed', { id: 'x', kind: 'port', from: 'drums', ports: ['there-out-1'] })
    },
    causes: [
      {
        cause: 'otherRig',
        sentence: '“Drums” goes to Out 1, which is in “Dome”; this session works in another rig.',
        about: ['drums'],
        fix: edit('Work in that rig', setSession({ rig: 'far' }))
      },
      {
        cause: 'unheard',
        sentence: '“Drums” does not lead to “Main”, which is what is heard.',
        about: ['drums', 'main'],
        fix: edit('Hear “Drums”', setSession({ heardChannel: 'drums' }))
      }
    ]
  },
  'another main than the one that is heard': {
    plant: k => {
      k.bus('other', { role: 'main', name: 'Other' })
      k.session.session.session.heardChannel = 'other'
    },
    causes: [
      {
        cause: 'unheard',
        sentence: '“Main” does not lead to “Other”, which is what is heard.',
        about: ['main', 'other'],
        fix: edit('Hear “Main”', setSession({ heardChannel: 'main' }))
      }
    ]
  },
  'nothing chosen to be heard': { plant: k => (k.session.session.session.heardChannel = null), causes: [] },
  'the listening level': {
    plant: k => (k.session.session.session.heardLevelDb = null),
    causes: [
      {
        cause: 'listening',
        sentence: 'The listening level is at −∞.',
        about: [],
        fix: edit('Set it to 0 dB', setSession({ heardLevelDb: 0 }))
      }
    ]
  },
  'a layout in which there is no place': {
    plant: k =>
      Object.assign(k.session.channel.drums!, { layout: ['LFE'] }) && (k.session.channel.main!.layout = ['M']),
    causes: [
      {
        cause: 'narrowed',
        sentence: 'No leg of “Drums” (LFE) has a place in “Main” (M).',
        about: ['drums', 'main'],
        fix: edit('Give “Main” the layout of “Drums”', {
          verb: 'setLayout',
          args: { ids: ['main'], layout: ['LFE'], dropping: true }
        })
      }
    ]
  },
  'solo elsewhere': {
    plant: k => {
      for (const id of ['x', 'y']) k.main(k.track(id, 'm', { name: id.toUpperCase(), soloed: true }), 'main')
    },
    causes: [
      {
        cause: 'solo',
        sentence: 'Something else is soloed: “X”, “Y”.',
        about: ['t', 'x', 'y'],
        fix: edit('End every solo', { verb: 'setChannels', args: { ids: ['x', 'y'], fields: { soloed: false } } })
      }
    ]
  },
  'a print in its place': {
    plant: k => printOf(k, 'drums'),
    causes: [
      {
        cause: 'printStands',
        sentence: '“Print” is printed from “Drums” and stands in its place.',
        about: ['drums', 'p'],
        fix: undefined
      }
    ]
  },
  'a loop from which nothing comes back': {
    plant: k => withLoop(k),
    causes: [
      {
        cause: 'loop',
        sentence: 'Loop “Spring” on “Drums”: no cable leads from Box to In 1.',
        about: ['drums', 'l'],
        fix: BYPASS
      }
    ]
  },
  'a loop whose send, or return, is at −∞': {
    plant: k => withLoop(k, {}, { sendDb: null }),
    causes: [
      { cause: 'loop', sentence: 'Loop “Spring” on “Drums” has its send at −∞.', about: ['drums', 'l'], fix: BYPASS }
    ]
  },
  'a loop whose return is at −∞': {
    plant: k => withLoop(k, {}, { returnDb: null }),
    causes: ['Loop “Spring” on “Drums” has its return at −∞.']
  },
  'a loop that is bypassed, or half wet': { plant: k => withLoop(k, { mix: 0.5 }), causes: [] },
  'a loop that is off': { plant: k => withLoop(k, { state: 'off' }), causes: [] },
  'a loop behind the tap that leaves': {
    plant: k => {
      withLoop(k, { afterFader: true })
      k.session.feed.dm!.tap = 'pre'
    },
    causes: []
  },
  'a loop before the tap that leaves': {
    plant: k => {
      withLoop(k)
      k.session.feed.dm!.tap = 'pre'
    },
    causes: ['Loop “Spring” on “Drums”: no cable leads from Box to In 1.']
  },
  'a loop behind an input tap': {
    plant: k => {
      withLoop(k)
      k.session.feed.dm!.tap = 'input'
    },
    causes: []
  },
  'a mute that a port feed does not follow, and one that does': {
    plant: k => {
      delete k.session.feed.dm
      Object.assign(k.session.channel.drums!, { muted: true })
      k.cable('r', 'io-out-1', 'io-in-1')
      k.add('feed', { id: 'o', kind: 'port', from: 'drums', ports: ['io-out-1'], tap: 'pre' })
      k.add('feed', { id: 'i', kind: 'input', to: 'main', ports: ['io-in-1'] })
    },
    causes: []
  },
  'a mute that a port feed follows': {
    plant: k => {
      delete k.session.feed.dm
      Object.assign(k.session.channel.drums!, { muted: true })
      k.cable('r', 'io-out-1', 'io-in-1')
      k.add('feed', { id: 'o', kind: 'port', from: 'drums', ports: ['io-out-1'], tap: 'pre', withMute: true })
      k.add('feed', { id: 'i', kind: 'input', to: 'main', ports: ['io-in-1'] })
    },
    causes: ['“Drums” is muted.']
  },
  'a unit that is off between two channels': {
    plant: k => {
      delete k.session.feed.dm
      k.unit('amp', 'r', 'tube-amplifier', {}, { name: 'Amp', powered: false })
      k.cable('r', 'io-out-1', 'amp:0')
      k.cable('r', 'amp:0', 'io-in-1')
      k.add('feed', { id: 'o', kind: 'port', from: 'drums', ports: ['io-out-1'] })
      k.add('feed', { id: 'i', kind: 'input', to: 'main', ports: ['io-in-1'] })
    },
    causes: [
      {
        cause: 'unit',
        sentence: 'Amp is off.',
        about: ['t', 'amp'],
        fix: edit('Switch Amp on', { verb: 'setUnit', args: { id: 'amp', fields: { powered: true } } })
      }
    ]
  }
}

describe('silence is told to the word', () => {
  it.each(Object.keys(CASES))('%s', name => {
    const { of = 't', plant, causes } = CASES[name]!
    const k = session()
    plant(k)
    const found = whySilent(k.session, of)
    expect(found.map(c => c.sentence)).toEqual(causes.map(c => (typeof c === 'string' ? c : c.sentence)))
    causes.forEach((cause, i) => {
      if (typeof cause !== 'string') expect(found[i]).toMatchObject(JSON.parse(JSON.stringify(cause)))
      if (typeof cause !== 'string' && 'fix' in cause && !cause.fix) expect(found[i]!.fix).toBeUndefined()
    })
  })
})
