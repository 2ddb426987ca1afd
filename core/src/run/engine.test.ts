// The engine against the slow reference: small sessions of every kind, each nulled.
import { describe, expect, it } from 'vitest'
import { PROCESSORS } from '../processors/table'
import { LAYOUTS } from '../session/layouts'
import { Sketch, pingOf } from '../testing/sketch'
import type { Params } from '../session/rows'
import { rows, type Session } from '../session/session'
import { reference } from '../testing/reference/reference'
import { difference, peak, renderTaps, rmsDb, whiteNoise } from '../testing/sound'

const FRAMES = 6000
const media = {
  a: [whiteNoise(FRAMES, 1)],
  b: [whiteNoise(FRAMES, 2)],
  s: [whiteNoise(FRAMES, 3), whiteNoise(FRAMES, 4)],
  six: [5, 6, 7, 8, 9, 10].map(seed => whiteNoise(FRAMES, seed, 0.2))
}

function start(): Sketch {
  const k = new Sketch()
  k.medium('a', 1, FRAMES)
  k.medium('b', 1, FRAMES)
  k.medium('s', 2, FRAMES)
  k.bus('main', { role: 'main' })
  return k
}

/** One interface with four ports each way, quiet and without a corner unless it is said. */
function rig(k: Sketch, trueLatencySamples: number, fields: object = {}): void {
  k.rig('room')
  k.interface('i', 'room', 4, 4, { trueLatencySamples, noiseDbfs: null, dcCornerHz: null, ...fields })
}
const PAIR = { id: 'loop', rig: 'room', name: 'Pair', outPorts: ['i-out-1', 'i-out-2'], inPorts: ['i-in-1', 'i-in-2'] }

/** Of bands of an equaliser. */
const KINDS = ['bell', 'low shelf', 'high shelf', 'notch'] as const

