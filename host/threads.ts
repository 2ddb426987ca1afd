// A render on two cores: the first half of its plan in a thread, the second half here. See core/src/run/split.ts.
import { existsSync } from 'node:fs'
import { availableParallelism } from 'node:os'
import { fileURLToPath } from 'node:url'
import { Worker } from 'node:worker_threads'
import { CHUNK } from '@nullet/core/plan/operations'
import { compile } from '@nullet/core/compile/compile'
import type { CompileOptions } from '@nullet/core/compile/plan'
import { JoinedStream, splitPlan, type Far } from '@nullet/core/run/split'
import { PlanStream } from '@nullet/core/run/stream'
import type { MediaReader } from '@nullet/core/run/mediaReader'
import type { Session } from '@nullet/core/session/session'
import { legsOver, sharedSlots, SLOTS, slotsOver, type FromHalf, type Read, type ToHalf } from './slots'

/** Smaller plans are not worth a thread. */
const FEWEST_OPS = 400

/** Beside the bundle that runs, or among the bundles when the source runs. */
const path = ['./half.mjs', '../build/half.mjs'].map(p => fileURLToPath(new URL(p, import.meta.url))).find(existsSync)

class Thread implements Far {
  private readonly worker: Worker
  private readonly slots: Float32Array[][]
  private readonly waiting = new Map<number, { done(): void; fail(error: Error): void }>()
  private readonly ready = new Set<number>()
  private broken: Error | null = null
  faults: string[] = []

  constructor(
    session: Session,
    options: CompileOptions,
    private readonly media: MediaReader,
    crossing: number
  ) {
    const shared = sharedSlots(crossing)
    this.slots = slotsOver(shared, crossing)
    this.worker = new Worker(path!, { workerData: { session, options, shared } })
    this.worker.on('message', (m: FromHalf) => this.hear(m))
    this.worker.on('error', error => this.fail(error as Error))
  }

  private send(m: ToHalf): void {
    this.worker.postMessage(m)
  }
  private fail(error: Error): void {
    this.broken = error
    this.waiting.forEach(w => w.fail(error))
    this.waiting.clear()
  }

  private hear(m: FromHalf): void {
    if (m.kind === 'failed') this.fail(new Error(m.message))
    else if (m.kind === 'reads') m.list.forEach(r => void this.answer(r).catch(error => this.fail(error as Error)))
    else {
      this.faults = m.faults
      this.ready.add(m.from)
      this.waiting.get(m.from)?.done()
      this.waiting.delete(m.from)
    }
  }

  private async answer({ id, medium, from, frames, into }: Read): Promise<void> {
    const audio = await this.media.read(medium, from, frames)
    legsOver(into, audio.length, frames).forEach((leg, i) => leg.set(audio[i]!))
    this.send({ kind: 'read', id })
  }

  start(frame: number): void {
    this.ready.clear()
    this.send({ kind: 'start', frame })
    const first = Math.floor(frame / CHUNK) * CHUNK
    for (let n = 0; n < SLOTS; n++) this.ask(first + n * CHUNK)
  }

  private ask(from: number): void {
    this.send({ kind: 'chunk', from, slot: (from / CHUNK) % SLOTS })
  }

  async chunk(from: number, into: Float32Array[]): Promise<void> {
    if (this.broken) throw this.broken
    if (!this.ready.has(from)) await new Promise<void>((done, fail) => this.waiting.set(from, { done, fail }))
    this.ready.delete(from)
    this.slots[(from / CHUNK) % SLOTS]!.forEach((leg, i) => into[i]!.set(leg))
    this.ask(from + SLOTS * CHUNK)
  }

  async end(): Promise<void> {
    await this.worker.terminate()
  }
}

export interface Rendering {
  stream: PlanStream
  /** Channels in which numbers were none. */ faults(): string[]
  end(): Promise<void>
}

/** A stream over a plan, on two cores where there are two and the plan is large enough, or as `threads` says. */
export function startRender(session: Session, media: MediaReader, options: CompileOptions, threads?: 1 | 2): Rendering {
  const plan = compile(session, options)
  const two = threads === undefined ? availableParallelism() > 1 && plan.ops.length >= FEWEST_OPS : threads === 2
  if (!two || !path) {
    const stream = new PlanStream(plan, session, media)
    return { stream, faults: () => stream.faults(), end: async () => {} }
  }
  const split = splitPlan(plan)
  const far = new Thread(session, options, media, split.crossing)
  const stream = new JoinedStream(plan, split, session, media, far)
  return { stream, faults: () => [...new Set([...far.faults, ...stream.faults()])], end: () => far.end() }
}
