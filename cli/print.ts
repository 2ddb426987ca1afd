// `nullet print`: renders taps of a session package to WAV files, in one pass, and compares what was written with the
// live path rendered again.
import { mkdir, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { tapKey, type TapName } from '@nullet/core/compile/plan'
import { render } from '@nullet/core/run/stream'
import { channelNamed } from '@nullet/core/formats/package'
import type { Depth } from '@nullet/core/formats/wav'
import { decibels } from '@nullet/core/foundation/elementary'
import { verify } from '@nullet/core/print/verify'
import { sessionFrames } from '@nullet/core/print/range'
import { Refusal } from '@nullet/core/foundation/refusal'
import { rows, settings, type Session } from '@nullet/core/session/session'
import { TAPS, type Tap } from '@nullet/core/session/rows'
import { openPackage, PackageMedia } from '../host/packageFile'
import { startRender, type Rendering } from '../host/threads'
import { WavFile, WavSink } from '../host/wavFile'
import { readOptions, secondsOption } from './options'

interface Output { tap: TapName, name: string, path: string, file: string, sink: WavSink, frames: number, peak: number, sum: number, legs: number, latency: number }

export async function print(args: string[]) {
  const { path, values, many } = readOptions(args, ['out', 'from', 'to', 'depth', 'seed', 'threads'], ['tap'])
  if (!values.out) throw new Refusal('badArguments', '--out says into which folder to write')
  const depth: Depth = values.depth === undefined || values.depth === '32f' ? '32f' : values.depth === '24' ? 24 : values.depth === '16' ? 16
    : (() => { throw new Refusal('badArguments', `--depth takes 16, 24 or 32f, not “${values.depth}”`) })()
  if (values.threads !== undefined && !/^[12]$/.test(values.threads)) throw new Refusal('badArguments', `--threads takes 1 or 2, not “${values.threads}”`)
  const threads = values.threads === undefined ? undefined : Number(values.threads) as 1 | 2
  const pack = await openPackage(path)
  const media = new PackageMedia(pack)
  let rendering: Rendering | null = null
  try {
    await media.prepare()
    const { session } = pack
    const rate = settings(session).sampleRate
    const from = secondsOption(values.from, 'from', rate) ?? 0
    const to = secondsOption(values.to, 'to', rate) ?? sessionFrames(session)
    if (to <= from) throw new Refusal('badArguments', `The range is empty: from ${from / rate} s to ${to / rate} s`)
    const seed = values.seed === undefined ? settings(session).seed : Number(values.seed)
    const taps = wantedTaps(session, many.tap)
    const range = { from, frames: to - from }

    await mkdir(values.out, { recursive: true })
    rendering = startRender(session, media, { taps, seed }, threads)
    const { stream } = rendering
    const outputs = new Map<string, Output>()
    const taken = new Set<string>()
    for (const tap of taps) {
      const sink = stream.plan.sinks.get(tapKey(tap))!
      const name = session.channel[tap.channel].name
      const file = fileName(name, tap.tap, taken)
      outputs.set(tapKey(tap), {
        tap, name, file, path: join(values.out, file), legs: sink.layout.length, latency: sink.latency, frames: range.frames, peak: 0, sum: 0,
        sink: await WavSink.create(join(values.out, file), sink.layout.length, rate, range.frames, depth)
      })
    }
    await render(stream, range, async (key, audio) => {
      const o = outputs.get(key)!
      for (const leg of audio) for (const x of leg) { o.peak = Math.max(o.peak, Math.abs(x)); o.sum += x * x }
      await o.sink.write(audio)
    })
    const faults = rendering.faults()
    const closed = new Map<string, { sha256: string, clipped: number }>()
    for (const [key, o] of outputs) closed.set(key, await o.sink.close())

    const stored = new Map([...outputs].map(([key, o]) => [key, new WavFile(o.path)]))
    const residuals = await verify(session, media, taps, range, seed, (tap, at, n) => stored.get(tapKey(tap))!.read(at, n))
    stored.forEach(f => f.close())
    const report = {
      session: settings(session).name, sampleRate: rate, seed, fromFrame: from, frames: range.frames, depth: String(depth), notes: [...pack.notes, ...faults.map(id => `“${session.channel[id].name}” was muted where numbers came out that are none`)],
      taps: [...outputs].map(([key, o]) => ({
        channel: o.name, id: o.tap.channel, tap: o.tap.tap, file: o.file, legs: o.legs, frames: o.frames,
        latencyCompensatedSamples: o.latency, peakDb: decibels(o.peak), rmsDb: decibels(Math.sqrt(o.sum / (o.frames * o.legs))),
        residualDb: residuals.get(key)!.rmsDb, residualPeakDb: residuals.get(key)!.peakDb, ...closed.get(key)!
      }))
    }
    await writeFile(join(values.out, 'report.json'), JSON.stringify(report, (_, v) => v === -Infinity ? null : v, 2) + '\n')
    return report
  } finally { await rendering?.end(); media.close(); await pack.dispose() }
}

/** `NAME[@tap]` each; the mains, or whatever goes nowhere, when none is named. */
function wantedTaps(session: Session, texts: string[] | undefined): TapName[] {
  if (!texts) {
    const all = rows(session, 'channel')
    const mains = all.filter(c => c.role === 'main')
    const ends = mains.length ? mains : all.filter(c => !rows(session, 'feed').some(f => f.from === c.id && f.kind === 'main'))
    return ends.map(c => ({ channel: c.id, tap: 'post' as const }))
  }
  return texts.map(text => {
    const at = text.lastIndexOf('@')
    const tap = at < 0 ? 'post' : text.slice(at + 1)
    if (at >= 0 && !TAPS.includes(tap as Tap)) throw new Refusal('badArguments', `“${text}”: a tap is input, pre or post`)
    return { channel: channelNamed(session, at < 0 ? text : text.slice(0, at)).id, tap: tap as Tap }
  })
}

function fileName(name: string, tap: Tap, taken: Set<string>): string {
  const plain = name.normalize('NFKD').replace(/[^A-Za-z0-9 _-]+/g, '').trim() || 'channel'
  for (let i = 1; ; i++) {
    const candidate = `${plain}${tap === 'post' ? '' : ` ${tap}`}${i > 1 ? ` ${i}` : ''}.wav`
    if (!taken.has(candidate.toLowerCase())) { taken.add(candidate.toLowerCase()); return candidate }
  }
}
