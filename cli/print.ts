// `nullet print`: renders taps of a session package to WAV files, in one pass, and compares what was written with the
// live path rendered again.
import { createHash } from 'node:crypto'
import { mkdir, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { notCompensated } from '@nullet/core/checks/notCompensated'
import { NOTHING_SEEN } from '@nullet/core/checks/observe'
import { unitOff } from '@nullet/core/checks/unitOff'
import { tapKey, type TapName } from '@nullet/core/compile/plan'
import { Edges, nodeName, nodeOf, upstreamOf } from '@nullet/core/graph/edges'
import { Network } from '@nullet/core/graph/network'
import { render } from '@nullet/core/run/stream'
import { channelNamed } from '@nullet/core/session/find'
import type { Depth } from '@nullet/core/formats/wav'
import { decibels } from '@nullet/core/foundation/elementary'
import { verify } from '@nullet/core/print/verify'
import { sessionFrames } from '@nullet/core/graph/sessionLength'
import { Refusal } from '@nullet/core/foundation/refusal'
import { rows, settings, type Session } from '@nullet/core/session/session'
import { TAPS, type Tap } from '@nullet/core/session/rows'
import { openPackage, PackageMedia } from '../host/packageFile'
import { startRender, type Rendering } from '../host/threads'
import { interleave, WavFile, WavSink } from '../host/wavFile'
import { choiceOption, LONGEST_S, readOptions, secondsOption, wholeOption } from './options'
import { assertRoom, userPath } from './paths'
import { Progress } from './progress'

interface Output {
  tap: TapName
  name: string
  path: string
  file: string
  sink: WavSink
  frames: number
  peak: number
  sum: number
  legs: number
  latency: number
}

const DEPTHS = { 16: 16, 24: 24, '32f': '32f' } as const
/**
 * What is proven of a print: nothing, that what was written is what was rendered, or that it is what a second render
 * gives.
 */
const VERIFY = ['none', 'fast', 'full'] as const

export async function print(args: string[]) {
  const { path, values, many, flags } = readOptions(
    args,
    ['out', 'from', 'to', 'depth', 'seed', 'threads', 'verify'],
    ['tap'],
    ['quiet']
  )
  if (!values.out) throw new Refusal('badArguments', '--out says into which folder to write')
  const out = userPath(values.out)
  const depth: Depth = DEPTHS[choiceOption(values.depth, 'depth', ['16', '24', '32f'], '32f')]
  const threads =
    values.threads === undefined
      ? undefined
      : (Number(choiceOption(values.threads, 'threads', ['1', '2'], '1')) as 1 | 2)
  const proof = choiceOption(values.verify, 'verify', VERIFY, 'full'),
    progress = new Progress(flags.has('quiet'))
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
    if (to > LONGEST_S * rate)
      throw new Refusal(
        'tooLarge',
        `The session lasts ${Math.round(to / rate)} s; at most ${LONGEST_S} s, a day, are printed. --to says where to end.`,
        [],
        'Nothing was written.'
      )
    const seed = wholeOption(values.seed, 'seed', 2 ** 31) ?? settings(session).seed
    const taps = wantedTaps(session, many.tap)
    const range = { from, frames: to - from }
    const warnings = warningsFor(session, taps)
    for (const w of warnings) progress.say(w)

    rendering = startRender(session, media, { taps, seed }, threads)
    const { stream } = rendering
    const layoutOfTap = (tap: TapName) => stream.plan.sinks.get(tapKey(tap))!.layout
    await assertRoom(
      out,
      taps.reduce((sum, tap) => sum + range.frames * layoutOfTap(tap).length * (depth === '32f' ? 4 : depth / 8), 0)
    )
    await mkdir(out, { recursive: true })
    const outputs = new Map<string, Output>()
    const taken = new Set<string>()
    for (const tap of taps) {
      const sink = stream.plan.sinks.get(tapKey(tap))!
      const name = session.channel[tap.channel].name
      const file = fileName(name, tap.tap, taken)
      outputs.set(tapKey(tap), {
        tap,
        name,
        file,
        path: join(out, file),
        legs: sink.layout.length,
        latency: sink.latency,
        frames: range.frames,
        peak: 0,
        sum: 0,
        sink: await WavSink.create(join(out, file), sink.layout, rate, range.frames, depth, `${seed}/${tapKey(tap)}`)
      })
    }
    await render(
      stream,
      range,
      async (key, audio) => {
        const o = outputs.get(key)!
        for (const leg of audio)
          for (const x of leg) {
            o.peak = Math.max(o.peak, Math.abs(x))
            o.sum += x * x
          }
        await o.sink.write(audio)
      },
      { progress: share => progress.at('printing', share) }
    )
    const faults = rendering.stream.faults()
    const closed = new Map<string, { sha256: string; clipped: number }>()
    for (const [key, o] of outputs) closed.set(key, await o.sink.close())

    const stored = new Map([...outputs].map(([key, o]) => [key, new WavFile(o.path)]))
    const read = (tap: TapName, at: number, n: number) => stored.get(tapKey(tap))!.read(at, n)
    const residuals =
      proof === 'full'
        ? await verify(session, media, taps, range, seed, read, { progress: share => progress.at('proving', share) })
        : null
    const readBack = new Map(
      proof === 'fast'
        ? taps.map(tap => [
            tapKey(tap),
            sameAsRendered(read, tap, range.frames, depth, closed.get(tapKey(tap))!.sha256)
          ])
        : []
    )
    stored.forEach(f => f.close())
    progress.end()
    const report = {
      session: settings(session).name,
      sampleRate: rate,
      seed,
      fromFrame: from,
      frames: range.frames,
      depth: String(depth),
      verify: proof,
      notes: [
        ...pack.notes,
        ...warnings,
        ...faults.map(id => `“${session.channel[id].name}” was muted where its samples were not numbers`)
      ],
      taps: [...outputs].map(([key, o]) => ({
        channel: o.name,
        id: o.tap.channel,
        tap: o.tap.tap,
        file: o.file,
        legs: o.legs,
        frames: o.frames,
        latencyCompensatedSamples: o.latency,
        peakDb: decibels(o.peak),
        rmsDb: decibels(Math.sqrt(o.sum / (o.frames * o.legs))),
        ...(residuals ? { residualDb: residuals.get(key)!.rmsDb, residualPeakDb: residuals.get(key)!.peakDb } : {}),
        ...(readBack.has(key) ? { asWritten: readBack.get(key) } : {}),
        ...closed.get(key)!
      }))
    }
    await writeFile(join(out, 'report.json'), JSON.stringify(report, (_, v) => (v === -Infinity ? null : v), 2) + '\n')
    return report
  } finally {
    progress.end()
    rendering?.end()
    media.close()
    await pack.dispose()
  }
}

