// Lines of one upload that break while others of it begin: whatever their order, what is kept is the file's beginning.
import { createServer, request, type ClientRequest, type Server } from 'node:http'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { AddressInfo } from 'node:net'
import type { H3Event } from 'h3'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { Dice } from '@nullet/core/testing/generated'
import { Refusal } from '@nullet/core/foundation/refusal'
import { Arrival, arrivedBytes, withArrival } from './arrival'

const state = mkdtempSync(join(tmpdir(), 'nullet-arrival-'))
let server: Server, port: number
/** Held lines come to their end when this says so: a busy machine, by word. */
let held: Promise<void> | null = null

beforeAll(async () => {
  process.env.NULLET_STATE = state
  server = createServer((req, res) => {
    const query = Arrival.parse(Object.fromEntries(new URL(req.url!, 'http://here').searchParams))
    const whole = async (body: AsyncIterable<Uint8Array>) => {
      const pieces: Uint8Array[] = []
      try {
        for await (const piece of body) pieces.push(piece)
      } finally {
        await held
      }
      return Buffer.concat(pieces)
    }
    withArrival({ node: { req, res } } as unknown as H3Event, query, whole).then(
      bytes => res.end(bytes),
      (error: unknown) => {
        res.statusCode = error instanceof Refusal ? 409 : 500
        res.end()
      }
    )
  })
  await new Promise<void>(done => server.listen(0, '127.0.0.1', done))
  port = (server.address() as AddressInfo).port
})
afterAll(() => {
  server.close()
  rmSync(state, { recursive: true, force: true })
})

const file = (seed: number, bytes: number) => {
  const dice = new Dice(seed)
  return Uint8Array.from({ length: bytes }, () => dice.below(256))
}
const open = (key: string, of: Uint8Array, at: number, again: boolean): ClientRequest => {
  const line = request({
    port,
    host: '127.0.0.1',
    method: 'POST',
    path: `/?key=${key}&at=${at}&size=${of.length}${again ? '&again=1' : ''}`,
    headers: { 'content-length': of.length - at }
  })
  line.on('error', () => {})
  return line
}
const answer = (line: ClientRequest) =>
  new Promise<{ status: number; bytes: Buffer }>((done, fail) => {
    line.on('response', async from => {
      const pieces: Uint8Array[] = []
      for await (const piece of from) pieces.push(piece as Uint8Array)
      done({ status: from.statusCode!, bytes: Buffer.concat(pieces) })
    })
    line.on('error', fail)
  })
const KEY = (n: number) => n.toString(16).padStart(16, '0')

it('lines that begin while one before them is not yet over take turns', async () => {
  const bytes = file(1, 300_000),
    key = KEY(1)
  let release = () => {}
  held = new Promise(done => (release = done))
  const first = open(key, bytes, 0, false)
  first.write(bytes.subarray(0, 100_000))
  await expect.poll(() => arrivedBytes(key)).toBe(100_000)
  // Two go on from what is here; the first of them dies on its way, all while the dead one still holds on.
  const second = open(key, bytes, 100_000, true)
  second.write(bytes.subarray(100_000, 150_000))
  const third = open(key, bytes, 100_000, true),
    said = answer(third)
  third.end(bytes.subarray(100_000))
  first.destroy()
  release()
  const { status, bytes: got } = await said
  second.destroy()
  // Whichever of the two came last is the one that lives; sent again, the rest follows.
  if (status === 200) expect(Buffer.compare(got, bytes)).toBe(0)
  else {
    const last = open(key, bytes, await arrivedBytes(key), true),
      end = answer(last)
    last.end(bytes.subarray(await arrivedBytes(key)))
    expect(Buffer.compare((await end).bytes, bytes)).toBe(0)
  }
})

it('any history of broken lines ends in the file', async () => {
  held = null
  const dice = new Dice(20)
  for (let n = 2; n < 30; n++) {
    const bytes = file(n, 200_000 + dice.below(400_000)),
      key = KEY(n)
    const lines: ClientRequest[] = []
    for (let tries = 0; tries < 1 + dice.below(5); tries++) {
      const at = Math.min(await arrivedBytes(key), dice.below(bytes.length))
      const line = open(key, bytes, at, tries > 0)
      lines.push(line)
      const end = at + dice.below(bytes.length - at)
      await new Promise<void>(done => line.write(bytes.subarray(at, end), () => done()))
      if (dice.chance(0.6)) line.destroy()
    }
    for (let round = 0; ; round++) {
      expect(round).toBeLessThan(20)
      const at = await arrivedBytes(key)
      const last = open(key, bytes, at, true),
        end = answer(last)
      last.end(bytes.subarray(at))
      const got = await end.catch(() => null)
      if (got?.status !== 200) continue
      expect(Buffer.compare(got.bytes, bytes)).toBe(0)
      break
    }
    for (const line of lines) line.destroy()
    expect(await arrivedBytes(key)).toBe(0)
  }
})
