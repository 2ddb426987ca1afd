// The slow, plain reference: direct formulas in float64 over whole arrays, no plan, no blocks, no latency (a look-ahead
// simply looks ahead). Only for tests: the engine is nulled against it. Covers what needs no rig.
import { cut } from '../../processors/biquad'
import { equaliserSections } from '../../processors/equaliser'
import { complete } from '../../processors/processor'
import { PROCESSORS } from '../../processors/table'
import type { Channel, Slot, Tap } from '../../session/rows'
import { byId, byOrder, rows, settings, type Session } from '../../session/session'

type Audio = Float64Array<ArrayBuffer>[]
const db = (x: number | null) => (x === null ? 0 : 10 ** (x / 20))

export function reference(session: Session, media: Record<string, Float32Array[]>, frames: number) {
  const rate = settings(session).sampleRate
  const silence = (legs: number): Audio => Array.from({ length: legs }, () => new Float64Array(frames))

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

  const biquads = (audio: Audio, sections: number[][]): Audio =>
    audio.map(leg =>
      sections.reduce((x, [b0, b1, b2, a1, a2]) => {
        const y = new Float64Array(frames)
        for (let n = 0; n < frames; n++) {
          y[n] = b0 * x[n] + b1 * (x[n - 1] ?? 0) + b2 * (x[n - 2] ?? 0) - a1 * (y[n - 1] ?? 0) - a2 * (y[n - 2] ?? 0)
        }
        return y
      }, leg)
    )

  /** Placement written out again for mono and stereo, so that the engine's table is checked too. */
  const place = (audio: Audio, to: number, pan: number): Audio => {
    const l = Math.cos((Math.PI / 4) * (1 + pan)),
      r = Math.sin((Math.PI / 4) * (1 + pan))
    if (to === 1) return audio.length === 1 ? audio : [audio[0].map((x, n) => Math.SQRT1_2 * (x + audio[1][n]))]
    if (audio.length === 1) return [audio[0].map(x => x * l), audio[0].map(x => x * r)]
    return [audio[0].map(x => x * Math.min(1, l * Math.SQRT2)), audio[1].map(x => x * Math.min(1, r * Math.SQRT2))]
  }

  function compress(audio: Audio, key: Audio, slot: Slot): Audio {
    const p = complete(PROCESSORS.compressor.parameters, slot.params) as Record<string, number> & { detector: string }
    const alpha = (ms: number) => (ms <= 0 ? 0 : Math.exp(-1000 / (ms * rate)))
    const average = (p.detector as unknown) === 'rms' ? alpha(p.averageMs) : 0
    const ahead = Math.round((p.lookAheadMs * rate) / 1000)
    const slope = 1 - 1 / p.ratio
    let held = 0,
      square = 0
    const gain = new Float64Array(frames + ahead)
    for (let n = 0; n < frames + ahead; n++) {
      const x = Math.max(...key.map(leg => Math.abs(leg[n] ?? 0)))
      square = average ? average * square + (1 - average) * x * x : x * x
      const over = 10 * Math.log10(Math.max(square, 1e-20)) - p.thresholdDb
      const curve =
        over > p.kneeDb / 2
          ? slope * over
          : over > -p.kneeDb / 2
            ? (slope * (over + p.kneeDb / 2) ** 2) / (2 * p.kneeDb)
            : 0
      const a = alpha(curve > held ? p.attackMs : p.releaseMs)
      held = a * held + (1 - a) * curve
      gain[n] = 10 ** ((p.makeupDb - held) / 20)
    }
    // The gain is what the engine computes `ahead` samples before the sound it is applied to.
    return audio.map(leg => leg.map((x, n) => x * gain[n + ahead]))
  }

  function echo(audio: Audio, slot: Slot): Audio {
    const p = complete(PROCESSORS.delay.parameters, slot.params) as Record<string, number>
    const d = Math.max(1, Math.round((p.timeMs * rate) / 1000))
    const high = 1 - Math.exp((-2 * Math.PI * p.highCutHz) / rate),
      low = 1 - Math.exp((-2 * Math.PI * p.lowCutHz) / rate)
    const line = silence(audio.length),
      out = silence(audio.length)
    const fast = audio.map(() => 0),
      slow = audio.map(() => 0)
    for (let n = 0; n < frames; n++) {
      audio.forEach((_, leg) => {
        out[leg][n] = line[leg][n - d] ?? 0
      })
      audio.forEach((x, leg) => {
        const mixed = out[leg][n] + ((out[(leg + 1) % audio.length][n] - out[leg][n]) * p.cross) / 100
        fast[leg] += high * (mixed - fast[leg])
        slow[leg] += low * (fast[leg] - slow[leg])
        line[leg][n] = x[n] + (p.feedback / 100) * (fast[leg] - slow[leg])
      })
    }
    return out
  }

  /** One band whose gain moves. */
  function movingBell(audio: Audio, slot: Slot): Audio {
    const at = (k: number) =>
      byBlock(
        n =>
          equaliserSections(
            complete(PROCESSORS.equaliser.parameters, { ...slot.params, db1: value(points(slot.id, 'db1')!, n) }),
            rate
          )[0][k]
      )
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
    if (slot.state !== 'on' || !PROCESSORS[slot.processor]) return audio
    let key = audio
    const feeds = rows(session, 'feed')
      .filter(f => f.kind === 'key')
      .filter(f => f.slot === slot.id)
      .sort(byId)
    if (feeds.length)
      key = sum(
        channel.layout.length,
        feeds.map(f => carried(f.id, f.from, f.tap, channel.layout.length, f.pan, db(f.levelDb) * (f.muted ? 0 : 1)))
      )
    if (slot.keyLowCutHz) key = biquads(key, cut('low', slot.keyLowCutHz, 12, rate))
    if (slot.keyHighCutHz) key = biquads(key, cut('high', slot.keyHighCutHz, 12, rate))
    const wet = {
      equaliser: () =>
        points(slot.id, 'db1')
          ? movingBell(audio, slot)
          : biquads(audio, equaliserSections(complete(PROCESSORS.equaliser.parameters, slot.params), rate)),
      compressor: () => compress(audio, key, slot),
      delay: () => echo(audio, slot)
    }[slot.processor]!()
    const list = points(slot.id, 'mix')
    const mix = byBlock(n => (list ? value(list, n) : slot.mix))
    return wet.map((leg, i) => leg.map((x, n) => mix(n) * x + (1 - mix(n)) * audio[i][n]))
  }

  const sum = (legs: number, parts: Audio[]): Audio =>
    silence(legs).map((leg, i) => leg.map((_, n) => parts.reduce((s, p) => s + p[i][n], 0)))

  /** Placement frame by frame where an envelope moves it. */
  const placed = (audio: Audio, legs: number, from: string, id: string, pan: number | null): Audio => {
    const list = points(id, 'pan') ?? (pan === null ? points(from, 'pan') : undefined)
    if (!list) return place(audio, legs, pan ?? session.channel[from].pan)
    const out = silence(legs)
    for (let n = 0; n < frames; n++)
      place(
        audio.map(leg => leg.slice(n, n + 1)),
        legs,
        value(list, n)
      ).forEach((leg, i) => {
        out[i][n] = leg[0]
      })
    return out
  }

  const carried = (id: string, from: string, tapName: Tap, legs: number, pan: number | null, gain: number): Audio =>
    placed(tap(from, tapName), legs, from, id, pan).map(leg => leg.map((x, n) => x * gain * ride(id)(n)))

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
      for (const clip of rows(session, 'clip').filter(c => c.channel === id)) {
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
      const open = feeds.filter(f => !f.muted && !session.channel[f.from].muted)
      audio = sum(channel.layout.length, [
        audio,
        ...open.map(f => carried(f.id, f.from, f.tap, channel.layout.length, f.pan, db(f.levelDb)))
      ])
      audio = audio.map((leg, i) =>
        leg.map(x =>
          channel.mutedLegs.includes(i) ? 0 : x * db(channel.trimDb) * (channel.flippedLegs.includes(i) ? -1 : 1)
        )
      )
      if (channel.lowCutHz) audio = biquads(audio, cut('low', channel.lowCutHz, 12, rate))
      if (channel.highCutHz) audio = biquads(audio, cut('high', channel.highCutHz, 12, rate))
    } else if (name === 'pre') {
      audio = slots.filter(s => !s.afterFader).reduce((a, s) => through(s, channel, a), tap(id, 'input'))
    } else {
      const faded = tap(id, 'pre').map(leg =>
        leg.map((x, n) => x * (channel.muted ? 0 : db(channel.levelDb)) * ride(id)(n))
      )
      audio = slots.filter(s => s.afterFader).reduce((a, s) => through(s, channel, a), faded)
    }
    known.set(id + name, audio)
    return audio
  }
  return tap
}
