// What a fingerprint promises, on generated sessions and edits that are rendered: other samples, another fingerprint;
// and the same one where only names, colours, solo, what is heard or rows elsewhere changed.
import { createHash } from 'node:crypto'
import { describe, expect, it } from 'vitest'
import { applyEdit } from '../edits/apply'
import { rows, type Session } from '../session/session'
import { Dice } from '../testing/generated'
import { carriedOut } from '../testing/carriedOut'
import { generatedEdit } from '../testing/generatedEdits'
import { Sketch } from '../testing/sketch'
import { renderTaps, whiteNoise } from '../testing/sound'
import { Network } from '../graph/network'
import { fingerprint } from './fingerprint'
import { partName, staleParts } from './stale'
import { tracksOf } from './stems'
import { times } from '../testing/lengths'

const FRAMES = 3000
const HISTORIES = times(10, 200),
  EDITS = 30
const TAPS = ['post', 'pre', 'input'] as const
const media = Object.fromEntries([1, 2, 3, 4, 5].map(n => [`m${n}`, [whiteNoise(FRAMES, n, 0.3)]]))

/**
 * Tracks, submix, return, keys, a loop, a chain through ports, a print with its source: all that a fingerprint has to
 * know.
 */
function everything(): Session {
  const k = new Sketch('Everything')
  k.bus('main', { role: 'main' })
  k.bus('drums')
  k.bus('hall', { role: 'return' })
  k.bus('back')
  k.bus('side')
  for (const b of ['drums', 'hall', 'back']) k.main(b, 'main')
  for (const n of [1, 2, 3, 4]) {
    k.medium(`m${n}`, 1, FRAMES)
    k.track(`t${n}`, `m${n}`, { layout: ['M'] })
    k.main(`t${n}`, n < 3 ? 'drums' : 'main')
  }
  k.medium('m5', 1, FRAMES)
  k.track('printed', 'm5', { layout: ['M'], listen: 'follow' })
  k.main('printed', 'main')
  k.track('wet', undefined, { layout: ['M'], listen: 'feed' })
  k.main('wet', 'main')
  k.send('t1', 'hall', -9)
  k.send('t3', 'hall', -6, 'pre')
  k.slot('hall', 'reverb', { decayS: 0.4 })
  k.slot('drums', 'equaliser', { kind1: 'bell', db1: 4 })
  k.key('t2', k.slot('drums', 'compressor', { thresholdDb: -30 }))
  k.slot('t4', 'delay', { timeMs: 9 }, { mix: 0.3 })
  k.rig('loft', { name: 'Loft' })
  k.interface('desk', 'loft', 4, 4)
  k.unit('amp', 'loft', 'tube-amplifier')
  k.unit('wire', 'loft', 'wire')
  k.cable('loft', 'desk-out-1', 'amp:0')
  k.cable('loft', 'amp:0', 'desk-in-1')
  k.cable('loft', 'desk-out-2', 'wire:0')
  k.cable('loft', 'wire:0', 'desk-in-2')
  k.add('loop', { id: 'amp-loop', rig: 'loft', name: 'Amp loop', outPorts: ['desk-out-1'], inPorts: ['desk-in-1'] })
  k.add('slot', { id: 'amp-slot', channel: 't3', processor: 'loop', loop: 'amp-loop', mix: 0.5 })
  k.add('feed', { id: 'out', kind: 'port', from: 't4', ports: ['desk-out-2'], tap: 'post' })
  k.add('feed', { id: 'in', kind: 'input', to: 'back', ports: ['desk-in-2'] })
  k.add('feed', { id: 'in2', kind: 'input', to: 'wet', ports: ['desk-in-1'] })
  k.add('print', {
    id: 'p',
    channel: 'printed',
    source: 't2',
    tap: 'pre',
    takesOver: true,
    fingerprint: '',
    parts: {},
    seed: 1,
    frames: FRAMES
  })
  Object.assign(k.session.session.session, { heardChannel: 'main', rig: 'loft' })
  return k.session
}

