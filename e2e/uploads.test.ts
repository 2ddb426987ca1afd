// Uploads whose line is cut, whose server is killed, whose page is closed: they go on where they stopped, and what
// becomes of them is the file, to the byte.
import { readdirSync } from 'node:fs'
import { join } from 'node:path'
import type { ChildProcess } from 'node:child_process'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { whiteNoise } from '@nullet/core/testing/sound'
import { Dice } from '@nullet/core/testing/generated'
import { rows } from '@nullet/core/session/session'
import { client, wav } from '../server/testing'
import { openPage } from './support/browser'
import { Proxy } from './support/proxy'
import { dropDatabase, freePort, makeDatabase, root, startServer, stopProcess } from './support/stage'

let database: string, server: ChildProcess, port: number, proxy: Proxy, http: ReturnType<typeof client>

beforeAll(async () => {
  database = await makeDatabase(`nullet_uploads_${process.pid}`)
  port = await freePort()
  server = await startServer(database, port)
  proxy = await Proxy.before(`http://127.0.0.1:${port}`)
  http = client(`http://127.0.0.1:${port}`)
})
afterAll(async () => {
  proxy.close()
  await stopProcess(server)
  await dropDatabase(database)
})

const KEY = (n: number) => `${process.pid.toString(16).padStart(8, '0')}${n.toString(16).padStart(8, '0')}`
const arrived = async (key: string, session: string, gesture: string) =>
  (
    await http.call<{ bytes: number; done: boolean }>(
      'GET',
      `/api/uploads/${key}?session=${session}&gesture=${gesture}`
    )
  ).body
const send = (base: string, id: string, track: string, bytes: Uint8Array, key: string, at: number, again = at > 0) =>
  client(base)
    .upload(
      id,
      track,
      `${track}.wav`,
      bytes.subarray(at),
      `&key=${key}&at=${at}&size=${bytes.length}${again ? '&again=1' : ''}`
    )
    .catch(() => null)
const kept = () =>
  readdirSync(join(process.env.NULLET_STATE ?? join(root, '.nullet'), 'arrived'), { recursive: true }).map(String)

describe('an upload that is cut', () => {
  it('goes on where it stopped, as often as it takes, also by a server that was killed meanwhile', async () => {
    const dice = new Dice(7),
      id = await http.make()
    for (let n = 0; n < 4; n++) {
      const key = KEY(n),
        bytes = wav([whiteNoise(48000 * (4 + dice.below(20)), n)])
      let at = 0,
        cuts = 0
      for (let tries = 0; tries < 3; tries++) {
        const left = bytes.length - at
        const cut = proxy.cutAfter(2000 + dice.below(left >> 1))
        const answer = send(proxy.url.replace(/\/$/, ''), id, `t${n}`, bytes, key, at, tries > 0)
        await cut
        cuts++
        if (n === 3 && tries === 1) {
          await stopProcess(server, 'SIGKILL')
          server = await startServer(database, port)
        }
        await answer
        const here = await arrived(key, id, 'none')
        expect(here.done).toBe(false)
        expect(here.bytes).toBeGreaterThanOrEqual(at)
        expect(here.bytes).toBeLessThan(bytes.length)
        at = here.bytes
      }
      expect(cuts).toBe(3)
      // More than is here cannot be left out.
      expect(await send(`http://127.0.0.1:${port}`, id, `t${n}`, bytes, key, bytes.length)).toMatchObject({
        status: 409,
        body: { error: 'arrived' }
      })
      expect(await send(`http://127.0.0.1:${port}`, id, `t${n}`, bytes, key, at, true)).toMatchObject({ status: 200 })
      const back = new Uint8Array(
        await (await fetch(`http://127.0.0.1:${port}/api/sessions/${id}/wav?medium=t${n}-m`)).arrayBuffer()
      )
      expect(Buffer.compare(back, bytes)).toBe(0)
      expect((await arrived(key, id, 'none')).bytes).toBe(0)
    }
    expect(kept().filter(f => f.includes(KEY(0).slice(0, 8)))).toEqual([])
  })

  it('whose answer is lost is known as done; one that is stopped leaves nothing; one that is no audio is not kept', async () => {
    const id = await http.make(),
      key = KEY(50),
      bytes = wav([whiteNoise(48000, 3)])
    const gesture = `lost/${process.pid}`
    await http.call(
      'POST',
      `/api/sessions/${id}/tracks?id=a&file=a.wav&gesture=${gesture}&client=x&key=${key}&size=${bytes.length}`,
      bytes
    )
    expect(await arrived(key, id, gesture)).toEqual({ bytes: 0, done: true })
    const cut = proxy.cutAfter(bytes.length >> 1),
      half = send(proxy.url.replace(/\/$/, ''), id, 'b', bytes, key, 0)
    await Promise.all([cut, half])
    await expect.poll(async () => (await arrived(key, id, 'b')).bytes).toBeGreaterThan(0)
    await http.call('DELETE', `/api/uploads/${key}`)
    expect((await arrived(key, id, 'b')).bytes).toBe(0)
    expect(
      await send(
        `http://127.0.0.1:${port}`,
        id,
        'c',
        new TextEncoder().encode('no audio at all, in so many words'),
        key,
        0
      )
    ).toMatchObject({ status: 422 })
    expect((await arrived(key, id, 'c')).bytes).toBe(0)
    expect(await http.call('GET', '/api/uploads/..%2fx?session=s')).toMatchObject({ status: 404 })
  })

  it('of the same file twice at once becomes two tracks', async () => {
    const id = await http.make(),
      key = KEY(60),
      bytes = wav([whiteNoise(48000 * 5, 4)])
    const both = await Promise.all([
      send(`http://127.0.0.1:${port}`, id, 'a', bytes, key, 0),
      send(`http://127.0.0.1:${port}`, id, 'b', bytes, key, 0)
    ])
    expect(both.map(b => b!.status)).toEqual([200, 200])
    expect(Object.keys((await http.session(id)).session.channel).sort()).toEqual(['a', 'b', 'main'])
  })

  it('in a page is said, and goes on by itself to the track', async () => {
    const id = await http.make(),
      bytes = wav([whiteNoise(48000 * 60, 5)])
    const { page } = await openPage(`${proxy.url}s/${id}/sources`)
    await page.locator('[data-audio]').waitFor({ state: 'attached' })
    const cut = proxy.cutAfter(bytes.length >> 1)
    await page.setInputFiles('[data-audio]', {
      name: 'Long take.wav',
      mimeType: 'audio/wav',
      buffer: Buffer.from(bytes)
    })
    await cut
    proxy.refuse()
    await page.locator('.coming .why', { hasText: 'the line was cut; it goes on by itself' }).waitFor()
    await proxy.through()
    await expect
      .poll(async () => rows((await http.session(id)).session, 'channel').map(c => c.name))
      .toContain('Long take')
    await page.getByText('One file became a track.').waitFor()
    expect(await page.locator('.coming').count()).toBe(0)
  })
})
