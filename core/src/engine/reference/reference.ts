// The slow, plain reference: direct formulas in float64 over whole arrays, no plan, no blocks, no latency (a look-ahead
// simply looks ahead). Only for tests: the engine is nulled against it. Covers what needs no rig.
import { cut } from '../../processors/biquad'
import { equaliserSections } from '../../processors/equaliser'
import { complete } from '../../processors/processor'
import { PROCESSORS } from '../../processors/table'
import type { Channel, Slot, Tap } from '../../session/rows'
import { byId, byOrder, rows, settings, type Session } from '../../session/session'

type Audio = Float64Array<ArrayBuffer>[]
const db = (x: number | null) => x === null ? 0 : 10 ** (x / 20)

export function reference(session: Session, media: Record<string, Float32Array[]>, frames: number) {
  const rate = settings(session).sampleRate
  const silence = (legs: number): Audio => Array.from({ length: legs }, () => new Float64Array(frames))

  const biquads = (audio: Audio, sections: number[][]): Audio => audio.map(leg => sections.reduce((x, [b0, b1, b2, a1, a2]) => {
    const y = new Float64Array(frames)
    for (let n = 0; n < frames; n++) {
      y[n] = b0 * x[n] + b1 * (x[n - 1] ?? 0) + b2 * (x[n - 2] ?? 0) - a1 * (y[n - 1] ?? 0) - a2 * (y[n - 2] ?? 0)
    }
    return y
  }, leg))

  /** Placement written out again for mono and stereo, so that the engine's table is checked too. */
  const place = (audio: Audio, to: number, pan: number): Audio => {
    const l = Math.cos(Math.PI / 4 * (1 + pan)), r = Math.sin(Math.PI / 4 * (1 + pan))
    if (to === 1) return audio.length === 1 ? audio : [audio[0].map((x, n) => Math.SQRT1_2 * (x + audio[1][n]))]
    if (audio.length === 1) return [audio[0].map(x => x * l), audio[0].map(x => x * r)]
    return [audio[0].map(x => x * Math.min(1, l * Math.SQRT2)), audio[1].map(x => x * Math.min(1, r * Math.SQRT2))]
  }

  function compress(audio: Audio, key: Audio, slot: Slot): Audio {
    const p = complete(PROCESSORS.compressor.parameters, slot.params) as Record<string, number> & { detector: string }
    const alpha = (ms: number) => ms <= 0 ? 0 : Math.exp(-1000 / (ms * rate))
    const average = p.detector as unknown === 'rms' ? alpha(p.averageMs) : 0
    const ahead = Math.round(p.lookAheadMs * rate / 1000)
    const slope = 1 - 1 / p.ratio
    let held = 0, square = 0
    const gain = new Float64Array(frames + ahead)
    for (let n = 0; n < frames + ahead; n++) {
      const x = Math.max(...key.map(leg => Math.abs(leg[n] ?? 0)))
      square = average ? average * square + (1 - average) * x * x : x * x
      const over = 10 * Math.log10(Math.max(square, 1e-20)) - p.thresholdDb
      const curve = over > p.kneeDb / 2 ? slope * over : over > -p.kneeDb / 2 ? slope * (over + p.kneeDb / 2) ** 2 / (2 * p.kneeDb) : 0
      const a = alpha(curve > held ? p.attackMs : p.releaseMs)
      held = a * held + (1 - a) * curve
      gain[n] = 10 ** ((p.makeupDb - held) / 20)
    }
    // The gain is what the engine computes `ahead` samples before the sound it is applied to.
    return audio.map(leg => leg.map((x, n) => x * gain[n + ahead]))
  }

  function echo(audio: Audio, slot: Slot): Audio {
    const p = complete(PROCESSORS.delay.parameters, slot.params) as Record<string, number>
    const d = Math.max(1, Math.round(p.timeMs * rate / 1000))
    const high = 1 - Math.exp(-2 * Math.PI * p.highCutHz / rate), low = 1 - Math.exp(-2 * Math.PI * p.lowCutHz / rate)
    const line = silence(audio.length), out = silence(audio.length)
    const fast = audio.map(() => 0), slow = audio.map(() => 0)
    for (let n = 0; n < frames; n++) {
      audio.forEach((_, leg) => { out[leg][n] = line[leg][n - d] ?? 0 })
      audio.forEach((x, leg) => {
        const mixed = out[leg][n] + (out[(leg + 1) % audio.length][n] - out[leg][n]) * p.cross / 100
        fast[leg] += high * (mixed - fast[leg])
        slow[leg] += low * (fast[leg] - slow[leg])
        line[leg][n] = x[n] + p.feedback / 100 * (fast[leg] - slow[leg])
      })
    }
    return out
  }

  function through(slot: Slot, channel: Channel, audio: Audio): Audio {
    if (slot.state !== 'on' || !PROCESSORS[slot.processor]) return audio
    let key = audio
    const feeds = rows(session, 'feed').filter(f => f.kind === 'key' && f.slot === slot.id).sort(byId)
    if (feeds.length) key = sum(channel.layout.length, feeds.map(f => carried(f.from!, f.tap, channel.layout.length, f.pan, db(f.levelDb) * (f.muted ? 0 : 1))))
    if (slot.keyLowCutHz) key = biquads(key, cut('low', slot.keyLowCutHz, 12, rate))
    if (slot.keyHighCutHz) key = biquads(key, cut('high', slot.keyHighCutHz, 12, rate))
    const wet = {
      equaliser: () => biquads(audio, equaliserSections(complete(PROCESSORS.equaliser.parameters, slot.params), rate)),
      compressor: () => compress(audio, key, slot),
      delay: () => echo(audio, slot)
    }[slot.processor]!()
    return wet.map((leg, i) => leg.map((x, n) => slot.mix * x + (1 - slot.mix) * audio[i][n]))
  }

  const sum = (legs: number, parts: Audio[]): Audio => silence(legs).map((leg, i) => leg.map((_, n) => parts.reduce((s, p) => s + p[i][n], 0)))

  const carried = (from: string, tapName: Tap, legs: number, pan: number | null, gain: number): Audio =>
    place(tap(from, tapName), legs, pan ?? session.channel[from].pan).map(leg => leg.map(x => x * gain))

  const known = new Map<string, Audio>()
  function tap(id: string, name: Tap): Audio {
    const found = known.get(id + name)
    if (found) return found
    const channel = session.channel[id]
    const slots = rows(session, 'slot').filter(s => s.channel === id).sort(byOrder)
    let audio: Audio
    if (name === 'input') {
      audio = silence(channel.layout.length)
      for (const clip of rows(session, 'clip').filter(c => c.channel === id)) {
        audio.forEach((leg, i) => media[clip.medium][i].forEach((x, n) => {
          const at = n - clip.offsetFrames
          if (at >= 0 && at < (clip.frames ?? Infinity) && at + clip.startFrame < frames) leg[at + clip.startFrame] += x * db(clip.gainDb)
        }))
      }
      const feeds = rows(session, 'feed').filter(f => (f.kind === 'main' || f.kind === 'send') && f.to === id).sort(byId)
      const open = feeds.filter(f => !f.muted && !session.channel[f.from!].muted)
      audio = sum(channel.layout.length, [audio, ...open.map(f => carried(f.from!, f.tap, channel.layout.length, f.pan, db(f.levelDb)))])
      audio = audio.map((leg, i) => leg.map(x => channel.mutedLegs.includes(i) ? 0 : x * db(channel.trimDb) * (channel.flippedLegs.includes(i) ? -1 : 1)))
      if (channel.lowCutHz) audio = biquads(audio, cut('low', channel.lowCutHz, 12, rate))
      if (channel.highCutHz) audio = biquads(audio, cut('high', channel.highCutHz, 12, rate))
    } else if (name === 'pre') {
      audio = slots.filter(s => !s.afterFader).reduce((a, s) => through(s, channel, a), tap(id, 'input'))
    } else {
      const faded = tap(id, 'pre').map(leg => leg.map(x => x * (channel.muted ? 0 : db(channel.levelDb))))
      audio = slots.filter(s => s.afterFader).reduce((a, s) => through(s, channel, a), faded)
    }
    known.set(id + name, audio)
    return audio
  }
  return tap
}
