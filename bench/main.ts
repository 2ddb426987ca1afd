// Speed, as ratios within one run: rounds are interleaved because machines drift. Nothing here is asserted in tests.
import { execFile } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { cpus, loadavg, tmpdir } from 'node:os'
import { join } from 'node:path'
import { promisify } from 'node:util'
import { compile } from '@nullet/core/compile/compile'
import type { CompileOptions } from '@nullet/core/compile/plan'
import { RunningPlan, valuesAfter } from '@nullet/core/compile/values'
import { Machine } from '@nullet/core/run/machine'
import { PlanStream, render } from '@nullet/core/run/stream'
import type { MediaReader } from '@nullet/core/run/mediaReader'
import { sessionFrames } from '@nullet/core/graph/sessionLength'
import { applyEdit } from '@nullet/core/edits/apply'
import { Network } from '@nullet/core/graph/network'
import { mapLayout } from '@nullet/core/graph/mapLayout'
import { findCircle } from '@nullet/core/graph/circles'
import { stagesToEars } from '@nullet/core/graph/path'
import { soloGate } from '@nullet/core/graph/solo'
import { whySilent } from '@nullet/core/graph/whySilent'
import { costPredictor, costRows, measureCost } from '@nullet/core/measure/cost'
import { generatedNetwork } from '@nullet/core/testing/generated'
import { PROCESSORS } from '@nullet/core/processors/table'
import { Sketch } from '@nullet/core/testing/sketch'
import { tiers } from '@nullet/core/graph/tiers'
import { runChecks } from '@nullet/core/checks/table'
import { rows, withChanges, type Session } from '@nullet/core/session/session'
import { whiteNoise } from '@nullet/core/testing/sound'
import { score } from '../demo/score'
import { demoSession } from '../demo/session'
import { startRender } from '../host/threads'
import { WavSink } from '../host/wavFile'
import { headline, headlineWithGaps } from './headline'
import { ffmpegGraph, hasFfmpeg, nativeHeadline, runFfmpeg } from './yardstick'

const RATE = 48000
const median = (list: number[]) => [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)]
const say = (what: string, figure: string) => console.log(`${what.padEnd(58)} ${figure}`)
const seconds = async (act: () => unknown) => {
  const b = process.hrtime.bigint()
  await act()
  return Number(process.hrtime.bigint() - b) / 1e9
}
const ms = (act: () => unknown) => {
  const list: number[] = []
  for (let i = 0; i < 9; i++) {
    const b = process.hrtime.bigint()
    act()
    list.push(Number(process.hrtime.bigint() - b) / 1e6)
  }
  return median(list)
}

/** The same noise again and again: what a long file looks like to the engine, without holding one. */
class Endless implements MediaReader {
  private readonly noise: Float32Array
  constructor(
    private readonly legs: (medium: string) => number,
    frames = 1 << 18
  ) {
    this.noise = whiteNoise(frames, 7, 0.2)
  }
  read(medium: string, from: number, frames: number): Float32Array[] {
    const at = (from + medium.length * 4096) % (this.noise.length - frames)
    return Array.from({ length: this.legs(medium) }, () => this.noise.subarray(at, at + frames))
  }
}

const MAIN = [{ channel: 'main', tap: 'post' as const }]
const renderMain = async (session: Session, media: MediaReader, frames: number) =>
  render(new PlanStream(compile(session, { taps: MAIN }), session, media), { from: 0, frames }, () => {})

const TURN = 64,
  TURNS = 120
/**
 * One thread and two in turn, by 64 blocks of renders that go on: machines drift by the second. What each takes for a
 * block, in order, and how many times longer one takes.
 */
async function inTurn(session: Session, media: MediaReader): Promise<{ one: number[]; two: number[]; by: number[] }> {
  const renders = ([1, 2] as const).map(n => startRender(session, media, { taps: MAIN }, n))
  for (const { stream } of renders) stream.start(0)
  const blocks = async (i: number, count: number) => {
    for (let n = 0; n < count; n++) await renders[i].stream.block()
  }
  for (const i of [0, 1, 0, 1]) await blocks(i, 8 * TURN)
  const one: number[] = [],
    two: number[] = []
  for (let turn = 0; turn < TURNS; turn++)
    for (const [i, times] of [one, two].entries()) {
      // Who has slept through the other's turn comes back first.
      await blocks(i, TURN / 4)
      times.push((await seconds(() => blocks(i, TURN))) / TURN)
    }
  for (const r of renders) r.end()
  return { one, two, by: one.map((t, i) => t / two[i]) }
}

