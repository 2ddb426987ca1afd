// The slow, plain reference: direct formulas in float64 over whole arrays, no plan, no blocks, no latency (a look-ahead
// simply looks ahead). Only for tests: the engine is nulled against it. It shares tables of
// constants with the engine (names, defaults), and no code.
import type { Channel, Feed, Slot, Tap } from '../../session/rows'
import { byId, byOrder, rows, settings, type Session } from '../../session/session'
import { PROCESSORS } from '../../processors/table'
import { bell, butterworth, filtered, type Coefficients, type Leg } from './filters'
import type { Audio, Settings } from './heard'
import { FORMULAS } from './processors'
import { rigReference } from './rig'
import { hash32 } from '../../foundation/seed'

const db = (x: number | null) => (x === null ? 0 : 10 ** (x / 20))

/** Frames by which what looks ahead, or is made up for, may reach behind the end. */
const AHEAD = 640

export function reference(session: Session, media: Record<string, Float32Array[]>, wanted: number) {
  const frames = wanted + AHEAD
  const rate = settings(session).sampleRate
  const silence = (legs: number): Audio => Array.from({ length: legs }, () => new Float64Array(frames))

  /** What is set, and the defaults of the rest. */
  const settingsOf = (slot: Slot) =>
    ({
      ...Object.fromEntries(PROCESSORS[slot.processor].parameters.map(p => [p.name, p.initial])),
      ...slot.params
    }) as Settings

  /** An envelope's points, if something moves that row's field. */
  const points = (row: string, field: string) =>
    rows(session, 'envelope').find(e => e.on && e.field === field && (e.channel ?? e.feed ?? e.slot) === row)?.points
  /** Its value at a frame, straight between points; `via` turns values into what the line is straight in. */
  const value = (
    list: readonly [number, number | null][],
    n: number,
    via: (v: number | null) => number = v => v!
  ): number => {
    const after = list.findIndex(([f]) => f > n)
    if (after < 0) return via(list.at(-1)![1])
    if (after === 0) return via(list[0][1])
    const [[f0, v0], [f1, v1]] = [list[after - 1], list[after]]
    return via(v0) + ((via(v1) - via(v0)) * (n - f0)) / (f1 - f0)
  }
  /** A level's ride as gain. */
  const ride = (row: string): ((n: number) => number) => {
    const list = points(row, 'levelDb')
    return n => {
      if (!list) return 1
      const d = value(list, n, v => v ?? -120)
      return d <= -120 ? 0 : 10 ** (d / 20)
    }
  }
  /** What is wanted at the end of every block of 128, and straight between those. */
  const byBlock = (at: (n: number) => number) => (n: number) => {
    const end = Math.floor(n / 128) * 128 + 128,
      from = at(end === 128 ? 128 : end - 128)
    return from + ((at(end) - from) * (n - end + 129)) / 128
  }

  const biquads = (audio: Audio, sections: Coefficients[]): Audio => audio.map(leg => filtered(leg, sections))

  /**
   * Placement written out again, so that the engine's table is judged too: constant power from mono, a balance for what
   * lies left and right, −3 dB for every step of a fold.
   */
  const place = (audio: Audio, from: readonly string[], to: readonly string[], pan: number): Audio => {
    const l = Math.cos((Math.PI / 4) * (1 + pan)),
      r = Math.sin((Math.PI / 4) * (1 + pan))
    const out = silence(to.length)
    const put = (label: string, gain: number, leg: Float64Array) => {
      const at = to.indexOf(label)
      if (at >= 0) leg.forEach((x, n) => (out[at][n] += gain * x))
      return at >= 0
    }
    from.forEach((label, i) => {
      const leg = audio[i]
      if (to.length === 1) {
        if (label !== 'LFE') leg.forEach((x, n) => (out[0][n] += from.length === 1 ? x : Math.SQRT1_2 * x))
      } else if (from.length === 1) {
        put('L', l, leg)
        put('R', r, leg)
      } else {
        const side = label.startsWith('L') && label !== 'LFE' ? 'L' : label.startsWith('R') ? 'R' : null
        const balance = side === 'L' ? Math.min(1, l * Math.SQRT2) : side === 'R' ? Math.min(1, r * Math.SQRT2) : 1
        if (put(label, balance, leg) || label === 'LFE') return
        for (const speaker of side ? [side] : ['L', 'R']) put(speaker, balance * Math.SQRT1_2, leg)
      }
    })
    return out
  }

  /** One bell whose gain moves: coefficients straight from block to block. */
  function movingBell(audio: Audio, slot: Slot): Audio {
    const p = settingsOf(slot)
    const at = (k: number) => byBlock(n => bell(p.kind1, p.hz1, value(points(slot.id, 'db1')!, n), p.q1, rate)[k])
    const [b0, b1, b2, a1, a2] = [0, 1, 2, 3, 4].map(k => Float64Array.from({ length: frames }, (_, n) => at(k)(n)))
    return audio.map(x => {
      const y = new Float64Array(frames)
      let s1 = 0,
        s2 = 0
      for (let n = 0; n < frames; n++) {
        y[n] = b0[n] * x[n] + s1
        s1 = b1[n] * x[n] + s2 - a1[n] * y[n]
        s2 = b2[n] * x[n] - a2[n] * y[n]
      }
      return y
    })
  }

  function through(slot: Slot, channel: Channel, audio: Audio): Audio {
    if (slot.state !== 'on') return audio
    if (slot.processor === 'loop') return aroundLoop(slot, channel, audio)
    if (!FORMULAS[slot.processor]) return audio
    let key = audio
    const feeds = rows(session, 'feed')
      .filter(f => f.kind === 'key')
      .filter(f => f.slot === slot.id)
      .sort(byId)
    if (feeds.length)
      key = sum(
        channel.layout.length,
        feeds.map(f => carried(f.id, f.from, f.tap, channel.layout, f.pan, db(f.levelDb) * (f.muted ? 0 : 1)))
      )
    if (slot.keyLowCutHz) key = biquads(key, butterworth('high', slot.keyLowCutHz, 12, rate))
    if (slot.keyHighCutHz) key = biquads(key, butterworth('low', slot.keyHighCutHz, 12, rate))
    const wet = points(slot.id, 'db1')
      ? movingBell(audio, slot)
      : FORMULAS[slot.processor]({ audio, key, p: settingsOf(slot), rate, layout: channel.layout })
    const list = points(slot.id, 'mix')
    const mix = byBlock(n => (list ? value(list, n) : slot.mix))
    return wet.map((leg, i) => leg.map((x, n) => mix(n) * x + (1 - mix(n)) * audio[i][n]))
  }

  // ── the rig ──

  /** One port is mono, two are a pair, more are the legs of the channel. */
  const layoutOf = (ports: readonly string[], channel: string) =>
    [['M'], ['L', 'R']][ports.length - 1] ?? ports.map((_, i) => session.channel[channel].layout[i] ?? `${i}`)

  function arrivingAt(port: string): Leg {
    const parts: Audio = []
    for (const f of rows(session, 'feed').sort(byId)) {
      if (f.kind !== 'port' || !f.ports.includes(port) || f.muted || session.channel[f.from].muted) continue
      const sent = place(tap(f.from, f.tap), session.channel[f.from].layout, layoutOf(f.ports, f.from), f.pan ?? 0)
      parts.push(sent[f.ports.indexOf(port)].map((x, n) => x * db(f.levelDb) * ride(f.id)(n)))
    }
    for (const loop of rows(session, 'loop').filter(l => l.outPorts.includes(port))) {
      const slot = rows(session, 'slot').find(s => s.loop === loop.id && s.state !== 'off')
      if (!slot) continue
      const sent = place(before(slot), session.channel[slot.channel].layout, layoutOf(loop.outPorts, slot.channel), 0)
      parts.push(sent[loop.outPorts.indexOf(port)].map(x => x * db(loop.sendDb)))
    }
    return sum(
      1,
      parts.map(leg => [leg])
    )[0]
  }
  const rig = rigReference(session, frames, arrivingAt, hash32)

  /** What comes back through a loop beside what went in. */
  function aroundLoop(slot: Slot, channel: Channel, audio: Audio): Audio {
    const loop = session.loop[slot.loop!]
    const back = loop.inPorts.map(port => rig.compensated(rig.portIn(port), loop))
    const gain = db(loop.returnDb) * (loop.inverted ? -1 : 1)
    return place(back, layoutOf(loop.inPorts, channel.id), channel.layout, 0).map((leg, i) =>
      leg.map((x, n) => slot.mix * gain * x + (1 - slot.mix) * audio[i][n])
    )
  }

  /** What enters a slot. */
  function before(slot: Slot): Audio {
    const channel = session.channel[slot.channel]
    const slots = rows(session, 'slot')
      .filter(s => s.channel === slot.channel && s.afterFader === slot.afterFader)
      .sort(byOrder)
    const first = slot.afterFader ? faded(slot.channel) : tap(slot.channel, 'input')
    return slots
      .slice(
        0,
        slots.findIndex(s => s.id === slot.id)
      )
      .reduce((a, s) => through(s, channel, a), first)
  }

  /** What input feeds bring: made whole by the first loop that names their port. */
  const returned = (id: string, to: readonly string[]): Audio[] =>
    rows(session, 'feed')
      .filter(f => f.kind === 'input' && f.to === id && !f.muted)
      .sort(byId)
      .map(f => {
        const ports = (f as Extract<Feed, { kind: 'input' }>).ports
        const back = ports.map(port => {
          const loop = rows(session, 'loop')
            .sort(byId)
            .find(l => l.inPorts.includes(port))
          return loop ? rig.compensated(rig.portIn(port), loop) : rig.portIn(port)
        })
        return place(back, layoutOf(ports, f.to!), to, f.pan ?? 0).map(leg =>
          leg.map((x, n) => x * db(f.levelDb) * ride(f.id)(n))
        )
      })

  const sum = (legs: number, parts: Audio[]): Audio =>
    silence(legs).map((leg, i) => leg.map((_, n) => parts.reduce((s, p) => s + p[i][n], 0)))

  /** Placement frame by frame where an envelope moves it. */
  const placed = (audio: Audio, to: readonly string[], from: string, id: string, pan: number | null): Audio => {
    const list = points(id, 'pan') ?? (pan === null ? points(from, 'pan') : undefined)
    const { layout, pan: own } = session.channel[from]
    if (!list) return place(audio, layout, to, pan ?? own)
    const out = silence(to.length)
    for (let n = 0; n < frames; n++)
      place(
        audio.map(leg => leg.slice(n, n + 1)),
        layout,
        to,
        value(list, n)
      ).forEach((leg, i) => (out[i][n] = leg[0]))
    return out
  }

  const carried = (
    id: string,
    from: string,
    tapName: Tap,
    to: readonly string[],
    pan: number | null,
    gain: number
  ): Audio => placed(tap(from, tapName), to, from, id, pan).map(leg => leg.map((x, n) => x * gain * ride(id)(n)))

  /** Everything that a channel's sound reaches, or that reaches it, by main feeds and sends. */
  const family = (starts: string[], way: 'up' | 'down'): Set<string> => {
    const found = new Set(starts)
    for (let grew = true; grew;) {
      const before = found.size
      for (const f of rows(session, 'feed')) {
        if (f.kind !== 'main' && f.kind !== 'send') continue
        if (way === 'down' && found.has(f.from)) found.add(f.to)
        if (way === 'up' && found.has(f.to)) found.add(f.from)
      }
      grew = found.size > before
    }
    return found
  }
  const channels = rows(session, 'channel')
  const soloed = channels.filter(c => c.soloed).map(c => c.id)
  const above = family(soloed, 'up'),
    below = family(soloed, 'down'),
    safe = family(
      channels.filter(c => c.safe).map(c => c.id),
      'down'
    )
  const TAPS = ['input', 'pre', 'post']
  /** In no take, or in the one that its track plays. */
  function isHeard(clip: string | null): boolean {
    const { take, channel } = clip === null ? { take: null, channel: '' } : session.clip[clip]
    return take === null || session.channel[channel].take === take
  }
  /** Not closed by a solo elsewhere, nor by a print that stands in the place of its source. */
  function carries(f: Extract<Feed, { kind: 'main' | 'send' }>): boolean {
    const replaced = rows(session, 'print').some(
      p =>
        p.source === f.from &&
        isHeard(p.clip) &&
        p.takesOver &&
        !session.channel[p.channel]?.parked &&
        TAPS.indexOf(f.tap) >= TAPS.indexOf(p.tap)
    )
    const heard = below.has(f.from) || safe.has(f.from) || (above.has(f.from) && above.has(f.to))
    return !replaced && (!soloed.length || heard)
  }

  const faded = (id: string): Audio => {
    const channel = session.channel[id]
    return tap(id, 'pre').map(leg => leg.map((x, n) => x * (channel.muted ? 0 : db(channel.levelDb)) * ride(id)(n)))
  }

  const known = new Map<string, Audio>()
  function tap(id: string, name: Tap): Audio {
    const found = known.get(id + name)
    if (found) return found
    const channel = session.channel[id]
    const slots = rows(session, 'slot')
      .filter(s => s.channel === id)
      .sort(byOrder)
    let audio: Audio
    if (name === 'input') {
      audio = silence(channel.layout.length)
      for (const clip of rows(session, 'clip').filter(c => c.channel === id && isHeard(c.id))) {
        audio.forEach((leg, i) =>
          media[clip.medium][i].forEach((x, n) => {
            const at = n - clip.offsetFrames
            if (at >= 0 && at < (clip.frames ?? Infinity) && at + clip.startFrame < frames)
              leg[at + clip.startFrame] += x * db(clip.gainDb)
          })
        )
      }
      const feeds = rows(session, 'feed')
        .filter(f => f.kind === 'main' || f.kind === 'send')
        .filter(f => f.to === id)
        .sort(byId)
      const open = feeds.filter(f => !f.muted && !session.channel[f.from].muted && carries(f))
      audio = sum(channel.layout.length, [
        audio,
        ...open.map(f => carried(f.id, f.from, f.tap, channel.layout, f.pan, db(f.levelDb))),
        ...returned(id, channel.layout)
      ])
      audio = audio.map((leg, i) =>
        leg.map(x =>
          channel.mutedLegs.includes(i) ? 0 : x * db(channel.trimDb) * (channel.flippedLegs.includes(i) ? -1 : 1)
        )
      )
      if (channel.lowCutHz) audio = biquads(audio, butterworth('high', channel.lowCutHz, 12, rate))
      if (channel.highCutHz) audio = biquads(audio, butterworth('low', channel.highCutHz, 12, rate))
    } else if (name === 'pre') {
      audio = slots.filter(s => !s.afterFader).reduce((a, s) => through(s, channel, a), tap(id, 'input'))
    } else {
      audio = slots.filter(s => s.afterFader).reduce((a, s) => through(s, channel, a), faded(id))
    }
    known.set(id + name, audio)
    return audio
  }
  return (id: string, name: Tap): Audio => tap(id, name).map(leg => leg.slice(0, wanted))
}
