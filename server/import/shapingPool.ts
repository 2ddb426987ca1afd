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

/** Bytes handed over at once. */
const PIECE = 1 << 20
/** Beside the bundles: the server itself is bundled elsewhere, and starts where they are. */
const path = () => {
  const found = ['build/shaping.mjs', 'shaping.mjs'].map(p => join(process.cwd(), p)).find(existsSync)
  if (!found) throw new Error('the bundle of the import is not there: build it with `node tools/bundle.mjs`')
  return found
}

const idle: Worker[] = []
let busy = 0
const queue: (() => void)[] = []
const most = () => Math.max(1, availableParallelism())

function start(): Worker {
  const worker = new Worker(path())
  // The next file gets another one.
  worker.once('error', () => idle.splice(0, idle.length, ...idle.filter(w => w !== worker)))
  worker.unref()
  return worker
}
/** Starting a thread holds up everything else for a moment: it is done before anybody waits for it. */
export function warmShaping(): void {
  while (idle.length + busy < most()) idle.push(start())
}

/** A thread for one file. More files than there are cores wait for one. */
async function take(): Promise<Worker> {
  if (busy >= most()) await new Promise<void>(go => queue.push(go))
  busy++
  return idle.pop() ?? start()
}
function give(worker: Worker, isSound: boolean): void {
  busy--
  if (isSound) idle.push(worker)
  else void worker.terminate()
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
  const reading = pieces(source)
  // What comes is kept for a line that is cut as soon as it is read: nobody waits for a thread before that.
  let next = reading.next()
  next.catch(() => {})
  const worker = await take(),
    ask = conversation(worker)
  let isSound = true
  try {
    await ask({ kind: 'begin', options })
    let under: Promise<FromShaping> | null = null
    for (let piece = await next; !piece.done; piece = await next) {
      const before = under && (await under)
      under = ask({ kind: 'bytes', bytes: piece.value }, [piece.value.buffer])
      // Both are taken up below; what fails meanwhile must not be unheard.
      under.catch(() => {})
      next = reading.next()
      next.catch(() => {})
      if (before) await write(before.blocks)
    }
    if (under) await write((await under).blocks)
    const { blocks, made } = await ask({ kind: 'end' })
    await write(blocks)
    return made!
  } catch (error) {
    // A thread that still works on a piece is not handed on.
    isSound = error instanceof Refusal
    throw error
  } finally {
    give(worker, isSound)
    // Lets go of the source: whoever owns it may have to drain it.
    await next.catch(() => {})
    await reading.return(undefined)
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
