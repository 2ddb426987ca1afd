// On generated sessions with planted causes, every cause is found and none is invented; and the fixes make it sound.
import { describe, expect, it } from 'vitest'
import { applyEdit } from '../edits/apply'
import { renderTaps, peak, whiteNoise } from '../testing/sound'
import { Dice, generatedNetwork } from '../testing/generated'
import { Sketch } from '../testing/sketch'
import { settings, type Session } from '../session/session'
import { Network } from './network'
import { pathToEars, stagesToEars } from './path'
import { whySilent } from './whySilent'

const mainFeed = (s: Session, from: string) => Object.values(s.feed).find(f => f.kind === 'main' && f.from === from)!

/** Plants one cause at a stage; returns how it should be told, or null where it does not fit. */
const PLANTS: Record<string, (k: Sketch, path: string[], at: number) => string | null> = {
  muted: (k, path, at) => {
    k.session.channel[path[at]].muted = true
    return `muted ${path[at]}`
  },
  level: (k, path, at) => {
    k.session.channel[path[at]].levelDb = null
    return `level ${path[at]}`
  },
  ride: (k, path, at) => {
    const last = at === path.length - 1
    k.move(last ? { channel: path[at] } : { feed: mainFeed(k.session, path[at]).id }, 'levelDb', [
      [0, null],
      [1000, -120]
    ])
    return `ride ${path[at]}`
  },
  trim: (k, path, at) => {
    k.session.channel[path[at]].trimDb = null
    return `trim ${path[at]}`
  },
  legs: (k, path, at) => {
    const c = k.session.channel[path[at]]
    c.mutedLegs = c.layout.map((_, i) => i)
    return `legs ${path[at]}`
  },
  parked: (k, path, at) => {
    k.session.channel[path[at]].parked = true
    return `parked ${path[at]}`
  },
  feedMuted: (k, path, at) => {
    if (at === path.length - 1) return null
    mainFeed(k.session, path[at]).muted = true
    return `feedMuted ${path[at]}`
  },
  feedLevel: (k, path, at) => {
    if (at === path.length - 1) return null
    mainFeed(k.session, path[at]).levelDb = null
    return `feedLevel ${path[at]}`
  },
  loop: (k, path, at) => {
    if (k.session.rig.r) return null
    k.rig('r')
    k.interface('io', 'r', 2, 2)
    k.unit('box', 'r', 'wire')
    k.cable('r', 'io-out-1', 'box:0')
    k.add('loop', { id: 'lp', rig: 'r', name: 'Box', outPorts: ['io-out-1'], inPorts: ['io-in-1'] })
    k.slot(path[at], 'loop', {}, { loop: 'lp' })
    return `loop ${path[at]}`
  },
  noClip: (k, path) => {
    delete k.session.clip[`${path[0]}-clip`]
    return `noClip ${path[0]}`
  },
  emptyClip: (k, path) => {
    const clip = k.session.clip[`${path[0]}-clip`]
    if (!clip) return null
    clip.gainDb = null
    return `emptyClip ${path[0]}`
  },
  listening: k => {
    k.session.session.session.heardLevelDb = null
    return 'listening undefined'
  },
  solo: (k, path) => {
    // Something elsewhere that neither feeds the path nor is on it.
    k.medium('m-else', 1, 100)
    k.track('elsewhere', 'm-else')
    k.main('elsewhere', 'main')
    k.session.channel.elsewhere.soloed = true
    return `solo ${path[0]}`
  }
}

