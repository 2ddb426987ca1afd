// Every processor whose output is a formula of its input, over whole legs in float64. What runs at many times the rate
// and the reverbs stand beside it.
import { bandPass, bell, butterworth, filtered } from './filters'
import type { Audio, Heard } from './heard'
import { convolution, reverb } from './reverbs'
import { limiter, saturation } from './shaping'

const alpha = (ms: number, rate: number) => (ms <= 0 ? 0 : Math.exp(-1000 / (ms * rate)))
const loudest = (key: Audio, n: number) => Math.max(...key.map(leg => Math.abs(leg[n] ?? 0)))

/** `gain(n)` is applied to the sound so many samples before. */
const withGain = (audio: Audio, gain: (n: number) => number, ahead: number): Audio => {
  const curve = Float64Array.from({ length: audio[0].length + ahead }, (_, n) => gain(n))
  return audio.map(leg => leg.map((x, n) => x * curve[n + ahead]))
}

function compressor({ audio, key, p, rate }: Heard): Audio {
  const average = (p.detector as unknown) === 'rms' ? alpha(p.averageMs, rate) : 0
  const slope = 1 - 1 / p.ratio
  let held = 0,
    square = 0
  const step = (n: number) => {
    const x = loudest(key, n)
    square = average ? average * square + (1 - average) * x * x : x * x
    const over = 10 * Math.log10(Math.max(square, 1e-20)) - p.thresholdDb
    const curve =
      over > p.kneeDb / 2
        ? slope * over
        : over > -p.kneeDb / 2
          ? (slope * (over + p.kneeDb / 2) ** 2) / (2 * p.kneeDb)
          : 0
    const a = alpha(curve > held ? p.attackMs : p.releaseMs, rate)
    held = a * held + (1 - a) * curve
    return 10 ** ((p.makeupDb - held) / 20)
  }
  return withGain(audio, step, Math.round((p.lookAheadMs * rate) / 1000))
}

/** On over one level, off under another after a hold; in dB between two values. */
function switching({ audio, key, p, rate }: Heard, onDb: number, offDb: number): Audio {
  const hold = Math.round((p.holdMs * rate) / 1000)
  let now = offDb,
    until = -1,
    isOn = false
  const step = (n: number) => {
    const level = 20 * Math.log10(Math.max(loudest(key, n), 1e-10))
    if (level >= p.thresholdDb) isOn = true
    if (isOn && level >= p.thresholdDb - p.hysteresisDb) until = n + hold
    if (n > until) isOn = false
    const a = alpha(isOn ? p.attackMs : p.releaseMs, rate)
    now = a * now + (1 - a) * (isOn ? onDb : offDb)
    return 10 ** (now / 20)
  }
  return withGain(audio, step, Math.round((p.lookAheadMs * rate) / 1000))
}

function delay({ audio, p, rate }: Heard): Audio {
  const d = Math.max(1, Math.round((p.timeMs * rate) / 1000))
  const high = 1 - Math.exp((-2 * Math.PI * p.highCutHz) / rate),
    low = 1 - Math.exp((-2 * Math.PI * p.lowCutHz) / rate)
  const line = audio.map(leg => new Float64Array(leg.length)),
    out = audio.map(leg => new Float64Array(leg.length))
  const fast = audio.map(() => 0),
    slow = audio.map(() => 0)
  for (let n = 0; n < audio[0].length; n++) {
    out.forEach((leg, i) => (leg[n] = line[i][n - d] ?? 0))
    audio.forEach((x, i) => {
      const mixed = out[i][n] + ((out[(i + 1) % audio.length][n] - out[i][n]) * p.cross) / 100
      fast[i] += high * (mixed - fast[i])
      slow[i] += low * (fast[i] - slow[i])
      line[i][n] = x[n] + (p.feedback / 100) * (fast[i] - slow[i])
    })
  }
  return out
}

function equaliser({ audio, p, rate }: Heard): Audio {
  const sections = [
    ...(p.lowCutSlope === 'off' ? [] : butterworth('high', p.lowCutHz, Number(p.lowCutSlope), rate)),
    ...[1, 2, 3, 4, 5, 6, 7, 8]
      .filter(i => p[`kind${i}`] !== 'off')
      .map(i => bell(p[`kind${i}`], p[`hz${i}`], p[`db${i}`], p[`q${i}`], rate)),
    ...(p.highCutSlope === 'off' ? [] : butterworth('low', p.highCutHz, Number(p.highCutSlope), rate))
  ]
  return audio.map(leg => filtered(leg, sections))
}

const SIDES: Record<string, 'left' | 'right'> = { L: 'left', R: 'right', Ls: 'left', Rs: 'right' }

function tremolo({ audio, p, rate, layout }: Heard): Audio {
  const down = (turns: number) => {
    const at = turns - Math.floor(turns)
    if (p.shape === 'triangle') return at < 0.5 ? 2 * at : 2 - 2 * at
    return 0.5 - 0.5 * Math.cos(2 * Math.PI * at)
  }
  return audio.map((leg, i) => {
    const late = SIDES[layout[i]] === 'right' ? p.apart / 100 : 0
    return leg.map((x, n) => x * (1 - (p.depth / 100) * down((n * p.hz) / rate - late)))
  })
}

function width({ audio, p, layout }: Heard): Audio {
  const out = audio.map(leg => leg.slice())
  for (const [left, right] of [
    ['L', 'R'],
    ['Ls', 'Rs']
  ]) {
    const l = layout.indexOf(left),
      r = layout.indexOf(right)
    if (l < 0 || r < 0) continue
    out[l].forEach((_, n) => {
      const middle = (audio[l][n] + audio[r][n]) / 2,
        side = ((audio[l][n] - audio[r][n]) / 2) * (p.width / 100)
      out[l][n] = middle + side
      out[r][n] = middle - side
    })
  }
  return out
}

function spectral({ audio, key, p, rate }: Heard): Audio {
  const count = Number(p.bands)
  const ratio = (p.highHz / p.lowHz) ** (1 / count)
  const q = Math.sqrt(Math.SQRT2 - 1) / (Math.sqrt(ratio) - 1 / Math.sqrt(ratio))
  const middle = Math.sqrt(p.lowHz * p.highHz)
  const steer = key[0].map((_, n) => key.reduce((s, leg) => s + leg[n], 0) / key.length)
  const out = audio.map(leg => new Float64Array(leg.length))
  for (let i = 0; i < count; i++) {
    const hz = p.lowHz * ratio ** (i + 0.5)
    const moved = middle * (hz / middle) ** (p.stretch / 100) * 2 ** (p.shift / 12)
    const analysis = bandPass(hz, q, rate),
      synthesis = bandPass(moved, q, rate)
    let level = 0
    const levels = filtered(steer, [analysis, analysis]).map(v => {
      const a = alpha(Math.abs(v) > level ? p.attackMs : p.releaseMs, rate)
      return (level = a * level + (1 - a) * Math.abs(v))
    })
    audio.forEach((leg, k) =>
      filtered(leg, [synthesis, synthesis]).forEach((v, n) => (out[k][n] += v * levels[n] * 10 ** (p.gainDb / 20)))
    )
  }
  return out
}

export const FORMULAS: Record<string, (heard: Heard) => Audio> = {
  compressor,
  gate: heard => switching(heard, 0, -heard.p.rangeDb),
  ducker: heard => switching(heard, -heard.p.depthDb, 0),
  delay,
  equaliser,
  tremolo,
  width,
  spectral,
  saturation,
  limiter,
  reverb,
  convolution
}
