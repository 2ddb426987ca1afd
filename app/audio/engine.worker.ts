// The engine's own thread: keeps the ring filled some tens of milliseconds ahead of what is heard. What to play it is
// told by the planner: it compiles nothing.
import type { Machine } from '@nullet/core/run/machine'
import type { PlanStream } from '@nullet/core/run/stream'
import { heaviest, type Heavy } from '@nullet/core/run/weights'
import { LoudnessMeter } from '@nullet/core/measure/loudness'
import { asSession, settings, withChanges, type Session } from '@nullet/core/session/session'
import { Heard } from './heard'
import { Help } from './help'
import { Pace } from './pace'
import { Looker } from './probe'
import { isPeak } from './meterKeys'
import type { Lines, Range, Told, ToEngine, ToPage } from './messages'
import { readouts } from './readouts'
import {
  BLOCK,
  RING_FRAMES,
  WORD,
  WRAP,
  ahead,
  meterMemory,
  meterSlot,
  metersOver,
  ringOver,
  type Meters,
  type Ring
} from './ring'
import { mediaOf, Segments } from './segments'
import { Sounding } from './sounding'

const FIRST_AHEAD = 4096
/** Frames that are there before the output begins to take them. */
const FIRST_WRITTEN = 1536
const MOST_AHEAD = 49152
/** With less than this ahead nothing is computed that can be spared. */
const SHORT = 1024
const POLL_MS = 6
const MORE_METERS = 128
/** Work that may lie before a start, so that sound is there at once. */
const RUN_IN_MS = 50

let ring: Ring
let session: Session | null = null
let heard: Heard | null = null
/** What the planner said and is not heard yet. */
let planned: Told[] = []
let described = false
/** Ways to read meters, by machine: one that has rung out is used again. */
const ways = new WeakMap<Machine, ReturnType<typeof readouts>>()
function valuesNow(): ReturnType<typeof readouts> {
  const { machine, plan } = heard!
  const found = ways.get(machine) ?? readouts(machine, plan.ops)
  ways.set(machine, found)
  return found
}
/** Where the page reads them; there is room for some more channels than the plan has. */
let meterRoom = meterMemory(2)
let shown: Meters = metersOver(meterRoom)
let loudness: LoudnessMeter
let readAhead = FIRST_AHEAD
let serial = 0
const media = new Segments()
const help = new Help()
const looker = new Looker()
const pace = new Pace(RUN_IN_MS)
const tell = (m: ToPage) => postMessage(m)

/** Messages are taken one after the other; playing goes on between them. */
let queue: Promise<unknown> = Promise.resolve()
onmessage = ({ data: { planner, helper } }: MessageEvent<Lines>) => {
  help.over(helper)
  planner.onmessage = ({ data }: MessageEvent<ToEngine>) => {
    if (data.kind === 'play' || data.kind === 'stop') serial++
    const mine = serial
    queue = queue
      .then(() => take(data, mine))
      .catch(error => tell({ kind: 'error', message: (error as Error).message }))
  }
}

async function take(m: ToEngine, mine: number): Promise<void> {
  switch (m.kind) {
    case 'memory':
      ring = ringOver(m.memory)
      break
    case 'planned':
      planned.push(m)
      // The one that fills the ring takes it up between two blocks.
      if (!playing) refresh()
      break
    case 'repeat':
      if (playing) playing.range = m.repeat
      break
    case 'stop':
      playing = null
      Atomics.store(ring.control, WORD.running, 0)
      break
    case 'play':
      if (mine === serial) await play(m, mine)
      break
  }
}

/** What the planner said since. Returns the stream to fade out, if the plan is another. */
function refresh(): PlanStream | null {
  if (!planned.length) return null
  const all = planned,
    // Of several plans the last one counts, with what came after it.
    last = all.findLastIndex(p => p.update.kind === 'plan')
  planned = []
  let old: PlanStream | null = null
  all.forEach(({ rows, update }, i) => {
    const next = 'session' in rows ? asSession(rows.session) : withChanges(session!, rows.changes)
    // A hand moves levels, not media: they are not gone through at every move.
    if (next.medium !== session?.medium) media.setMedia(mediaOf(next))
    session = next
    if (i < last) return
    if (heard) old = heard.take(update, session) ?? old
    else if (update.kind === 'plan') {
      heard = new Heard(update, session, media, pace)
      readFirst(session)
    }
  })
  if (old || !described) describe()
  return old
}

/** First audio is there before anybody clicks on play. */
function readFirst({ clip }: Session): void {
  for (const { startFrame, medium, offsetFrames } of Object.values(clip))
    if (startFrame < 4096) void Promise.resolve(media.read(medium, offsetFrames, 4096)).catch(() => {})
}

function describe(): void {
  const values = valuesNow()
  described = values.length > 0
  const width = 2 + values.length
  if (width > shown.width) {
    meterRoom = meterMemory(width + MORE_METERS)
    shown = metersOver(meterRoom)
  }
  announce()
}

/** @param heavy what takes the most of the work, where it was too much */
function announce(heavy: Heavy[] = []): void {
  tell({
    kind: 'plan',
    meters: ['lufs', 'truePeak', ...valuesNow().map(v => v.key)],
    meterMemory: meterRoom,
    latency: heard!.latency,
    readAhead,
    cores: help.cores,
    heavy
  })
}

interface Playing {
  until: number | null
  /** The range that repeats; the sounding one follows. */
  range: Range | null
  sounding: Sounding
  written: number
  underruns: number
}
let playing: Playing | null = null
const out: [Float32Array, Float32Array] = [new Float32Array(BLOCK), new Float32Array(BLOCK)]