const cases: Record<string, (k: Sketch) => void> = {
  'one mono track': k => {
    k.main(k.track('t', 'a'), 'main')
  },
  'one stereo track': k => {
    k.main(k.track('t', 's'), 'main')
  },
  'pan left': k => {
    k.main(k.track('t', 'a', { pan: -0.6 }), 'main')
  },
  'balance right': k => {
    k.main(k.track('t', 's', { pan: 0.7 }), 'main')
  },
  'level, trim, polarity': k => {
    k.main(k.track('t', 's', { levelDb: -7.3, trimDb: 2.5, flippedLegs: [1] }), 'main')
  },
  'a muted leg': k => {
    k.main(k.track('t', 's', { mutedLegs: [0] }), 'main')
  },
  'cuts': k => {
    k.main(k.track('t', 's', { lowCutHz: 180, highCutHz: 6000 }), 'main')
  },
  'a muted track': k => {
    k.main(k.track('t', 'a', { muted: true }), 'main')
    k.main(k.track('u', 'b'), 'main')
  },
  'level at −∞': k => {
    k.main(k.track('t', 'a', { levelDb: null }), 'main')
    k.main(k.track('u', 'b'), 'main')
  },
  'two submixes in a row': k => {
    k.bus('one', { levelDb: -3 })
    k.bus('two', { levelDb: -2, pan: 0.2 })
    k.main(k.track('t', 'a'), 'one')
    k.main(k.track('u', 's'), 'one')
    k.main('one', 'two')
    k.main('two', 'main')
  },
  'a mono submix': k => {
    k.bus('one', { layout: ['M'] })
    k.main(k.track('t', 's'), 'one')
    k.main('one', 'main')
  },
  'a bus that splits': k => {
    k.bus('one')
    k.bus('two', { levelDb: -9 })
    k.bus('three', { flippedLegs: [0] })
    k.main(k.track('t', 's'), 'one')
    k.main('one', 'two')
    k.main('one', 'three')
    k.main('two', 'main')
    k.main('three', 'main')
  },
  'sends before and after the fader': k => {
    k.bus('return', { role: 'return', levelDb: -4 })
    k.main('return', 'main')
    const t = k.track('t', 'a', { levelDb: -12, pan: 0.3 })
    k.main(t, 'main')
    k.send(t, 'return', -6, 'pre')
    k.send(t, 'return', -3, 'post', { pan: -1 })
    k.send(t, 'return', -20, 'input')
  },
  'a muted track sends nothing': k => {
    k.bus('return', { role: 'return' })
    k.main('return', 'main')
    const t = k.track('t', 'a', { muted: true })
    k.send(t, 'return', 0, 'pre')
    k.main(k.track('u', 'b'), 'main')
  },
  'an equaliser': k => {
    k.main(k.track('t', 's'), 'main')
    k.slot('t', 'equaliser', {
      kind1: 'bell',
      hz1: 900,
      db1: 6,
      q1: 1.4,
      kind2: 'high shelf',
      hz2: 5000,
      db2: -4,
      q2: 0.7,
      kind3: 'notch',
      hz3: 60,
      q3: 4
    })
  },
  'a bell at 30 Hz': k => {
    k.main(k.track('t', 's'), 'main')
    k.slot('t', 'equaliser', { kind1: 'bell', hz1: 30, db1: 12, q1: 2 })
  },
  'steep cuts': k => {
    k.main(k.track('t', 'a'), 'main')
    k.slot('t', 'equaliser', { lowCutSlope: '18', lowCutHz: 120, highCutSlope: '48', highCutHz: 9000 })
  },
  'a compressor': k => {
    k.main(k.track('t', 's'), 'main')
    k.slot('t', 'compressor', { thresholdDb: -24, ratio: 4, kneeDb: 8, makeupDb: 3 })
  },
  'an RMS compressor': k => {
    k.main(k.track('t', 's'), 'main')
    k.slot('t', 'compressor', { detector: 'rms', averageMs: 5, attackMs: 2, thresholdDb: -30 })
  },
  'a compressor that looks ahead': k => {
    k.main(k.track('t', 's'), 'main')
    k.main(k.track('u', 'b'), 'main')
    k.slot('t', 'compressor', { lookAheadMs: 4, thresholdDb: -30, ratio: 6 })
  },
  'compressors at the edges of their settings, side by side': k => {
    const edges: Params[] = [
      { attackMs: 0, releaseMs: 1, kneeDb: 0 },
      { attackMs: 400, releaseMs: 5, kneeDb: 40, thresholdDb: -50 },
      { ratio: 1, makeupDb: -24 },
      { ratio: 100, kneeDb: 0, thresholdDb: -80, makeupDb: 36 },
      { thresholdDb: 0, kneeDb: 40, ratio: 20 },
      { detector: 'rms', averageMs: 1, attackMs: 500, releaseMs: 1, thresholdDb: -40 },
      { detector: 'rms', averageMs: 500, kneeDb: 0, thresholdDb: -60, ratio: 4 },
      { attackMs: 20, releaseMs: 20, thresholdDb: -30, makeupDb: 12 },
      { attackMs: 0, releaseMs: 5000, thresholdDb: -80, kneeDb: 12, ratio: 1.2 }
    ]
    edges.forEach((params, i) => {
      k.main(k.track(`t${i}`, ['a', 'b'][i % 2]!, { levelDb: -20 }), 'main')
      k.slot(`t${i}`, 'compressor', params)
    })
  },
  'equalisers of one to ten sections, side by side': k => {
    for (let bands = 1; bands <= 8; bands++) {
      const params: Params = bands % 3 ? {} : { lowCutSlope: '24', lowCutHz: 90 }
      for (let n = 1; n <= bands; n++)
        Object.assign(params, { [`kind${n}`]: KINDS[(n + bands) % 4], [`db${n}`]: n - 4 })
      for (const [i, medium] of ['a', 'b'].entries()) {
        k.main(k.track(`t${bands}${i}`, medium, { levelDb: -14 }), 'main')
        k.slot(`t${bands}${i}`, 'equaliser', { ...params, q1: 0.5 + i })
      }
    }
  },
  'a keyed compressor': k => {
    k.main(k.track('t', 's'), 'main')
    k.key(k.track('u', 'b'), k.slot('t', 'compressor', { thresholdDb: -30, ratio: 10, attackMs: 1 }), 'input', {
      levelDb: -3
    })
  },
  'a key with its own cuts': k => {
    k.main(k.track('t', 's'), 'main')
    k.key(k.track('u', 'b'), k.slot('t', 'compressor', { thresholdDb: -40 }, { keyLowCutHz: 300, keyHighCutHz: 3000 }))
  },
  'a key survives its channel being muted': k => {
    k.main(k.track('t', 's'), 'main')
    k.main(k.track('u', 'b', { muted: true }), 'main')
    k.key('u', k.slot('t', 'compressor', { thresholdDb: -40 }), 'pre')
  },
  'a key that is later than the audio': k => {
    k.main(k.track('t', 's'), 'main')
    k.track('u', 'b')
    k.slot('u', 'compressor', { lookAheadMs: 3 })
    k.key('u', k.slot('t', 'compressor', { thresholdDb: -40 }), 'pre')
  },
  'two keys into one slot': k => {
    k.main(k.track('t', 's'), 'main')
    k.track('u', 'b')
    k.track('v', 'a')
    const slot = k.slot('t', 'compressor', { thresholdDb: -30 })
    k.key('u', slot)
    k.key('v', slot, 'pre', { levelDb: -6 })
  },
  'slots on both sides of the fader': k => {
    k.main(k.track('t', 's', { levelDb: -10 }), 'main')
    k.slot('t', 'compressor', { thresholdDb: -30 })
    k.slot('t', 'compressor', { thresholdDb: -30 }, { afterFader: true })
  },
  'half wet': k => {
    k.main(k.track('t', 's'), 'main')
    k.slot('t', 'compressor', { lookAheadMs: 1, thresholdDb: -40 }, { mix: 0.4 })
  },
  'bypassed and off': k => {
    k.main(k.track('t', 's'), 'main')
    k.slot('t', 'compressor', { lookAheadMs: 2 }, { state: 'bypassed' })
    k.slot('t', 'equaliser', { kind1: 'bell', db1: 9 }, { state: 'off' })
  },
  'a delay on a return': k => {
    k.bus('return', { role: 'return' })
    k.main('return', 'main')
    k.slot('return', 'delay', { timeMs: 21, feedback: 60, cross: 30 })
    k.main(k.track('t', 'a'), 'main')
    k.send('t', 'return', -6)
  },
  'a delay feeding a return': k => {
    k.bus('echo', { role: 'return' })
    k.bus('room', { role: 'return' })
    k.main('echo', 'main')
    k.main('room', 'main')
    k.slot('echo', 'delay', { timeMs: 15 })
    k.slot('room', 'delay', { timeMs: 7, feedback: 80 })
    k.send(k.track('t', 's'), 'echo', 0)
    k.send('echo', 'room', -3)
  },
  'a processor that is not here': k => {
    k.main(k.track('t', 's'), 'main')
    k.slot('t', 'shimmerbox', { depth: 3 })
  },
  'a level that rides, with a step and a rise from silence': k => {
    k.main(k.track('t', 's', { levelDb: -3 }), 'main')
    k.move({ channel: 't' }, 'levelDb', [
      [500, 0],
      [1333, -12],
      [1333, 3],
      [2001, -60],
      [2400, null],
      [3000, null],
      [3500, 0]
    ])
  },
  'a level that rides behind look-ahead': k => {
    k.main(k.track('t', 's'), 'main')
    k.main(k.track('u', 'b'), 'main')
    k.slot('u', 'compressor', { lookAheadMs: 2, thresholdDb: -40 })
    k.move({ channel: 'u' }, 'levelDb', [
      [100, -20],
      [4111, 6]
    ])
  },
  'a mono track that is panned across': k => {
    k.main(k.track('t', 'a', { pan: 0.5 }), 'main')
    k.move({ channel: 't' }, 'pan', [
      [0, -1],
      [3000, 1],
      [4500, 0.2]
    ])
  },
  'a stereo track whose balance moves': k => {
    k.main(k.track('t', 's'), 'main')
    k.move({ channel: 't' }, 'pan', [
      [700, 1],
      [5000, -1]
    ])
  },
  'a stereo bus panned into mono': k => {
    k.bus('one', { layout: ['M'] })
    k.main('one', 'main')
    k.main(k.track('t', 's'), 'one')
    k.move({ channel: 't' }, 'pan', [
      [700, 1],
      [5000, -1]
    ])
  },
  'sends that ride and move': k => {
    k.bus('return', { role: 'return' })
    k.main('return', 'main')
    const t = k.track('t', 'a', { levelDb: -12, pan: 0.3 })
    k.main(t, 'main')
    const pre = k.send(t, 'return', -6, 'pre'),
      post = k.send(t, 'return', -3, 'post', { pan: -1 })
    k.move({ feed: pre }, 'levelDb', [
      [1000, null],
      [1800, 0]
    ])
    k.move({ feed: post }, 'pan', [
      [0, -1],
      [5999, 1]
    ])
    k.move({ channel: 't' }, 'pan', [
      [2000, 0],
      [4000, -0.7]
    ])
  },
  'a key that rides': k => {
    k.main(k.track('t', 's'), 'main')
    const key = k.key(
      k.track('u', 'b'),
      k.slot('t', 'compressor', { thresholdDb: -30, ratio: 10, attackMs: 1 }),
      'input'
    )
    k.move({ feed: key }, 'levelDb', [
      [0, -40],
      [5000, 0]
    ])
  },
  'an envelope that is off': k => {
    k.main(k.track('t', 's'), 'main')
    k.move({ channel: 't' }, 'levelDb', [[0, -30]], { on: false })
  },
  'a bell that moves': k => {
    k.main(k.track('t', 's'), 'main')
    k.move({ slot: k.slot('t', 'equaliser', { kind1: 'bell', hz1: 900, q1: 1.4 }) }, 'db1', [
      [300, -12],
      [2200, 12],
      [2200, 0],
      [5000, 4]
    ])
  },
  'a mix that moves': k => {
    k.main(k.track('t', 's'), 'main')
    k.move({ slot: k.slot('t', 'compressor', { thresholdDb: -50 }) }, 'mix', [
      [512, 0],
      [3000, 1]
    ])
  },
  'every kind of band and both cuts': k => {
    const t = k.track('t', 's')
    k.main(t, 'main')
    k.slot(t, 'equaliser', {
      ...{ kind1: 'low shelf', hz1: 120, db1: 7, q1: 0.6, kind2: 'bell', hz2: 900, db2: -11, q2: 3 },
      ...{ kind3: 'notch', hz3: 2500, q3: 8, kind4: 'high shelf', hz4: 7000, db4: -5, q4: 0.9 },
      ...{ lowCutSlope: '18', lowCutHz: 45, highCutSlope: '36', highCutHz: 15000 }
    })
  },
  'a gate and a keyed ducker': k => {
    k.main(k.track('t', 's'), 'main')
    k.slot('t', 'gate', { thresholdDb: -9, hysteresisDb: 3, holdMs: 3, attackMs: 0.5, releaseMs: 20, rangeDb: 40 })
    const slot = k.slot('t', 'ducker', { thresholdDb: -7, holdMs: 2, attackMs: 2, releaseMs: 15, lookAheadMs: 1 })
    k.key(k.track('u', 'b'), slot, 'input')
  },
  'a tremolo whose legs swing apart, and width': k => {
    k.main(k.track('t', 's'), 'main')
    k.slot('t', 'tremolo', { hz: 7.3, depth: 80, apart: 30 })
    k.slot('t', 'tremolo', { hz: 11, depth: 40, shape: 'triangle' })
    k.slot('t', 'width', { width: 170 })
  },
  'spectral keying, shifted and stretched': k => {
    k.main(k.track('t', 's'), 'main')
    const slot = k.slot('t', 'spectral', { bands: '16', shift: 5, stretch: 80, attackMs: 2, releaseMs: 30, gainDb: 24 })
    k.key(k.track('u', 'b'), slot, 'pre')
  },
  'saturation, bent to one side, on two legs': k => {
    k.main(k.track('t', 's'), 'main')
    k.slot('t', 'saturation', { driveDb: 18, bias: 0.3, outputDb: -3 })
  },
  'a limiter that works hard, and one that hardly does': k => {
    k.main(k.track('t', 's'), 'main')
    k.slot('t', 'limiter', { driveDb: 12, ceilingDb: -3, lookAheadMs: 1.5, releaseMs: 40 })
    k.slot('t', 'limiter', { ceilingDb: -3.5, lookAheadMs: 0.5 })
  },
  'a reverb on a return': k => {
    k.bus('room', { role: 'return' })
    k.main('room', 'main')
    k.slot('room', 'reverb', { decayS: 0.7, lowDecay: 160, highDecay: 30, preDelayMs: 3, size: 45, diffusion: 70 })
    k.main(k.track('t', 's'), 'main')
    k.send('t', 'room', -2)
  },
  'an impulse reverb that is cut short': k => {
    k.main(k.track('t', 's'), 'main')
    k.slot('t', 'convolution', { response: 'studio', endS: 0.09, preDelayMs: 4, gainDb: -2 }, { mix: 0.5 })
  },
  'an impulse reverb longer than the sound': k => {
    k.main(k.track('t', 's'), 'main')
    k.slot('t', 'convolution', { response: 'sheet', lowCutHz: 90, highCutHz: 9000 })
  },
  'a loop in a slot through a passive equaliser, found and made up for': k => {
    rig(k, 202.4)
    k.unit('u', 'room', 'passive-equaliser', { lowDb: 3, highDb: 5, airDb: -4 })
    for (const side of [0, 1]) {
      k.cable('room', `i-out-${side + 1}`, `u:${side}`)
      k.cable('room', `u:${side}`, `i-in-${side + 1}`, { inverts: side === 1 })
    }
    const loop = k.add('loop', {
      ...PAIR,
      compensated: true,
      applied: true,
      ping: pingOf(202.4),
      sendDb: -3,
      returnDb: 15,
      inverted: true
    })
    k.main(k.track('t', 's'), 'main')
    k.slot('t', 'tremolo', { hz: 5, depth: 50 })
    k.slot('t', 'loop', {}, { loop, mix: 0.6 })
  },
  'a quad bed in a slot through four inputs of a summing unit, back as a pair beside itself': k => {
    rig(k, 64)
    k.unit('u', 'room', 'summing-8', { outputDb: -5, monitorDb: -3 })
    for (let i = 0; i < 4; i++) k.cable('room', `i-out-${i + 1}`, `u:${i}`)
    for (const side of [0, 1]) k.cable('room', `u:${side + 2}`, `i-in-${side + 1}`)
    const outPorts = [1, 2, 3, 4].map(n => `i-out-${n}`)
    const loop = k.add('loop', { ...PAIR, outPorts, compensated: true, applied: true, ping: pingOf(64), sendDb: -6 })
    k.bus('bed', { layout: LAYOUTS.quad })
    k.main(k.track('t', 's'), 'bed')
    k.main(k.track('u1', 'a', { layout: LAYOUTS.mono, pan: 0.3 }), 'bed')
    k.main('bed', 'main')
    k.slot('bed', 'loop', {}, { loop, mix: 0.7 })
  },
  'a re-amp: a port feed through an attenuator and an amplifier, back by an input feed': k => {
    rig(k, 31)
    k.unit('box', 'room', 'reamp-attenuator', { lossDb: 12 })
    k.unit('amp', 'room', 'tube-amplifier', { driveDb: 20, distanceM: 0.6, microphoneDb: 6 })
    k.cable('room', 'i-out-1', 'box:0')
    k.cable('room', 'box:0', 'amp:0')
    k.cable('room', 'amp:0', 'i-in-2')
    k.track('t', 'a')
    k.add('feed', { id: 'fa', kind: 'port', from: 't', ports: ['i-out-1'], tap: 'input', levelDb: -6 })
    k.bus('back', { layout: LAYOUTS.mono })
    k.add('feed', { id: 'fb', kind: 'input', to: 'back', ports: ['i-in-2'], levelDb: -10 })
    k.main('back', 'main')
  },
  'stems that share a pair, summed outside with noise in it, beside one that stays': k => {
    rig(k, 5.25, { noiseDbfs: -70, dcCornerHz: 20 })
    k.unit('u', 'room', 'summing-8', { outputDb: -2 })
    for (let i = 0; i < 4; i++) k.cable('room', `i-out-${i + 1}`, `u:${i}`)
    for (const side of [0, 1]) k.cable('room', `u:${side}`, `i-in-${side + 1}`)
    for (const [id, medium] of ['a', 'b', 's'].entries()) k.track(`t${id}`, medium, { levelDb: -8 })
    for (const [id, ports] of [
      ['t0', ['i-out-1', 'i-out-2']],
      ['t1', ['i-out-3']],
      ['t2', ['i-out-3', 'i-out-4']]
    ] as const)
      k.add('feed', { id: `f-${id}`, kind: 'port', from: id, ports, tap: 'post', pan: 0.2 })
    k.add('loop', { ...PAIR, compensated: true, applied: true, ping: pingOf(5) })
    k.add('feed', { id: 'fb', kind: 'input', to: 'main', ports: ['i-in-1', 'i-in-2'] })
    k.main('t2', 'main', { levelDb: -20 })
  },
  'a patch bay with normals, two of them opened by plugs, outputs with trims, and routes inside the interface': k => {
    rig(k, 7.5)
    k.session.port['i-out-1'].trimDb = -1.5
    k.session.port['i-out-3'].trimDb = 0.7
    k.unit('w', 'room', 'wire')
    k.unit('eq', 'room', 'passive-equaliser', { lowDb: 4 })
    // Half: what leaves out 1 goes on to the wire; what ends at in 2 gives way to the equaliser. Full: out 2 too.
    k.cable('room', 'i-out-1', 'i-in-1', { normalled: 'half' })
    k.cable('room', 'i-out-1', 'w:0')
    k.cable('room', 'i-out-3', 'i-in-2', { normalled: 'half' })
    k.cable('room', 'w:0', 'eq:0')
    k.cable('room', 'eq:0', 'i-in-2', { inverts: true })
    k.cable('room', 'i-out-2', 'i-in-3', { normalled: 'full' })
    k.cable('room', 'i-out-2', 'w:1')
    const inside = { inside: true, levelDb: -6 }
    k.cable('room', 'i-in-1', 'i-out-3', inside)
    k.cable('room', 'i-out-1', 'i-out-4', inside)
    k.cable('room', 'i-out-3', 'i-in-4', { inside: true, levelDb: 2 })
    k.cable('room', 'i-in-1', 'i-in-4', { ...inside, levelDb: null })
    k.cable('room', 'i-out-4', 'i-in-4')
    k.track('t', 'a', { levelDb: -9 })
    k.track('u', 's', { levelDb: -12 })
    k.add('feed', { id: 'fa', kind: 'port', from: 't', ports: ['i-out-1'], tap: 'post' })
    k.add('feed', { id: 'fu', kind: 'port', from: 'u', ports: ['i-out-2', 'i-out-3'], tap: 'post' })
    for (const port of [1, 2, 3, 4])
      k.add('feed', {
        id: `f${port}`,
        kind: 'input',
        to: 'main',
        ports: [`i-in-${port}`],
        levelDb: -3 * port,
        pan: port / 5 - 0.5
      })
  },
  'a converter that is driven over full scale, and a unit without power': k => {
    rig(k, 12)
    k.unit('w', 'room', 'wire')
    k.unit('dead', 'room', 'summing-8', {}, { powered: false })
    k.cable('room', 'i-out-1', 'w:0')
    k.cable('room', 'w:0', 'i-in-1')
    k.cable('room', 'dead:0', 'i-in-1')
    k.track('t', 'a', { levelDb: 12 })
    k.add('feed', { id: 'fa', kind: 'port', from: 't', ports: ['i-out-1'], tap: 'post' })
    k.add('feed', { id: 'fb', kind: 'input', to: 'main', ports: ['i-in-1'], pan: -0.4 })
  },
  'solo of a submix, a safe return, a send from elsewhere': k => {
    k.bus('one')
    k.bus('two', { soloed: true })
    k.bus('room', { role: 'return', safe: true })
    k.main(k.track('t', 'a'), 'one')
    k.main(k.track('u', 's'), 'two')
    for (const bus of ['one', 'two', 'room']) k.main(bus, 'main')
    k.send('t', 'room', -6)
    k.send('u', 'room', -3, 'pre')
  },
  'a print in the place of its source': k => {
    k.bus('one', { levelDb: -4 })
    k.main(k.track('t', 'a'), 'one')
    k.main('one', 'main')
    k.bus('room', { role: 'return' })
    k.main('room', 'main')
    k.send('one', 'room', -6, 'input')
    k.main(k.track('u', 's', { levelDb: -2 }), 'main')
    k.add('print', { id: 'p', channel: 'u', source: 'one', tap: 'pre', clip: 'u-clip', takesOver: true })
  },
  ...Object.fromEntries(
    ['mono', 'stereo', 'LCR', '2.1', 'quad', '5.0', '5.1'].map(name => [
      `5.1 and 5.0 folded into ${name}, with a balance`,
      (k: Sketch) => {
        k.medium('six', 6, FRAMES)
        k.bus('bed', { layout: LAYOUTS['5.1'], pan: 0.4 })
        k.bus('wide', { layout: LAYOUTS['5.0'] })
        k.bus('narrow', { layout: LAYOUTS[name] })
        k.main(k.track('t', 'six', { layout: LAYOUTS['5.1'] }), 'bed')
        k.main('t', 'wide', { levelDb: -5 })
        k.main('bed', 'narrow')
        k.main('wide', 'narrow')
        k.main('narrow', 'main')
      }
    ])
  ),
  'a parked track': k => {
    k.main(k.track('t', 's'), 'main')
    k.main(k.track('u', 'b', { parked: true }), 'main')
  }
}

