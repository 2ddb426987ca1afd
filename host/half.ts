// A thread that computes the first half of a plan, a chunk of 4096 frames ahead of the second. It makes the plan from
// the session itself; audio it asks for in large pieces.
import { parentPort, workerData } from 'node:worker_threads'
import { CHUNK } from '@nullet/core/plan/operations'
import { compile } from '@nullet/core/compile/compile'
import type { CompileOptions } from '@nullet/core/compile/plan'
import { CROSS_OUT, splitPlan } from '@nullet/core/run/split'
import { PlanStream } from '@nullet/core/run/stream'
import type { MediaReader } from '@nullet/core/run/mediaReader'
import { asSession, type Session } from '@nullet/core/session/session'
import { legsOver, slotsOver, type FromHalf, type Read, type ToHalf } from './slots'

const {
  session: sent,
  options,
  shared
} = workerData as { session: Session; options: CompileOptions; shared: SharedArrayBuffer }
const session = asSession(sent)
const port = parentPort!
const tell = (m: FromHalf) => port.postMessage(m)

/** Frames that are read at a time: the other thread answers between its chunks only. */
const WINDOW = 1 << 16

interface Window {
  from: number
  legs: Float32Array[]
  memory: SharedArrayBuffer
}

class Asking implements MediaReader {
  private readonly windows = new Map<string, Window>()
  private readonly coming = new Map<string, { from: number; window: Promise<Window> }>()
  private readonly asked = new Map<number, () => void>()
  private batch: Read[] = []
  private serial = 0
  /** Memory of windows that is free, and that may still be looked at in this chunk, by its size. */
  private readonly free = new Map<number, SharedArrayBuffer[]>()
  private left: SharedArrayBuffer[] = []

  read(medium: string, from: number, frames: number): Float32Array[] | Promise<Float32Array[]> {
    const cut = ({ from: begin, legs }: Window) => legs.map(leg => leg.subarray(from - begin, from - begin + frames))
    const inside = (begin: number) => from >= begin && from + frames <= begin + WINDOW
    const w = this.windows.get(medium),
      next = this.coming.get(medium)
    if (w && inside(w.from)) {
      // The next window is asked for long before it is needed.
      if (!next && from >= w.from + WINDOW / 2)
        this.fetch(medium, w.from + WINDOW - ((WINDOW - (from - w.from)) % frames))
      return cut(w)
    }
    if (frames > WINDOW) return this.load(medium, from, frames).then(window => window.legs)
    return (next && inside(next.from) ? next.window : this.fetch(medium, from)).then(window => {
      const before = this.windows.get(medium)
      if (before && before !== window) this.left.push(before.memory)
      this.windows.set(medium, window)
      this.coming.delete(medium)
      return cut(window)
    })
  }

  /** A chunk is over: what it looked at can be written to again. */
  over(): void {
    for (const memory of this.left) {
      const list = this.free.get(memory.byteLength) ?? []
      list.push(memory)
      this.free.set(memory.byteLength, list)
    }
    this.left = []
  }

  private fetch(medium: string, from: number): Promise<Window> {
    const window = this.load(medium, from, WINDOW)
    this.coming.set(medium, { from, window })
    return window
  }

  private load(medium: string, from: number, frames: number): Promise<Window> {
    const { legs } = session.medium[medium]!,
      bytes = legs * frames * 4
    const memory = this.free.get(bytes)?.pop() ?? new SharedArrayBuffer(bytes)
    const id = ++this.serial
    if (!this.batch.length)
      queueMicrotask(() => {
        tell({ kind: 'reads', list: this.batch })
        this.batch = []
      })
    this.batch.push({ id, medium, from, frames, into: memory })
    return new Promise(done => this.asked.set(id, () => done({ from, legs: legsOver(memory, legs, frames), memory })))
  }

  hear(id: number): void {
    this.asked.get(id)!()
    this.asked.delete(id)
  }
}

const media = new Asking()
const { first, crossing } = splitPlan(compile(session, options))
const stream = new PlanStream(first, session, media)
const slots = slotsOver(shared, crossing)

async function chunk(from: number, slot: number): Promise<void> {
  while (stream.machine.frame < from + CHUNK) await stream.block()
  media.over()
  stream.machine.stagingOf(CROSS_OUT).forEach((leg, i) => slots[slot]![i]!.set(leg))
  tell({ kind: 'chunk', from, faults: stream.faults() })
}

let queue: Promise<unknown> = Promise.resolve()
port.on('message', (m: ToHalf) => {
  if (m.kind === 'read') {
    media.hear(m.id)
    return
  }
  queue = queue
    .then(() => (m.kind === 'start' ? stream.start(m.frame) : chunk(m.from, m.slot)))
    .catch(error => tell({ kind: 'failed', message: (error as Error).message }))
})
