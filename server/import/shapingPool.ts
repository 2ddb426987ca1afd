// Threads that cut files into blocks: as many as there are cores, kept for the next file. What comes in is handed over
// in larger pieces; while one is worked on the next is read.
import { existsSync } from 'node:fs'
import { availableParallelism } from 'node:os'
import { join } from 'node:path'
import { Worker } from 'node:worker_threads'
import { Refusal, type RefusalKind } from '@nullet/core/foundation/refusal'
import type { MadeMedium, ShapedBlock, ShapingOptions } from './shaping'

export type ToShaping =
  { kind: 'begin'; options: ShapingOptions } | { kind: 'bytes'; bytes: Uint8Array } | { kind: 'end' }
export interface FromShaping {
  blocks: ShapedBlock[]
  made?: MadeMedium[]
  refused?: { error?: RefusalKind; message: string; about?: string[]; kept?: string }
}

/** Bytes handed over, worked on and written at once: a COPY of four blocks costs little more than one of one. */
const PIECE = 1 << 22
/** Pieces that a thread has before it while it works on one. */
const AHEAD = 1
/** Blocks that wait while others are written. */
const MOST_WAITING = 8
/** Beside the bundles: the server itself is bundled elsewhere, and starts where they are. */
const path = () => {
  const found = ['build/shaping.mjs', 'shaping.mjs'].map(p => join(process.cwd(), p)).find(existsSync)
  if (!found) throw new Error('the bundle of the import is not there: build it with `node tools/bundle.mjs`')
  return found
}

const idle = new Set<Worker>()
const dead = new WeakSet<Worker>()
let busy = 0
const queue: (() => void)[] = []
const most = () => Math.max(1, availableParallelism())

function start(): Worker {
  const worker = new Worker(path())
  // The next file gets another one.
  worker.once('error', () => {
    dead.add(worker)
    idle.delete(worker)
  })
  worker.unref()
  return worker
}
/** Starting a thread holds up everything else for a moment: it is done before anybody waits for it. */
export function warmShaping(): void {
  while (idle.size + busy < most()) idle.add(start())
}

/** A thread for one file. More files than there are cores wait for one. */
async function take(): Promise<Worker> {
  if (busy >= most()) await new Promise<void>(go => queue.push(go))
  busy++
  const [worker = start()] = idle
  idle.delete(worker)
  return worker
}
function give(worker: Worker): void {
  busy--
  if (!dead.has(worker)) idle.add(worker)
  queue.shift()?.()
}

/** Speaks with one thread: it answers what it is asked in turn. */
function conversation(worker: Worker) {
  const open: { done(said: FromShaping): void; fail(error: Error): void }[] = []
  const hear = (said: FromShaping) => {
    const { done, fail } = open.shift()!,
      { refused } = said
    if (!refused) done(said)
    else if (refused.error) fail(new Refusal(refused.error, refused.message, refused.about, refused.kept))
    else fail(new Error(refused.message))
  }
  const broken = (error: Error) => open.splice(0).forEach(({ fail }) => fail(error))
  worker.on('message', hear)
  worker.on('error', broken)
  return {
    ask(m: ToShaping, transfer: ArrayBuffer[] = []): Promise<FromShaping> {
      const answer = new Promise<FromShaping>((done, fail) => open.push({ done, fail }))
      // What fails is heard when it is waited for.
      answer.catch(() => {})
      worker.postMessage(m, transfer)
      return answer
    },
    end() {
      worker.off('message', hear)
      worker.off('error', broken)
    }
  }
}

/** Takes blocks as they come and writes them in order, all that have come meanwhile at once. */
class Writing {
  private waiting: ShapedBlock[] = []
  private under: Promise<void> | null = null
  constructor(private readonly write: (blocks: ShapedBlock[]) => Promise<void>) {}

  /** Waits where much is to be written still. @throws what has failed before */
  async put(blocks: ShapedBlock[]): Promise<void> {
    this.waiting.push(...blocks)
    if (!this.under && this.waiting.length) {
      this.under = this.all()
      this.under.catch(() => {})
    }
    if (this.waiting.length >= MOST_WAITING) await this.under
  }

  private async all(): Promise<void> {
    while (this.waiting.length) await this.write(this.waiting.splice(0))
    this.under = null
  }

  async end(): Promise<void> {
    await this.under
  }
}

/**
 * Cuts a file into blocks, in a thread.
 * @param write takes blocks in order; the next pieces are read and worked on meanwhile
 * @throws Refusal for what is not a sound file
 */
export async function shaped(
  source: AsyncIterable<Uint8Array>,
  options: ShapingOptions,
  write: (blocks: ShapedBlock[]) => Promise<void>
): Promise<MadeMedium[]> {
  const worker = await take(),
    { ask, end } = conversation(worker),
    writing = new Writing(write),
    under: Promise<FromShaping>[] = []
  try {
    await ask({ kind: 'begin', options })
    for await (const bytes of pieces(source)) {
      under.push(ask({ kind: 'bytes', bytes }, [bytes.buffer]))
      if (under.length > AHEAD) await writing.put((await under.shift()!).blocks)
    }
    for (const answer of under.splice(0)) await writing.put((await answer).blocks)
    const { blocks, made } = await ask({ kind: 'end' })
    await writing.put(blocks)
    await writing.end()
    return made!
  } finally {
    // Whatever ended it: the next file must not hear an answer that was meant for this one.
    await Promise.allSettled([...under, writing.end()])
    end()
    give(worker)
  }
}

/** The same bytes in pieces of one size, each in a buffer of its own. */
async function* pieces(source: AsyncIterable<Uint8Array>): AsyncGenerator<Uint8Array<ArrayBuffer>> {
  let piece = new Uint8Array(PIECE),
    fill = 0
  for await (const bytes of source) {
    for (let at = 0; at < bytes.length;) {
      const run = Math.min(PIECE - fill, bytes.length - at)
      piece.set(bytes.subarray(at, at + run), fill)
      fill += run
      at += run
      if (fill < PIECE) continue
      yield piece
      piece = new Uint8Array(PIECE)
      fill = 0
    }
  }
  if (fill) yield piece.slice(0, fill)
}