const listening = (dice: Dice, s: Session) => {
  const track = dice.pick(['printed', 'wet', 't1', 't4'].filter(id => s.channel[id]).concat('main'))
  return dice.pick([
    { verb: 'setChannels', args: { ids: [track], fields: { ready: dice.chance(0.5) } } },
    { verb: 'setChannels', args: { ids: [track], fields: { listen: dice.pick(['print', 'feed', 'follow']) } } },
    { verb: 'setChannels', args: { ids: [track], fields: { parked: dice.chance(0.5) } } },
    { verb: 'setUnit', args: { id: 'wire', fields: { powered: dice.chance(0.5) } } },
    { verb: 'setUnit', args: { id: 'amp', fields: { settings: { driveDb: dice.below(40) } } } },
    { verb: 'setInterface', args: { id: 'desk', fields: { trueLatencySamples: 100 + dice.below(60) } } },
    {
      verb: 'setFeeds',
      args: { ids: [dice.pick(['out', 'in', 'in2'])], fields: { muted: dice.chance(0.5), levelDb: -dice.below(12) } }
    }
  ])
}

const EXTRA = { seed: 1, from: 0, frames: FRAMES }
async function heard(s: Session, taps: { channel: string; tap: (typeof TAPS)[number] }[], only?: ReadonlySet<string>) {
  const given = Object.fromEntries(rows(s, 'medium').map(m => [m.id, media[m.id]!]))
  const got = await renderTaps(s, given, FRAMES, { taps, seed: 1, only })
  return new Map(
    [...got].map(([name, legs]) => [name, legs.reduce((h, l) => h.update(l), createHash('sha256')).digest('hex')])
  )
}

