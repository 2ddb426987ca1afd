// An upload that is taken away while a write of it is still under way: on a line that was cut, what was sent may be
// stored after whoever sent it has given up.
import { afterAll, beforeAll, expect, it } from 'vitest'
import { whiteNoise } from '@nullet/core/testing/sound'
import { dropDatabase, makeDatabase } from '../e2e/support/stage'
import { connectStore, type Sql } from './store/connect'
import { collectGarbage, MediumWriter } from './store/media'

/** Writes wait for whoever holds it. */
const GATE = 77
let database: string, sql: Sql, keeper: Sql

beforeAll(async () => {
  database = await makeDatabase()
  sql = connectStore(database, 4)
  keeper = connectStore(database, 1)
  await sql`create function gate() returns trigger language plpgsql as $$
    begin perform pg_advisory_xact_lock_shared(77); return new; end $$`
  await sql`create trigger gate before insert on media_block for each row execute function gate()`
})
afterAll(async () => {
  await sql?.end()
  await keeper?.end()
  await dropDatabase(database)
})

const left = async () =>
  (
    await sql<{ blocks: number; uploads: number }[]>`
      select (select count(*)::int from media_block) as blocks, (select count(*)::int from upload) as uploads`
  )[0]
/** How many wait for the gate, or for what somebody holds. */
const waiting = async () =>
  (
    await sql<{ n: number }[]>`select count(*)::int as n from pg_stat_activity
      where datname = current_database() and wait_event_type = 'Lock'`
  )[0]!.n

it.each([
  ['given up', (writer: MediumWriter) => writer.discard()],
  [
    'collected',
    async (writer: MediumWriter) => {
      await sql`update upload set touched_at = now() - interval '7 hours' where key = ${writer.key}`
      await collectGarbage(sql)
    }
  ]
])('%s while its blocks are on their way, it leaves nothing', async (_, takeAway) => {
  const writer = await MediumWriter.open(sql, 1, 48_000)
  await keeper`select pg_advisory_lock(${GATE})`
  const written = writer.write([whiteNoise(300_000, 1)])
  await expect.poll(waiting).toBe(1)
  const taken = takeAway(writer)
  await expect.poll(waiting).toBe(2)
  await keeper`select pg_advisory_unlock(${GATE})`
  await written
  await taken
  expect(await left()).toEqual({ blocks: 0, uploads: 0 })
})

it('what comes after that is refused, and stores nothing', async () => {
  const writer = await MediumWriter.open(sql, 1, 48_000)
  await writer.discard()
  await expect(writer.write([whiteNoise(300_000, 1)])).rejects.toThrow('was taken away while it came in')
  expect(await left()).toEqual({ blocks: 0, uploads: 0 })
})