async function compare(session: Session) {
  // Solo is a matter of listening.
  const live = rows(session, 'channel').some(c => c.soloed)
  const rendered = await renderTaps(session, media, FRAMES, { taps: [{ channel: 'main', tap: 'post' }], live })
  if (session.channel.u?.parked) delete session.feed.f0002
  const expected = reference(session, media, FRAMES)('main', 'post')
  return rendered
    .get('main@post')!
    .map((leg, i) => ({ residual: rmsDb(difference(leg, expected[i])), level: rmsDb(expected[i]), top: peak(leg) }))
}

describe('the mix equals the reference within −125 dBFS', () => {
  it.each(Object.keys(cases))('%s', async name => {
    const k = start()
    cases[name](k)
    for (const leg of await compare(k.session)) {
      expect(leg.residual).toBeLessThan(-125)
      if (name !== 'a muted leg') expect(leg.level).toBeGreaterThan(-60)
    }
  })

  it('thirty-two submixes in a row', async () => {
    const k = start()
    k.track('t', 's')
    let last = 't'
    for (let i = 1; i <= 32; i++) {
      k.bus(`bus-${i}`, { levelDb: i % 2 ? -3 : 3 })
      k.main(last, `bus-${i}`)
      last = `bus-${i}`
    }
    k.main(last, 'main')
    for (const leg of await compare(k.session)) expect(leg.residual).toBeLessThan(-125)
  })
})

