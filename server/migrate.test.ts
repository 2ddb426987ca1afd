// A database of before the rules: its sessions are kept, what broke a rule is mended and said, and then the database
// itself refuses what the model forbids.
import { createHash } from 'node:crypto'
import { cpSync, mkdtempSync, readdirSync, readFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { firstBreach } from '@nullet/core/invariants/index'
import { rows, withChanges, type RowChange, type Session } from '@nullet/core/session/session'
import { makeDatabase, dropDatabase, root } from '../e2e/support/stage'
import { connectStore, type Sql } from './store/connect'
import { migrate } from './store/migrate'
import { loadSession } from './store/sessions'

const FOLDER = join(root, 'server/store/migrations')
const FILES = readdirSync(FOLDER).filter(f => f.endsWith('.sql'))

/** Migrations up to a number, in a folder of their own, some of them as they once were. */
function upTo(last: string, formerly: string[] = []): string {
  const folder = mkdtempSync(join(tmpdir(), 'nullet-migrations-'))
  for (const f of FILES.filter(f => f.slice(0, 3) <= last)) cpSync(join(FOLDER, f), join(folder, f))
  for (const f of formerly) cpSync(join(FOLDER, 'formerly', `${f}.sql`), join(folder, `${f.split('.')[0]}.sql`))
  return folder
}

let url: string, sql: Sql
beforeAll(async () => {
  url = await makeDatabase(`nullet_old_${process.pid}`, upTo('005'))
  sql = connectStore(url, 2)
})
afterAll(async () => {
  await sql.end()
  await dropDatabase(url)
})

/** A session as the server wrote it then. */
async function old(id: string): Promise<void> {
  await sql.begin(async t => {
    await t`insert into session_head (id, revision) values (${id}, 2)`
    await t`insert into "session" (session_id, id, name, sample_rate, seed, heard_channel)
      values (${id}, 'session', 'Old', 48000, 1, 'main')`
    const channel = (c: string, kind: string, more: object = {}) =>
      t`insert into channel ${t({ sessionId: id, id: c, name: c, kind, role: kind === 'track' ? 'track' : 'submix', layout: t.json(['L', 'R']), family: '', familyGuessed: false, colour: 0, order: 'a0', trimDb: 0, flippedLegs: t.json([]), mutedLegs: t.json([]), levelDb: 0, pan: 0, muted: false, soloed: false, safe: false, parked: false, listen: 'print', ready: false, ...more } as never)}`
    await channel('main', 'bus')
    await channel('drums', 'bus', { layout: t.json(['L', 'L']) })
    await channel('träck', 'track')
    await channel('low', 'track')
    const feed = (f: string, kind: string, ends: object) =>
      t`insert into feed ${t({ sessionId: id, id: f, kind, from: null, to: null, slot: null, ports: t.json([]), tap: 'post', levelDb: 0, muted: false, withMute: false, ...ends } as never)}`
    await feed('f1', 'main', { from: 'träck', to: 'low' })
    await feed('f2', 'main', { from: 'low', to: 'drums' })
    await feed('f3', 'main', { from: 'drums', to: 'main' })
    await t`insert into slot ${t({ sessionId: id, id: 's1', channel: 'main', order: 'a0', afterFader: false, state: 'on', processor: 'reverb', params: t.json({ decayS: 1e9 }), mix: 1 } as never)}`
    await t`insert into edit_log (session_id, revision, label, tab, changes, hash)
      values (${id}, 1, 'One', 'same', '[]', 'x'), (${id}, 2, 'Two', 'same', '[]', 'x')`
  })
}

describe('a database of before', () => {
  it('keeps its sessions, mends what breaks a rule and says so; log rows get keys of their own', async () => {
    await old('first')
    await old('second')
    const done = await migrate(url, FOLDER)
    expect(done).toEqual(
      expect.arrayContaining([
        '006-gestures.sql',
        '007-rules.sql',
        expect.stringMatching(/session “first”: .*“träck”/),
        expect.stringMatching(/ended at a track and goes to the new bus “low \(fed\)” now/),
        expect.stringMatching(/Decay was 1000000000, now/)
      ])
    )
    const { session, revision } = await loadSession(sql, 'first')
    expect(firstBreach(session)).toBeNull()
    expect(revision).toBe(3)
    expect(session.channel.drums!.layout).toEqual(['L', 'L2'])
    const into = rows(session, 'feed').find(f => f.from?.startsWith('id-'))!
    expect(session.channel[into.to ?? '']).toMatchObject({ kind: 'bus', name: 'low (fed)' })
    const log = await sql<
      { revision: number; gesture: string; label: string; changes: RowChange[] }[]
    >`select revision, gesture, label, changes from edit_log where session_id = 'first' order by revision`
    expect(log.map(e => e.gesture)).toEqual(['before-1', 'before-2', 'mended-3'])
    expect(log[2]!.label).toMatch(/^Brought in order: /)
    const before = { ...session } as Session
    expect(withChanges(before, log[2]!.changes)).toEqual(session)
    expect(await migrate(url, FOLDER)).toEqual([])
  })

  it.each<[string, (t: Sql) => Promise<unknown>]>([
    ['a feed into a track', t => t`update feed set "to" = 'low' where session_id = 'first' and id = 'f3'`],
    ['an id of other letters', t => t`update channel set id = 'ü' where session_id = 'first' and id = 'low'`],
    ['a reverb that holds no loop but says so', t => t`update slot set processor = 'loop' where session_id = 'first'`],
    [
      'a layout that names a speaker twice',
      t => t`update channel set layout = '["L","L"]' where session_id = 'first' and id = 'low'`
    ],
    [
      'a port that is not there',
      t => t`update feed set kind = 'port', "to" = null, ports = '["nowhere"]' where session_id = 'first' and id = 'f3'`
    ],
    [
      'something heard that is not there',
      t => t`update "session" set heard_channel = 'nobody' where session_id = 'first'`
    ],
    ['a link of one', t => t`insert into link values ('first', 'l', 'L', 'a', '["low"]', true, true, true)`],
    [
      'a gesture twice',
      t =>
        t`insert into edit_log (session_id, revision, label, gesture, changes, hash)
          values ('first', 9, 'x', 'before-1', '[]', 'x')`
    ]
  ])('refuses %s', async (_, act) => {
    await expect(act(sql)).rejects.toMatchObject({ code: expect.stringMatching(/^23/) })
  })
})

/** Everything that a database says of its own shape. */
async function shape(sql: Sql): Promise<string[]> {
  const rows = await sql<{ line: string }[]>`
    select 'column ' || table_name || '.' || column_name || ' ' || data_type || ' ' || is_nullable || ' ' || coalesce(column_default, '') as line from information_schema.columns where table_schema = 'public'
    union all select 'constraint ' || conrelid::regclass || ' ' || pg_get_constraintdef(oid) from pg_constraint
    where connamespace = 'public'::regnamespace
    union all select 'index ' || indexdef from pg_indexes where schemaname = 'public'
    union all select 'trigger ' || pg_get_triggerdef(oid) from pg_trigger where not tgisinternal
    union all select 'function ' || pg_get_functiondef(oid) from pg_proc where pronamespace = 'public'::regnamespace
    order by 1`
  return rows.map(r => r.line)
}

describe('files of migrations', () => {
  it('that ran somewhere are as they were: a change needs a file of its own', () => {
    const known = JSON.parse(readFileSync(join(FOLDER, 'hashes.json'), 'utf8')) as Record<string, string>
    expect(
      Object.fromEntries(
        FILES.map(f => [
          f,
          createHash('sha256')
            .update(readFileSync(join(FOLDER, f)))
            .digest('hex')
        ])
      )
    ).toEqual(known)
    for (const f of readdirSync(join(FOLDER, 'formerly')).filter(f => !f.endsWith('.then.sql'))) {
      expect(f).toContain(
        `.${createHash('sha256')
          .update(readFileSync(join(FOLDER, 'formerly', f)))
          .digest('hex')
          .slice(0, 12)}.`
      )
    }
  })

  // Every state in which a commit of this project left a database.
  it.each<[string, string, string[]]>([
    ['002', 'the first', []],
    ['003', 'links and clocks', []],
    ['004', 'envelopes', []],
    ['005', 'notes before what is heard was folded', ['005-notes.cb4b06cf28f3']],
    ['005', 'notes', []],
    ['006', 'gestures', []],
    ['007', 'rules with their first indexes', ['007-rules.f5ba1502bdee']],
    ['007', 'rules', []],
    ['007', 'both of what was altered', ['005-notes.cb4b06cf28f3', '007-rules.f5ba1502bdee']]
  ])('a database of %s (%s) comes to the shape of a new one', async (last, _, formerly) => {
    const upgraded = await makeDatabase(`nullet_from_${process.pid}`, upTo(last, formerly)),
      old = connectStore(upgraded, 1)
    try {
      await old`insert into session_head (id, revision) values ('kept', 0)`
      await migrate(upgraded, FOLDER)
      expect(await shape(old)).toEqual(await shape(sql))
      expect(await old`select id from session_head`).toHaveLength(1)
      expect(await migrate(upgraded, FOLDER)).toEqual([])
    } finally {
      await old.end()
      await dropDatabase(upgraded)
    }
  })

  it('one that was altered otherwise is refused by name, and nothing is run', async () => {
    const folder = upTo('007')
    cpSync(join(FOLDER, '001-sessions.sql'), join(folder, '007-rules.sql'))
    await expect(migrate(url, folder)).rejects.toThrow(/007-rules\.sql was changed after it ran/)
  })

  it('belong to a role that is no superuser and makes no databases', async () => {
    const [role] = await sql`select rolsuper, rolcreatedb, rolcreaterole from pg_roles where rolname = current_user`
    expect(role).toEqual({ rolsuper: false, rolcreatedb: false, rolcreaterole: false })
    expect(
      await sql`select tablename from pg_tables where schemaname in ('public', 'graphile_worker')
        and tableowner <> current_user`
    ).toEqual([])
  })
})