async function play({ from, until, repeat }: Extract<ToEngine, { kind: 'play' }>, mine: number): Promise<void> {
  playing = null
  refresh()
  if (!heard) return
  // What was heard fades out: while the new place is being made ready, silence is waiting and no gap.
  Atomics.store(ring.control, WORD.running, 0)
  const rate = settings(session!).sampleRate
  const sounding = new Sounding(heard, rate, beforeTheFirst, () => mine !== serial)
  early = null
  await sounding.start(from, repeat)
  if (mine !== serial) return
  loudness = new LoudnessMeter(['L', 'R'], rate)
  // Meters are stored by block of the ring, so playing begins on a multiple of 128.
  const at = (Math.ceil(Atomics.load(ring.control, WORD.written) / BLOCK) * BLOCK) % WRAP
  // Gaps are counted from here.
  Atomics.store(ring.control, WORD.underruns, 0)
  playing = { until, range: repeat, sounding, written: at, underruns: 0 }
  while (ahead(at, playing.written) < FIRST_WRITTEN && (!isOver(playing) || at === playing.written))
    await write(playing)
  tell({ kind: 'mark', mark: { at, frame: from }, first: true, since: heard.since })
  Atomics.store(ring.control, WORD.jumpTo, at)
  Atomics.store(ring.control, WORD.written, playing.written)
  Atomics.add(ring.control, WORD.jump, 1)
  Atomics.store(ring.control, WORD.running, 1)
  void fill(mine)
}

const isOver = ({ until, range, sounding }: Playing) => until !== null && !range && sounding.source >= until

async function fill(mine: number): Promise<void> {
  while (mine === serial && playing) {
    const { control } = ring
    const followed = Atomics.load(control, WORD.followed) === Atomics.load(control, WORD.jump)
    const there = ahead(
      followed ? Atomics.load(control, WORD.read) : Atomics.load(control, WORD.jumpTo),
      playing.written
    )
    if (there >= readAhead) {
      heard!.foresee()
      await pause()
      adapt()
      tellFaults()
      continue
    }
    try {
      if (there < SHORT && playing.sounding.isRinging) await playing.sounding.stopRinging()
      await step(playing)
    } catch (error) {
      playing = null
      // Whatever it was: from now on one thread does all.
      help.over(null)
      Atomics.store(control, WORD.running, 0)
      tell({ kind: 'error', message: (error as Error).message })
      return
    }
  }
}

const pause = () => new Promise(done => setTimeout(done, POLL_MS))

const FAULTS_EVERY_MS = 500
let faultsLooked = 0,
  faultsTold = ''
function tellFaults(): void {
  if (performance.now() - faultsLooked < FAULTS_EVERY_MS || !heard) return
  faultsLooked = performance.now()
  const channels = heard.stream.faults(),
    text = channels.join()
  if (text !== faultsTold) tell({ kind: 'faults', channels })
  faultsTold = text
}

/** Underruns make the read-ahead longer, and it is said. */
function adapt(): void {
  const count = Atomics.load(ring.control, WORD.underruns)
  if (!playing || count === playing.underruns) return
  playing.underruns = count
  if (isOver(playing)) return
  readAhead = Math.min(MOST_AHEAD, Math.ceil((readAhead * 1.5) / BLOCK) * BLOCK)
  announce(heard ? heaviest(heard.plan.ops) : [])
}

async function step(p: Playing): Promise<void> {
  const { sounding } = p
  if (isOver(p)) {
    tell({ kind: 'ended', at: p.written })
    playing = null
    return
  }
  if (sounding.range !== p.range) await sounding.repeat(p.range)
  if (planned.length) {
    const { latency } = heard!
    const before = refresh()
    if (before) await sounding.giveWay(before, latency)
    if (heard!.latency !== latency)
      tell({ kind: 'mark', mark: { at: p.written, frame: sounding.source }, first: false, since: null })
  }
  await write(p)
  Atomics.store(ring.control, WORD.written, p.written)
}

/** Writes the next block of what is heard. */
async function write(p: Playing): Promise<void> {
  const { rate } = p.sounding
  if (help.with(heard!.machine)) announce()
  const turned = await p.sounding.next(out)
  loudness?.feed(out)
  const at = p.written % RING_FRAMES
  ring.left.set(out[0], at)
  ring.right.set(out[1], at)
  meters(p.written)
  const probe = looker.look(heard!.stream, heard!.probe, rate, p.written)
  if (probe) tell({ kind: 'probe', probe })
  if (turned !== null) {
    const mark = { at: (p.written + turned) % WRAP, frame: p.sounding.range!.from }
    tell({ kind: 'mark', mark, first: false, since: heard!.since })
  }
  p.written = (p.written + BLOCK) % WRAP
}

/** Channels are ahead of the ears: what peaks before a start belongs to the first block that is heard. */
function beforeTheFirst(): void {
  const values = valuesNow()
  early ??= values.map(() => 0)
  values.forEach((v, i) => (early![i] = Math.max(early![i], v.read())))
}

let early: number[] | null = null

function meters(position: number): void {
  const at = meterSlot(position, shown.width)
  const now = loudness.now()
  shown.values[at] = now.momentaryLufs
  shown.values[at + 1] = now.truePeakDb
  const values = valuesNow()
  for (let i = 0; i < values.length; i++) {
    const { key, read } = values[i]
    shown.values[at + 2 + i] = early && isPeak(key) ? Math.max(early[i], read()) : read()
  }
  early = null
}