describe('fingerprints', () => {
  it(`of ${HISTORIES * EDITS} generated edits: other samples, another fingerprint`, async () => {
    let changed = 0,
      stayed = 0
    for (let seed = 1; seed <= HISTORIES; seed++) {
      const dice = new Dice(seed)
      let session = everything(),
        serial = 0
      let sounds = new Map<string, string>(),
        prints = new Map<string, string>()
      for (let n = 0; n < EDITS; n++) {
        const edit = dice.chance(0.4)
          ? listening(dice, session)
          : generatedEdit(dice, session, () => `n${seed}-${++serial}`)
        const done = carriedOut(session, edit)
        if (!done) continue
        session = done.session
        const taps = rows(session, 'channel').flatMap(c => TAPS.map(tap => ({ channel: c.id, tap })))
        const nowSounds = await heard(session, taps),
          nowPrints = new Map(
            taps.map(t => [`${t.channel}@${t.tap}`, fingerprint(session, t.channel, t.tap, EXTRA).hash])
          )
        for (const [tap, sound] of nowSounds) {
          if (!sounds.has(tap)) continue
          if (sounds.get(tap) === sound) {
            stayed++
            continue
          }
          changed++
          expect(
            prints.get(tap) === nowPrints.get(tap),
            `seed ${seed}, edit ${n}, ${tap}: ${JSON.stringify(edit)}`
          ).toBe(false)
        }
        sounds = nowSounds
        prints = nowPrints
      }
    }
    expect(changed).toBeGreaterThan(HISTORIES * 3)
    expect(stayed).toBeGreaterThan(HISTORIES * 3)
  }, 600_000)

  it('of shares under generated edits: other samples, another fingerprint', async () => {
    let changed = 0
    for (let seed = 1; seed <= HISTORIES; seed++) {
      const dice = new Dice(seed + 1000)
      let session = everything(),
        serial = 0
      let before: [sound: string, print: string] | null = null
      for (let n = 0; n < EDITS; n++) {
        const edit = generatedEdit(dice, session, () => `s${seed}-${++serial}`)
        const done = carriedOut(session, edit)
        if (!done) continue
        session = done.session
        if (!session.channel.drums || !session.channel.main) break
        const only = tracksOf(new Network(session), 'drums')
        const taps = [{ channel: 'main', tap: 'post' as const }]
        const sound = (await heard(session, taps, only)).get('main@post')!
        const print = fingerprint(session, 'main', 'post', EXTRA, 'drums').hash
        if (before && before[0] !== sound) {
          changed++
          expect(before[1] === print, `seed ${seed}, edit ${n}: ${JSON.stringify(edit)}`).toBe(false)
        }
        before = [sound, print]
      }
    }
    expect(changed).toBeGreaterThan(HISTORIES)
  }, 600_000)

  const of = (s: Session, tap = 'post' as (typeof TAPS)[number], source = 'main') =>
    fingerprint(s, source, tap, EXTRA).hash
  const edited = (s: Session, verb: string, args: unknown) => applyEdit(s, { verb, args }).session

  it.each<[string, string, unknown]>([
    ['a name', 'renameChannels', { names: [{ id: 't1', name: 'Other' }] }],
    ['a colour', 'setChannels', { ids: ['t1', 'main'], fields: { colour: 3 } }],
    ['a family', 'setChannels', { ids: ['t1'], fields: { family: 'Choir' } }],
    ['solo', 'setChannels', { ids: ['t1'], fields: { soloed: true } }],
    ['what is solo-safe', 'setChannels', { ids: ['hall'], fields: { safe: true } }],
    ['what is heard', 'setSession', { heardChannel: 'drums' }],
    ['how loud it is heard', 'setSession', { heardLevelDb: -12 }],
    ['a channel that leads elsewhere', 'setChannels', { ids: ['side'], fields: { levelDb: -7 } }],
    ['a slot that leads elsewhere', 'addSlot', { id: 's9', channel: 'side', processor: 'gate', order: 'a0' }],
    ['a link', 'setLink', { id: 'l', fields: { name: 'Both', members: ['t1', 't2'] } }],
    [
      'a new track that goes nowhere',
      'createChannels',
      { channels: [{ id: 'x', name: 'X', order: 'b', feedId: 'xf' }], role: 'track', layout: ['M'], to: null }
    ],
    [
      'a unit that nothing passes',
      'setUnit',
      { id: 'spare', rig: 'loft', fields: { name: 'Spare', model: 'wire', order: 'b' } }
    ]
  ])('are the same after a change of %s', (_, verb, args) => {
    const session = everything()
    expect(of(edited(session, verb, args))).toBe(of(session))
  })

  it('are the same after a change behind what is closed, and others when it opens', () => {
    const muted = edited(everything(), 'setChannels', { ids: ['t4'], fields: { muted: true } })
    expect(of(edited(muted, 'setChannels', { ids: ['t4'], fields: { trimDb: -3 } }))).toBe(of(muted))
    expect(of(edited(muted, 'setChannels', { ids: ['t4'], fields: { muted: false } }))).not.toBe(of(muted))
    // The feed of the input does not pass the fader.
    expect(of(edited(everything(), 'setChannels', { ids: ['t1'], fields: { levelDb: -3 } }), 'input', 't1')).toBe(
      of(everything(), 'input', 't1')
    )
  })

  it.each<[string, string, unknown, RegExp]>([
    ['a unit behind an input feed without a loop', 'setUnit', { id: 'wire', fields: { powered: false } }, /^wire$/],
    ['what feeds a port', 'setFeeds', { ids: ['out'], fields: { muted: true } }, /a port feed from t4/],
    ['ready', 'setChannels', { ids: ['wet'], fields: { listen: 'print', ready: false } }, /an? input feed/],
    ['an interface', 'setInterface', { id: 'desk', fields: { trueLatencySamples: 133.25 } }, /port /],
    ['a mute', 'setChannels', { ids: ['t3'], fields: { muted: true } }, /t3/]
  ])('say what made a print stale: %s', (_, verb, args, name) => {
    const session = everything(),
      { hash, parts } = fingerprint(session, 'main', 'post', EXTRA)
    const print = {
      ...session.print.p!,
      id: 'whole',
      channel: 'side',
      source: 'main',
      tap: 'post' as const,
      fingerprint: hash,
      parts,
      takesOver: false
    }
    const printed = { ...session, print: { ...session.print, whole: print } }
    expect(staleParts(printed, 'whole')).toEqual([])
    const now = edited(printed, verb, args)
    expect(
      staleParts(now, 'whole')
        .map(p => partName(now, p))
        .join('; ')
    ).toMatch(name)
    expect(
      staleParts({ ...now, print: { ...now.print, whole: { ...print, parts: { session: 'x' } } } }, 'whole').map(p =>
        partName(now, p)
      )
    ).toEqual(['what counts: it was printed by an earlier version'])
  })
})
