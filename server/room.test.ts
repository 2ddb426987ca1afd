// A disk that is full: before a pass, while it runs, and at each write of it. Nothing half done is left, it is said in
// one sentence, and the same job runs once there is room.
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest'
import { raise } from '../e2e/support/stage'
import { assertDatabaseRoom, isNoRoom } from '../host/room'
import { whiteNoise } from '@nullet/core/testing/sound'
import { print } from './jobs/print'
import { connectStore, type Sql } from './store/connect'
import { client, printItem, waitFor, wav } from './testing'

const FRAMES = 48_000
/** Of its own: on a full disk nobody else’s work comes about. */
let stage: Awaited<ReturnType<typeof raise>>
let http: ReturnType<typeof client>
let id: string, sql: Sql

beforeAll(async () => {
  stage = await raise()
  http = client(stage.url)
  sql = connectStore(stage.database, 2)
  id = await http.make()
  await http.upload(id, 'a', 'a.wav', wav([whiteNoise(FRAMES, 1, 0.1)]))
})
afterAll(async () => {
  await sql?.end()
  await stage?.fall()
})
const session = async () => (await http.session(id)).session
/** Audio that belongs to nothing. */
const strays = async () =>
  (await sql`select key from media_block where key not in (select key from media) group by key`).length

describe('room is asked for', () => {
  const running = async (room: (bytes: number) => Promise<void>, frames: number) => ({
    sql,
    lock: 1,
    job: {
      ...{ id: 'nobody’s', sessionId: id, client: '', label: 'A print' },
      args: { items: [printItem('a', { takesOver: false })], seed: 1, from: 0, frames }
    } as never,
    report: () => {},
    stopped: () => false,
    room
  })

  it('before a pass begins: what it needs, and what there is', async () => {
    const before = await session(),
      left = await strays()
    const asked: number[] = []
    const pass = print(
      await running(bytes => {
        asked.push(bytes)
        return assertDatabaseRoom('“A print”', bytes, () => Promise.resolve(70 * 2 ** 20))
      }, 3_000_000)
    )
    await expect(pass).rejects.toThrow(
      '“A print” needs 12 MB, and the database’s disk has 70 MB left, 64 MB of which it keeps free'
    )
    expect(asked).toEqual([3_000_000 * 4])
    expect(await session()).toEqual(before)
    expect(await strays()).toBe(left)
  })

  it('and while it runs: nothing half done is left', async () => {
    const before = await session(),
      left = await strays()
    let asked = 0
    const pass = print(
      await running(
        bytes => assertDatabaseRoom('“A print”', bytes, () => Promise.resolve(asked++ ? 2 ** 20 : 1e12)),
        10_000_000
      )
    )
    await expect(pass).rejects.toThrow(/the database’s disk has 1 MB left/)
    expect(asked).toBe(2)
    expect(await session()).toEqual(before)
    expect(await strays()).toBe(left)
  })
})

describe('a database without room', () => {
  const WRITTEN = [
    'upload',
    'media_block',
    'media',
    'medium',
    'channel',
    'clip',
    'feed',
    'print',
    'edit_log',
    'session_head'
  ]
  afterEach(async () => {
    for (const table of WRITTEN) await sql`drop trigger if exists full_disk on ${sql(table)}`
  })

  it.each(WRITTEN)('at a write to %s: said, nothing changed, and done once there is room', async table => {
    await sql`create or replace function full_disk() returns trigger language plpgsql as $$
      begin raise exception 'could not extend file: No space left on device' using errcode = '53100'; end $$`
    await sql`create trigger full_disk before insert or update on ${sql(table)} for each row execute function full_disk()`
    const before = await session()
    const name = `At ${table}`,
      item = printItem('a', {
        ...{ print: `p-${table}`, track: `t-${table}`, clip: `c-${table}`, medium: `m-${table}`, name, tap: 'pre' }
      })
    const job = await http.job(id, 'print', { items: [item], seed: 1, from: WRITTEN.indexOf(table), frames: 9000 })
    expect(job).toMatchObject({ state: 'failed', error: { error: 'noRoom', kept: 'Nothing of it was stored.' } })
    expect(job.error!.message).toMatch(/^The disk has no room left\. .* do it again\.$/)
    await sql`drop trigger full_disk on ${sql(table)}`
    expect(await session()).toEqual(before)
    await http.call('POST', `/api/jobs/${job.id}/again`, {})
    expect((await waitFor(stage.url, job.id, j => j.state === 'done' || j.state === 'failed')).state).toBe('done')
    expect((await session()).print[`p-${table}`]).toMatchObject({ verified: 'identical' })
    expect(await strays()).toBe(0)
  })

  it('a file that is brought in is refused with the same words, and comes in once there is room', async () => {
    await sql`create trigger full_disk before insert on media_block for each row execute function full_disk()`
    const before = await session(),
      file = wav([whiteNoise(FRAMES, 9, 0.1)])
    const refused = await http.upload(id, 'late', 'late.wav', file)
    expect(refused.status).toBe(507)
    expect(refused.body).toMatchObject({ error: 'noRoom', kept: 'What is stored is safe; nothing was changed.' })
    await sql`drop trigger full_disk on media_block`
    expect(await session()).toEqual(before)
    expect((await http.upload(id, 'late', 'late.wav', file)).status).toBe(200)
    expect(await strays()).toBe(0)
  })

  it('is known by its codes', () => {
    expect(['53100', 'ENOSPC', 'EDQUOT'].map(code => isNoRoom(Object.assign(new Error('x'), { code })))).toEqual([
      true,
      true,
      true
    ])
    expect([isNoRoom(new Error('x')), isNoRoom(null), isNoRoom({ code: '23505' })]).toEqual([false, false, false])
  })
})