async function renderOn2(session: Session, media: MediaReader, frames: number): Promise<void> {
  const rendering = startRender(session, media, { taps: MAIN }, 2)
  await render(rendering.stream, { from: 0, frames }, () => {})
  rendering.end()
}

/** Seconds that each of so many processes takes for the headline, all at once. */
const rendersAtOnce = (count: number, length: number): Promise<number[]> =>
  Promise.all(
    Array.from({ length: count }, async () =>
      Number((await promisify(execFile)(process.execPath, [process.argv[1]!, 'seconds-of', `${length}`])).stdout)
    )
  )

function lengthened(session: Session, frames: number): Session {
  return {
    ...session,
    medium: Object.fromEntries(Object.entries(session.medium).map(([id, m]) => [id, { ...m, frames }]))
  }
}

async function demo(): Promise<void> {
  const parts = score(10)
  const short = demoSession(parts, p => ({ sha256: '', frames: p.legs[0].length, peakDb: null, loudnessLufs: null }))
  const legs = new Map(parts.map(p => [p.id, p.legs.length]))
  const media = new Endless(id => legs.get(id) ?? 1)
  for (const [name, length] of [
    ['40 s', 40],
    ['40 min', 2400]
  ] as const) {
    const session = lengthened(short, length * RATE)
    const time = await seconds(() => renderMain(session, media, sessionFrames(session)))
    say(`the demonstration’s main, ${name}: × real time, one core`, (sessionFrames(session) / RATE / time).toFixed(1))
    say(`    peak memory of the process so far, MB`, (process.resourceUsage().maxRSS / 1024).toFixed(0))
  }
}

const ratios = (a: number[], b: number[], to: number[]) =>
  `${(median(a) / median(to)).toFixed(2)}, ${(median(b) / median(to)).toFixed(2)}`

async function headlineWork(): Promise<void> {
  const length = 10
  const session = headline(144, length * RATE)
  const media = new Endless(() => 1)
  const folder = mkdtempSync(join(tmpdir(), 'nullet-bench-'))
  const ours: number[] = [],
    theirs: number[] = [],
    both: number[] = [],
    native: number[] = []
  try {
    const files: string[] = []
    if (hasFfmpeg()) {
      for (let i = 0; i < 144; i++) {
        const path = join(folder, `${i}.wav`)
        const sink = await WavSink.create(path, ['M'], RATE, length * RATE, '32f')
        await sink.write(media.read(`m${i}`, 0, 1).map(() => whiteNoise(length * RATE, i + 1, 0.2)))
        await sink.close()
        files.push(path)
      }
    }
    await renderMain(session, media, RATE)
    await renderOn2(session, media, RATE)
    const compiled = nativeHeadline(folder),
      worth: number[] = []
    for (let round = 0; round < 3; round++) {
      if (compiled) native.push(compiled(length))
      ours.push(await seconds(() => renderMain(session, media, length * RATE)))
      both.push(await seconds(() => renderOn2(session, media, length * RATE)))
      const [alone] = await rendersAtOnce(1, length),
        pair = await rendersAtOnce(2, length)
      worth.push((2 * alone!) / Math.max(...pair))
      if (files.length) theirs.push(runFfmpeg(ffmpegGraph(files, 144)))
    }
    say('headline, 144 tracks: × real time, one core', (length / median(ours)).toFixed(2))
    say(
      '    on two cores, × real time, and to one',
      `${(length / median(both)).toFixed(2)}, ${(median(ours) / median(both)).toFixed(2)}`
    )
    say('    best of each: two cores to one', (Math.min(...ours) / Math.min(...both)).toFixed(2))
    const { one, two, by } = await inTurn(headline(144, 120 * RATE), media)
    say(
      '    in turn by 64 blocks: two cores to one by medians, of pairs',
      `${(median(one) / median(two)).toFixed(2)}, ${median(by).toFixed(2)}`
    )
    say('    what two processes at once are worth here, to one', median(worth).toFixed(2))
    if (theirs.length) {
      say('    ffmpeg’s graph of the same work, × real time', (length / median(theirs)).toFixed(2))
      say('    ours to ffmpeg’s', (median(theirs) / median(ours)).toFixed(1))
    }
    if (native.length)
      say(
        '    native C in float32, sixteen lanes, × real time; ours to it',
        `${median(native).toFixed(1)}, ${(length / median(ours) / median(native)).toFixed(2)}`
      )
    const silent: MediaReader = { read: (_, __, frames) => [new Float32Array(frames)] }
    const gaps = headlineWithGaps(length * RATE)
    const quiet: number[] = [],
      loud: number[] = [],
      sparse: number[] = []
    for (let round = 0; round < 3; round++) {
      quiet.push(await seconds(() => renderMain(session, silent, 4 * RATE)))
      loud.push(await seconds(() => renderMain(session, media, 4 * RATE)))
      sparse.push(await seconds(() => renderMain(gaps, media, 4 * RATE)))
    }
    say('    three quarters silence, and nothing else, to sound all the time, time', ratios(sparse, quiet, loud))
    const times = async (n: number) => {
      const s = headline(n, 4 * RATE)
      return median([
        await seconds(() => renderMain(s, media, 4 * RATE)),
        await seconds(() => renderMain(s, media, 4 * RATE)),
        await seconds(() => renderMain(s, media, 4 * RATE))
      ])
    }
    say('    288 tracks to 36 tracks, time', ((await times(288)) / (await times(36))).toFixed(1))
  } finally {
    rmSync(folder, { recursive: true, force: true })
  }
}

