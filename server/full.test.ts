// A small file system that fills: imports and edits say that there is no room, nothing acknowledged is lost, nothing
// half done stays, and everything goes on once there is room.
import { spawnSync, type ChildProcess } from 'node:child_process'
import { mkdirSync, mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { whiteNoise } from '@nullet/core/testing/sound'
import { client, wav } from './testing'
import { connectStore } from './store/connect'
import { brokenMedia } from './store/media'
import { migrate } from './store/migrate'
import { freePort, root, startServer, stopProcess } from '../e2e/support/stage'

const folder = mkdtempSync('/var/tmp/nullet-full-'),
  state = join(folder, 'state')
const mount = (...options: string[]) =>
  spawnSync('mount', ['-t', 'tmpfs', '-o', options.join(), 'tmpfs', folder]).status === 0
/** Only root may, and not in every container. */
const mounted = mount('size=220m', 'mode=0755')
const database = (what: string) =>
  spawnSync(process.execPath, [join(root, 'tools/database.mjs'), what], {
    env: { ...process.env, NULLET_STATE: state },
    encoding: 'utf8'
  })

describe.skipIf(!mounted)('a disk that fills', () => {
  let server: ChildProcess, address: string, port: number
  beforeAll(async () => {
    mkdirSync(state)
    expect(database('start').stderr).toBe('')
    address = readFileSync(join(state, 'database-url'), 'utf8').trim()
    await migrate(address, join(root, 'server/store/migrations'))
    port = await freePort()
    server = await startServer(address, port)
  })
  afterAll(async () => {
    await stopProcess(server)
    database('stop')
    spawnSync('umount', [folder])
    rmSync(folder, { recursive: true, force: true })
  })

  it('refuses in words, keeps what it acknowledged, and goes on when there is room', async () => {
    const http = client(`http://127.0.0.1:${port}`),
      id = await http.make(),
      stored: string[] = [],
      bytes = (n: number) => wav([whiteNoise(48000 * 40, n)])
    let refusal: Awaited<ReturnType<typeof http.upload>> | undefined
    for (let n = 0; n < 60 && !refusal; n++) {
      const answer = await http.upload(id, `t${n}`, `t${n}.wav`, bytes(n))
      if (answer.status === 200) stored.push(`t${n}`)
      else refusal = answer
    }
    expect(stored.length).toBeGreaterThan(1)
    // The database says that it is full, or dies of it where its log finds no room.
    expect([503, 507]).toContain(refusal!.status)
    expect(refusal!.body).toMatchObject({
      message: expect.stringMatching(/no room|does not answer/),
      kept: expect.stringMatching(/What is stored is safe/)
    })
    expect((await http.call('GET', '/api/nothing')).status).toBe(404)

    expect(mount('remount', 'size=1g')).toBe(true)
    database('start')
    await expect.poll(async () => (await http.call('GET', '/api/health')).status).toBe(200)
    expect(Object.keys((await http.session(id)).session.channel).sort()).toEqual([...stored, 'main'].sort())
    expect((await http.upload(id, 'later', 'later.wav', bytes(99))).status).toBe(200)
    const sql = connectStore(address, 1)
    try {
      expect(await brokenMedia(sql)).toEqual([])
      const [{ loose }] = await sql<
        { loose: number }[]
      >`select count(*)::int as loose from media_block b where not exists (select 1 from media m
        where m.key = b.key) and not exists (select 1 from upload u where u.key = b.key)`
      expect(loose).toBe(0)
    } finally {
      await sql.end()
    }
    for (const [n, track] of stored.entries()) {
      const back = new Uint8Array(
        await (await fetch(`http://127.0.0.1:${port}/api/sessions/${id}/wav?medium=${track}-m`)).arrayBuffer()
      )
      expect(Buffer.compare(back, bytes(n))).toBe(0)
    }
  })
})
