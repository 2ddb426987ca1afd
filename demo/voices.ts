// The instruments of the demonstration: each adds one note into a buffer. Made up, by formulas.

export const RATE = 48000
export type Buffer = Float32Array<ArrayBuffer>

/** A stream of random numbers in −1 … 1 that is the same for the same seed. */
export function random(seed: number): () => number {
  let s = (seed * 2654435761) >>> 0 || 1
  return () => {
    s ^= s << 13
    s >>>= 0
    s ^= s >>> 17
    s ^= s << 5
    s >>>= 0
    return s / 2147483648 - 1
  }
}

export const hertz = (midi: number) => 440 * 2 ** ((midi - 69) / 12)

/** A plucked string (Karplus and Strong): noise in a loop with a soft filter. */
export function pluck(
  out: Buffer,
  at: number,
  midi: number,
  seconds: number,
  loud: number,
  bright: number,
  seed: number
): void {
  const period = RATE / hertz(midi)
  const length = Math.floor(period),
    fraction = period - length
  const line = new Float32Array(length + 1)
  const noise = random(seed)
  let smooth = 0
  for (let i = 0; i < line.length; i++) line[i] = smooth += (noise() - smooth) * bright
  const loss = Math.pow(10, -3 / (seconds * hertz(midi)))
  const end = Math.min(out.length, at + Math.round(seconds * 1.2 * RATE))
  let last = 0
  for (let n = Math.max(0, at), i = 0; n < end; n++) {
    const j = i + 1 < line.length ? i + 1 : 0
    const y = line[i] * (1 - fraction) + line[j] * fraction
    const next = loss * (0.5 * (1 + bright) * y + 0.5 * (1 - bright) * last)
    last = y
    line[i] = next
    i = j
    out[n] += loud * y * Math.min(1, (n - at) / 24)
  }
}

/** Partials that decay each in its own time: glass, kalimba, bells. Recurrences, no sines inside the loop. */
export function strike(
  out: Buffer,
  at: number,
  midi: number,
  loud: number,
  partials: [ratio: number, level: number, seconds: number][]
): void {
  for (const [ratio, level, seconds] of partials) {
    const w = (2 * Math.PI * hertz(midi) * ratio) / RATE
    if (w > 2.8) continue
    const r = Math.exp(-6.9 / (seconds * RATE))
    const c = 2 * r * Math.cos(w),
      d = r * r
    let y1 = 0,
      y2 = (-Math.sin(w) * loud * level) / r
    const end = Math.min(out.length, at + Math.round(seconds * RATE))
    for (let n = Math.max(0, at); n < end; n++) {
      const y = c * y1 - d * y2
      y2 = y1
      y1 = y
      out[n] += y
    }
  }
}

/** A sustained tone: odd or all harmonics, breath, vibrato, slow swell. */
export function blow(
  out: Buffer,
  at: number,
  midi: number,
  seconds: number,
  loud: number,
  tone: { harmonics: number[]; breath: number; vibrato: number; attack: number },
  seed: number
): void {
  const frames = Math.round(seconds * RATE),
    noise = random(seed)
  const base = (2 * Math.PI * hertz(midi)) / RATE
  let phase = 0,
    air = 0
  for (let n = 0; n < frames && at + n < out.length; n++) {
    const t = n / RATE
    phase += base * (1 + tone.vibrato * Math.min(1, t) * Math.sin(2 * Math.PI * 5.1 * t))
    const s = Math.sin(phase),
      c2 = 2 * Math.cos(phase)
    // sin(kθ) = 2 cos θ · sin((k−1)θ) − sin((k−2)θ)
    let before = 0,
      now = s,
      sum = 0
    for (const h of tone.harmonics) {
      sum += h * now
      const next = c2 * now - before
      before = now
      now = next
    }
    air += (noise() - air) * 0.3
    const envelope = Math.min(1, t / tone.attack, (seconds - t) / 0.25)
    if (at + n >= 0) out[at + n] += loud * envelope * (sum + tone.breath * air)
  }
}