describe('why is this silent?', () => {
  it('finds every planted cause and invents none, on a hundred generated sessions', () => {
    for (let seed = 1; seed <= 100; seed++) {
      const dice = new Dice(seed)
      const k = generatedNetwork(seed, { tracks: 8, submixes: 5, returns: 2, stems: 3, sends: 6, keys: 2 })
      const path = pathToEars(new Network(k.session), 't0')
      expect(whySilent(k.session, 't0'), `seed ${seed}`).toEqual([])
      const planted = new Set<string>()
      for (const name of dice.some(Object.keys(PLANTS), 1 + dice.below(4))) {
        // An absent clip cannot be silent as well.
        if ((name === 'emptyClip' && planted.has('noClip t0')) || (name === 'noClip' && planted.has('emptyClip t0')))
          continue
        const told = PLANTS[name](k, path, dice.below(path.length))
        if (told) planted.add(told)
      }
      const found = whySilent(k.session, 't0').map(c => `${c.cause} ${c.about[0]}`)
      expect(new Set(found), `seed ${seed}`).toEqual(planted)
      const places = found.map(f => path.indexOf(f.split(' ')[1])).filter(p => p >= 0)
      if (!found.some(f => /^(solo|listening)/.test(f)))
        expect(places, `seed ${seed}: nearest first`).toEqual([...places].sort((a, b) => a - b))
    }
  })

  it('its fixes, one after the other, make the channel heard in a render', async () => {
    for (const name of Object.keys(PLANTS).filter(n => n !== 'noClip' && n !== 'emptyClip' && n !== 'listening')) {
      const k = generatedNetwork(7, { tracks: 3, submixes: 2, returns: 0, stems: 1, sends: 0, keys: 0, frames: 4096 })
      const media = Object.fromEntries(
        ['t0', 't1', 't2'].map((id, i) => [`m-${id}`, [id === 't0' ? whiteNoise(4096, i) : new Float32Array(4096)]])
      )
      PLANTS[name](k, pathToEars(new Network(k.session), 't0'), 1)
      const heard = async (s: Session) =>
        peak(
          (
            await renderTaps(s, { ...media, 'm-else': [new Float32Array(100)] }, 4096, {
              taps: [{ channel: 'main', tap: 'post' }],
              live: true
            })
          ).get('main@post')![0]
        )
      expect(await heard(k.session), name).toBeLessThan(1e-4)
      let now = k.session
      for (let left = whySilent(now, 't0'); left.length; left = whySilent(now, 't0'))
        now = applyEdit(now, left[0].fix!.edit).session
      expect(await heard(now), name).toBeGreaterThan(0.01)
    }
  })

  it('names a narrowed layout, a bus whose feeders are all closed, and a unit that is off on the way through the rig', () => {
    const k = new Sketch()
    k.bus('main', { role: 'main' })
    k.bus('mono', { layout: ['M'] })
    k.main('mono', 'main')
    k.medium('m', 1, 10)
    k.track('low', 'm', { layout: ['LFE'] })
    k.main('low', 'mono')
    k.session.session.session.heardChannel = 'main'
    expect(whySilent(k.session, 'low').map(c => c.cause)).toEqual(['narrowed'])
    k.session.channel.low.muted = true
    expect(whySilent(k.session, 'mono')[0].sentence).toBe('Nothing arrives at “mono”: “low” is muted.')

    const r = new Sketch()
    r.rig('r')
    r.interface('io', 'r', 2, 2)
    r.unit('box', 'r', 'summing-8', {}, { name: 'Box', powered: false })
    r.cable('r', 'io-out-1', 'box:0')
    r.cable('r', 'box:0', 'io-in-1')
    r.bus('stem', { role: 'stem' })
    r.bus('back', { role: 'main', layout: ['M'] })
    r.add('feed', { id: 'out', kind: 'port', from: 'stem', ports: ['io-out-1'] })
    r.add('feed', { id: 'in', kind: 'input', to: 'back', ports: ['io-in-1'] })
    r.medium('m', 1, 10)
    r.main(r.track('t', 'm'), 'stem')
    r.session.session.session.heardChannel = 'back'
    expect(stagesToEars(new Network(r.session), 't').map(s => s.id)).toEqual([
      't',
      'stem',
      'io-out-1',
      'box',
      'io-in-1',
      'back'
    ])
    expect(whySilent(r.session, 't').map(c => c.sentence)).toEqual(['Box is off.'])
    r.session.unit.box.powered = true
    expect(whySilent(r.session, 't')).toEqual([])
    expect(settings(r.session).heardChannel).toBe('back')
  })

  it('asks only for what lies before the tap that leaves', () => {
    const k = new Sketch()
    k.medium('m', 1, 10)
    k.bus('main', { role: 'main' })
    k.track('t', 'm', { levelDb: null })
    k.add('feed', { id: 'f', kind: 'main', from: 't', to: 'main', tap: 'pre' })
    k.session.session.session.heardChannel = 'main'
    expect(whySilent(k.session, 't')).toEqual([])
    expect(whySilent(k.session, 'main')).toEqual([])
    k.session.feed.f.tap = 'post'
    expect(whySilent(k.session, 't').map(c => c.cause)).toEqual(['level'])
    expect(whySilent(k.session, 'main').map(c => c.cause)).toEqual(['feedersClosed'])
    // A print of the post tap does not stand for what leaves before the fader.
    k.track('p', 'm')
    k.main('p', 'main')
    k.add('print', {
      id: 'row',
      channel: 'p',
      source: 't',
      tap: 'post',
      takesOver: true,
      fingerprint: '',
      parts: {},
      seed: 1,
      frames: 10
    })
    expect(whySilent(k.session, 't').map(c => c.cause)).toEqual(['level', 'printStands'])
    k.session.feed.f.tap = 'pre'
    expect(whySilent(k.session, 't')).toEqual([])
    k.session.channel.t.muted = true
    expect(whySilent(k.session, 't').map(c => c.cause)).toEqual(['muted'])
  })

  it('of a track that follows: what it plays counts while it is not ready', () => {
    const k = new Sketch()
    k.medium('m', 1, 10)
    k.bus('main', { role: 'main' })
    k.main(k.track('t', 'm', { listen: 'follow' }), 'main')
    k.rig('r')
    k.interface('io', 'r', 1, 1)
    k.add('feed', { id: 'i', kind: 'input', to: 't', ports: ['io-in-1'] })
    k.session.session.session.heardChannel = 'main'
    Object.values(k.session.clip)[0]!.gainDb = null
    expect(whySilent(k.session, 't').map(c => c.cause)).toEqual(['emptyClip'])
    k.session.channel.t.ready = true
    expect(whySilent(k.session, 't')).toEqual([])
  })
})