describe('the samples do not depend on how they are asked for', () => {
  const k = start()
  k.bus('room', { role: 'return' })
  k.main('room', 'main')
  k.bus('sub')
  k.main('sub', 'main')
  k.slot('room', 'reverb', {})
  k.slot('sub', 'compressor', { lookAheadMs: 2 })
  // Every processor there is, one after the other.
  for (const id of Object.keys(PROCESSORS))
    k.slot('sub', id, id === 'gate' ? { thresholdDb: -70 } : {}, id === 'delay' || id === 'reverb' ? { mix: 0.3 } : {})
  k.main(k.track('t', 's'), 'sub')
  k.main(k.track('u', 'a'), 'main')
  k.send('t', 'room', -3)
  k.send('u', 'room', -6, 'pre')
  const taps = [
    { channel: 'main', tap: 'post' as const },
    { channel: 'sub', tap: 'pre' as const },
    { channel: 'room', tap: 'post' as const }
  ]

  it('at 64, 100 and 4096 frames a request, and in a plan with only this tap', async () => {
    const all = await renderTaps(k.session, media, FRAMES, { taps })
    for (const request of [64, 100, 4096]) {
      const again = await renderTaps(k.session, media, FRAMES, { taps: [taps[0]] }, request)
      again.get('main@post')!.forEach((leg, i) => expect(leg).toEqual(all.get('main@post')![i]))
    }
    const alone = await renderTaps(k.session, media, FRAMES, { taps: [taps[2]] }, 77)
    alone.get('room@post')!.forEach((leg, i) => expect(leg).toEqual(all.get('room@post')![i]))
  })

  it('a range equals the same frames of the whole', async () => {
    const whole = await renderTaps(k.session, media, FRAMES, { taps: [taps[0]] })
    const part = await renderTaps(k.session, media, 1000, { taps: [taps[0]] }, 300, 4321)
    part.get('main@post')!.forEach((leg, i) => expect(leg).toEqual(whole.get('main@post')![i].subarray(4321, 5321)))
  })

  it('live, with every gate in the plan, the samples are the same', async () => {
    const offline = await renderTaps(k.session, media, FRAMES, { taps: [taps[0]] })
    const live = await renderTaps(k.session, media, FRAMES, { taps: [taps[0]], live: true })
    live.get('main@post')!.forEach((leg, i) => expect(leg).toEqual(offline.get('main@post')![i]))
  })
})