/** A frame drum: modes of a membrane, a bend in pitch, a slap of noise. */
export function drum(out: Buffer, at: number, hz: number, loud: number, snap: number, seed: number): void {
  const noise = random(seed)
  const perFrame = (seconds: number) => Math.exp(-1 / (seconds * RATE))
  const modes = [
    [1, 1, 0.5],
    [1.59, 0.5, 0.3],
    [2.14, 0.35, 0.22],
    [2.65, 0.2, 0.16]
  ].map(([ratio, level, seconds]) => ({
    step: (2 * Math.PI * hz * ratio) / RATE,
    level,
    fall: perFrame(seconds / 6.9),
    phase: 0
  }))
  const frames = Math.min(out.length - at, RATE / 2)
  let low = 0,
    bend = 0.25,
    slap = snap
  const bendFall = perFrame(1 / 30),
    slapFall = perFrame(1 / 90)
  for (let n = 0; n < frames; n++) {
    bend *= bendFall
    slap *= slapFall
    let y = 0
    for (const m of modes) {
      m.phase += m.step * (1 + bend)
      m.level *= m.fall
      y += m.level * Math.sin(m.phase)
    }
    low += (noise() - low) * 0.6
    y += slap * low
    if (at + n >= 0) out[at + n] += loud * y * Math.min(1, n / 12)
  }
}

/** Two resonances over a buzz: a voice without words. */
export function sing(
  out: Buffer,
  at: number,
  midi: number,
  seconds: number,
  loud: number,
  vowel: [number, number],
  seed: number
): void {
  const frames = Math.round(seconds * RATE),
    noise = random(seed)
  const drift = 0.004 * noise()
  const filters = [
    [vowel[0], 70, 1],
    [vowel[1], 110, 0.6],
    [2700, 160, 0.25]
  ].map(([hz, width, level]) => {
    const r = Math.exp((-Math.PI * width) / RATE)
    return { a: 2 * r * Math.cos((2 * Math.PI * hz) / RATE), b: r * r, g: level * (1 - r), y1: 0, y2: 0 }
  })
  let phase = 0
  for (let n = 0; n < frames && at + n < out.length; n++) {
    const t = n / RATE
    phase +=
      (hertz(midi) * (1 + drift + 0.006 * Math.min(1, t) * Math.sin(2 * Math.PI * (4.7 + drift * 50) * t))) / RATE
    phase -= Math.floor(phase)
    const buzz = 1 - 2 * phase + 0.05 * noise()
    let y = 0
    for (const f of filters) {
      const v = f.g * buzz + f.a * f.y1 - f.b * f.y2
      f.y2 = f.y1
      f.y1 = v
      y += v
    }
    const envelope = Math.min(1, t / 0.35, (seconds - t) / 0.5)
    if (at + n >= 0) out[at + n] += loud * 4 * Math.max(0, envelope) * y
  }
}

/** Noise through a moving resonance: water, wind. */
export function bed(
  out: Buffer,
  loud: number,
  hz: number,
  width: number,
  sweep: number,
  period: number,
  seed: number
): void {
  const noise = random(seed)
  let y1 = 0,
    y2 = 0,
    a = 0,
    b = 0
  for (let n = 0; n < out.length; n++) {
    if (n % 64 === 0) {
      const wave =
        Math.sin((2 * Math.PI * n) / RATE / period + seed) +
        0.5 * Math.sin(((2 * Math.PI * n) / RATE / period) * 2.7 + seed * 2)
      const centre = hz * 2 ** (sweep * wave)
      const r = Math.exp((-Math.PI * width) / RATE)
      a = 2 * r * Math.cos((2 * Math.PI * centre) / RATE)
      b = r * r
    }
    const y = noise() * 0.02 + a * y1 - b * y2
    y2 = y1
    y1 = y
    const edge = Math.min(1, n / RATE, (out.length - n) / RATE)
    out[n] += loud * y * edge * (0.7 + 0.3 * Math.sin((2 * Math.PI * n) / RATE / period + seed))
  }
}