async function network(): Promise<void> {
  const { session } = generatedNetwork(5, { tracks: 870, submixes: 96, returns: 20, stems: 13, sends: 3600, keys: 500 })
  session.channel.t7.soloed = true
  say(
    `network of ${rows(session, 'channel').length} channels, ${rows(session, 'feed').length} feeds: index, ms`,
    ms(() => new Network(session)).toFixed(1)
  )
  const n = new Network(session)
  const reach = ms(() => n.reach(['t0'], id => n.downstream(id))),
    path = ms(() => stagesToEars(n, 't0')),
    tier = ms(() => tiers(n))
  const solo = ms(() => {
      const gate = soloGate(n)!
      rows(session, 'feed').forEach(gate)
    }),
    checks = ms(() => runChecks(session, n))
  for (const [what, took] of [
    ['reach', reach],
    ['path to the ears', path],
    ['tiers', tier],
    ['solo of every feed', solo],
    ['all checks', checks]
  ] as const)
    say(`    ${what}, ms`, took.toFixed(1))
  say('    reach, path, tiers, solo and checks together, ms', (reach + path + tier + solo + checks).toFixed(1))
  say('    why is this silent, ms', ms(() => whySilent(session, 't0')).toFixed(1))
  say('    circles, ms', ms(() => findCircle(session)).toFixed(1))
  say('    layout of the Map, ms', ms(() => mapLayout(n, { folded: new Set(), row: 32, gap: 3, lane: 8 })).toFixed(1))
  const ids = rows(session, 'channel')
    .filter(c => c.kind === 'track')
    .slice(0, 144)
    .map(c => c.id)
  say(
    '    144 channels re-routed in one edit, ms',
    ms(() => applyEdit(session, { verb: 'setMainFeed', args: { ids, to: 'b90', feedIds: ids } })).toFixed(1)
  )
  say(
    'headline compiled for playing, ms',
    ms(() => compile(headline(144), { taps: [], live: true, heard: { channel: 'main', latency: 8192 } })).toFixed(0)
  )
  await cost()
}

/** One fader that moves in the headline session while it plays: its value written, beside everything compiled. */
function movingHand(): void {
  const LIVE: CompileOptions = { taps: [], live: true, heard: { channel: 'main', latency: 8192 } }
  let session = headline(144)
  const running = new RunningPlan(session, LIVE),
    machine = new Machine(running.plan.ops)
  let step = 0
  const moved = () => {
    const before = session.channel.t000!
    const changes = [
      { table: 'channel' as const, id: 't000', before, after: { ...before, levelDb: -(++step % 60) / 4 } }
    ]
    session = withChanges(session, changes)
    return changes
  }
  moved()
  const written = ms(() => {
    const changes = moved()
    machine.aim(running.changed(session, changes)!)
  })
  const compiled = ms(() => {
    moved()
    machine.aim(valuesAfter(running.plan.ops, compile(session, LIVE).ops)!)
  })
  say('a fader moves among 144 tracks: written, compiled, ms', `${written.toFixed(2)}, ${compiled.toFixed(1)}`)
}

