// A database of before the rules: its sessions are kept, what broke a rule is mended and said, and then the database itself
// refuses what the model forbids.
import { cpSync, mkdtempSync, readdirSync } from 'node:fs'
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

/** Migrations up to a number, in a folder of their own. */
function upTo(last: string): string {
  const folder = mkdtempSync(join(tmpdir(), 'nullet-migrations-'))
  for (const f of readdirSync(FOLDER).filter(f => f.slice(0, 3) <= last)) cpSync(join(FOLDER, f), join(folder, f))
  return folder
}

let url: string, sql: Sql
beforeAll(async () => {
  url = await makeDatabase(`nullet_old_${process.pid}`, upTo('005'))
  sql = connectStore(url, 2)
})
afterAll(async () => { await sql.end(); await dropDatabase(url) })

/** A session as the server wrote it then. */
async function old(id: string): Promise<void> {
  await sql.begin(async t => {
    await t`insert into session_head (id, revision) values (${id}, 2)`
    await t`insert into "session" (session_id, id, name, sample_rate, seed, heard_channel) values (${id}, 'session', 'Old', 48000, 1, 'main')`
    const channel = (c: string, kind: string, more: object = {}) => t`insert into channel ${t({ sessionId: id, id: c, name: c, kind, role: kind === 'track' ? 'track' : 'submix', layout: t.json(['L', 'R']), family: '', familyGuessed: false, colour: 0, order: 'a0', trimDb: 0, flippedLegs: t.json([]), mutedLegs: t.json([]), levelDb: 0, pan: 0, muted: false, soloed: false, safe: false, parked: false, listen: 'print', ready: false, ...more } as never)}`
    await channel('main', 'bus'); await channel('drums', 'bus', { layout: t.json(['L', 'L']) }); await channel('träck', 'track'); await channel('low', 'track')
    const feed = (f: string, kind: string, ends: object) => t`insert into feed ${t({ sessionId: id, id: f, kind, from: null, to: null, slot: null, ports: t.json([]), tap: 'post', levelDb: 0, muted: false, withMute: false, ...ends } as never)}`
    await feed('f1', 'main', { from: 'träck', to: 'low' }); await feed('f2', 'main', { from: 'low', to: 'drums' }); await feed('f3', 'main', { from: 'drums', to: 'main' })
    await t`insert into slot ${t({ sessionId: id, id: 's1', channel: 'main', order: 'a0', afterFader: false, state: 'on', processor: 'reverb', params: t.json({ decayS: 1e9 }), mix: 1 } as never)}`
    await t`insert into edit_log (session_id, revision, label, tab, changes, hash) values (${id}, 1, 'One', 'same', '[]', 'x'), (${id}, 2, 'Two', 'same', '[]', 'x')`
  })
}

describe('a database of before', () => {
  it('keeps its sessions, mends what breaks a rule and says so; log rows get keys of their own', async () => {
    await old('first'); await old('second')
    const done = await migrate(url, FOLDER)
    expect(done).toEqual(expect.arrayContaining(['006-gestures.sql', '007-rules.sql', expect.stringMatching(/session “first”: .*“träck”/), expect.stringMatching(/ended at a track and goes to the new bus “low \(fed\)” now/), expect.stringMatching(/Decay was 1000000000, now/)]))
    const { session, revision } = await loadSession(sql, 'first')
    expect(firstBreach(session)).toBeNull()
    expect(revision).toBe(3)
    expect(session.channel.drums!.layout).toEqual(['L', 'L2'])
    const into = rows(session, 'feed').find(f => f.from?.startsWith('id-'))!
    expect(session.channel[into.to!]).toMatchObject({ kind: 'bus', name: 'low (fed)' })
    const log = await sql<{ revision: number, gesture: string, label: string, changes: RowChange[] }[]>`select revision, gesture, label, changes from edit_log where session_id = 'first' order by revision`
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
    ['a layout that names a speaker twice', t => t`update channel set layout = '["L","L"]' where session_id = 'first' and id = 'low'`],
    ['a port that is not there', t => t`update feed set kind = 'port', "to" = null, ports = '["nowhere"]' where session_id = 'first' and id = 'f3'`],
    ['something heard that is not there', t => t`update "session" set heard_channel = 'nobody' where session_id = 'first'`],
    ['a link of one', t => t`insert into link values ('first', 'l', 'L', 'a', '["low"]', true, true, true)`],
    ['a gesture twice', t => t`insert into edit_log (session_id, revision, label, gesture, changes, hash) values ('first', 9, 'x', 'before-1', '[]', 'x')`]
  ])('refuses %s', async (_, act) => {
    await expect(act(sql)).rejects.toMatchObject({ code: expect.stringMatching(/^23/) })
  })
})