/**
 * Float files hold the samples themselves; of rounded ones the length is what can be compared without rendering again.
 */
function sameAsRendered(
  read: (tap: TapName, at: number, n: number) => Float32Array[],
  tap: TapName,
  frames: number,
  depth: Depth,
  sha256: string
): boolean {
  if (depth !== '32f') return read(tap, frames - 1, 1).every(leg => leg.length === 1)
  const hash = createHash('sha256')
  for (let at = 0; at < frames; at += READ_FRAMES)
    hash.update(interleave(read(tap, at, Math.min(READ_FRAMES, frames - at))))
  return hash.digest('hex') === sha256
}
const READ_FRAMES = 65536

/**
 * What a print says beforehand: units that are off and loops that were never measured, where the wanted taps hear them.
 */
function warningsFor(session: Session, taps: TapName[]): string[] {
  const edges = new Edges(session)
  const heard = new Set(
    taps.flatMap(t => [...upstreamOf(edges, nodeName(t.tap, t.channel)).nodes]).map(n => nodeOf(n).id)
  )
  const findings = [unitOff, notCompensated].flatMap(check => check.find(session, new Network(session), NOTHING_SEEN))
  return findings.filter(f => f.about.some(id => heard.has(id))).map(f => f.sentence)
}

/** `NAME[@tap]` each; the mains, or whatever goes nowhere, when none is named. */
function wantedTaps(session: Session, texts: string[] | undefined): TapName[] {
  if (!texts) {
    const all = rows(session, 'channel')
    const mains = all.filter(c => c.role === 'main')
    const ends = mains.length
      ? mains
      : all.filter(c => !rows(session, 'feed').some(f => f.from === c.id && f.kind === 'main'))
    return ends.map(c => ({ channel: c.id, tap: 'post' as const }))
  }
  return texts.map(text => {
    const at = text.lastIndexOf('@')
    const tap = at < 0 ? 'post' : text.slice(at + 1)
    if (at >= 0 && !TAPS.includes(tap as Tap))
      throw new Refusal('badArguments', `“${text}”: a tap is input, pre or post`)
    return { channel: channelNamed(session, at < 0 ? text : text.slice(0, at)).id, tap: tap as Tap }
  })
}

/** Disks take 255 letters; tap, number and ending need some of them. */
const LONGEST_NAME = 120

function fileName(name: string, tap: Tap, taken: Set<string>): string {
  const plain =
    name
      .normalize('NFKD')
      .replace(/[^A-Za-z0-9 _-]+/g, '')
      .trim()
      .slice(0, LONGEST_NAME) || 'channel'
  for (let i = 1; ; i++) {
    const candidate = `${plain}${tap === 'post' ? '' : ` ${tap}`}${i > 1 ? ` ${i}` : ''}.wav`
    if (!taken.has(candidate.toLowerCase())) {
      taken.add(candidate.toLowerCase())
      return candidate
    }
  }
}