/** What each processor takes, measured in its place in a plan of eight stereo tracks of noise. */
async function processors(): Promise<void> {
  const media = new Endless(() => 2),
    range = { from: 0, frames: RATE * 2 }
  for (const id of Object.keys(PROCESSORS)) {
    const k = new Sketch('one', { sampleRate: RATE })
    k.bus('main', { role: 'main' })
    for (let i = 0; i < 8; i++) {
      k.medium(`m${i}`, 2, range.frames)
      k.main(k.track(`t${i}`, `m${i}`), 'main')
      k.slot(
        `t${i}`,
        id,
        id === 'equaliser'
          ? { kind1: 'bell', db1: 3, kind2: 'bell', db2: -3, kind3: 'high shelf', db3: 2 }
          : id === 'limiter'
            ? { ceilingDb: -20 }
            : {}
      )
    }
    const cost = await measureCost(
      k.session,
      media,
      { taps: [{ channel: 'main', tap: 'post' }] },
      range,
      RATE,
      () => performance.now() / 1000
    )
    const own = costRows(cost)
      .filter(r => r.slot)
      .reduce((sum, r) => sum + r.secondsPerSecond, 0)
    say(
      `${PROCESSORS[id].label}${id === 'equaliser' ? ', three bands' : ''}: ns a sample and leg`,
      ((own * 1e9) / RATE / 16).toFixed(1)
    )
  }
}

/** How well the cost view foresees what parking saves: predicted against measured again, in one process. */
async function cost(): Promise<void> {
  const session = headline(48),
    media = new Endless(() => 1)
  const options: CompileOptions = { taps: [{ channel: 'main', tap: 'post' }] }
  const clock = () => performance.now() / 1000
  const range = { from: 0, frames: RATE * 4 }
  await measureCost(session, media, options, range, RATE, clock)
  const before = await measureCost(session, media, options, range, RATE, clock)
  say('cost view: shares add up to, %', (costRows(before).reduce((sum, r) => sum + r.share, 0) * 100).toFixed(2))
  const some = rows(session, 'channel')
      .filter(c => c.kind === 'track')
      .slice(0, 16)
      .map(c => c.id),
    returns = rows(session, 'channel')
      .filter(c => c.role === 'return')
      .map(c => c.id)
  for (const [what, ids] of [
    ['16 of 48 tracks', some],
    ['every return', returns]
  ] as const) {
    const parked = applyEdit(session, { verb: 'setChannels', args: { ids, fields: { parked: true } } }).session
    const foreseen: number[] = [],
      found: number[] = []
    for (let round = 0; round < 5; round++) {
      const whole = await measureCost(session, media, options, range, RATE, clock),
        less = await measureCost(parked, media, options, range, RATE, clock)
      foreseen.push(1 - costPredictor(whole, options)(parked) / whole.seconds)
      found.push(1 - less.seconds / whole.seconds)
    }
    say(
      `    parking ${what}: saving foreseen and measured, %`,
      `${(median(foreseen) * 100).toFixed(1)}, ${(median(found) * 100).toFixed(1)}`
    )
  }
}

/** For `prints`: peak of memory, in a process of its own. */
async function memoryOf(seconds: number): Promise<void> {
  await renderMain(headline(8, seconds * RATE), new Endless(() => 1), seconds * RATE)
  console.log(process.resourceUsage().maxRSS / 1024)
}
/** For `rendersAtOnce`: seconds of the headline, in a process of its own. */
if (process.argv[2] === 'seconds-of') {
  const length = Number(process.argv[3]),
    media = new Endless(() => 1)
  await renderMain(headline(144, length * RATE), media, RATE)
  console.log(await seconds(() => renderMain(headline(144, length * RATE), media, length * RATE)))
  process.exit(0)
}
if (process.argv[2] === 'memory-of') {
  await memoryOf(Number(process.argv[3]))
  process.exit(0)
}

console.log(`${cpus().length} cores, ${cpus()[0].model}; load before: ${loadavg()[0].toFixed(2)}`)
const PARTS: Record<string, () => unknown> = {
  demo,
  headline: headlineWork,
  network,
  processors,
  hand: async () => {
    movingHand()
    await (await import('./hands')).hands(new Endless(() => 1), say)
  },
  moving: async () => (await import('./moving')).moving(new Endless(() => 1), say),
  import: async () => (await import('./imports')).imports(say),
  prints: async () => (await import('./prints')).prints(say, process.argv[1]!),
  page: async () => (await import('./page')).page(say)
}
const wanted = process.argv.slice(2)
for (const [name, part] of Object.entries(PARTS)) if (!wanted.length || wanted.includes(name)) await part()
console.log(`load after: ${loadavg()[0].toFixed(2)}`)
