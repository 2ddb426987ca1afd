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

/** Speaks with one thread: a question, then its answer. */
function conversation(worker: Worker) {
  return (m: ToShaping, transfer: ArrayBuffer[] = []): Promise<FromShaping> =>
    new Promise((done, fail) => {
      const leave = () => {
        worker.off('message', hear)
        worker.off('error', broken)
      }
      const hear = (said: FromShaping) => {
        leave()
        const { refused } = said
        if (!refused) done(said)
        else if (refused.error) fail(new Refusal(refused.error, refused.message, refused.about, refused.kept))
        else fail(new Error(refused.message))
      }
      const broken = (error: Error) => {
        leave()
        fail(error)
      }
      worker.on('message', hear)
      worker.on('error', broken)
      worker.postMessage(m, transfer)
    })
}

/**
 * Cuts a file into blocks, in a thread.
 * @param write takes blocks in order; the next piece is worked on meanwhile
 * @throws Refusal for what is not a sound file
 */
export async function shaped(
  source: AsyncIterable<Uint8Array>,
  options: ShapingOptions,
  write: (blocks: ShapedBlock[]) => Promise<void>
): Promise<MadeMedium[]> {
  const worker = await take(),
    ask = conversation(worker)
  let under: Promise<FromShaping> | null = null,
    writing: Promise<void> = Promise.resolve()
  // One piece is read, one worked on, one written at a time. What fails meanwhile is heard when it is waited for.
  const store = async ({ blocks }: FromShaping) => {
    await writing
    writing = write(blocks)
    writing.catch(() => {})
  }
  try {
    await ask({ kind: 'begin', options })
    for await (const bytes of pieces(source)) {
      const before = under && (await under)
      under = ask({ kind: 'bytes', bytes }, [bytes.buffer])
      under.catch(() => {})
      if (before) await store(before)
    }
    if (under) await store(await under)
    const { blocks, made } = await ask({ kind: 'end' })
    await store({ blocks })
    await writing
    return made!
  } finally {
    // Whatever ended it: the next file must not hear an answer that was meant for this one.
    await under?.catch(() => {})
    await writing.catch(() => {})
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
