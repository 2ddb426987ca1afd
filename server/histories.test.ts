// Histories of editing against a real database: pages that reload, switch sessions and take back, a network that loses,
// doubles and delays, two server processes, transactions that break at any statement. In the end everybody has the same
// rows, and each gesture that was acknowledged is there once.
import { describe, expect, inject, it } from 'vitest'
import { Refusal } from '@nullet/core/foundation/refusal'
import { firstBreach } from '@nullet/core/invariants/index'
import { applyEdit } from '@nullet/core/edits/apply'
import { Dice, generatedNetwork } from '@nullet/core/testing/generated'
import { generatedEdit, hostileEdit } from '@nullet/core/testing/generatedEdits'
import { withChanges, type Session } from '@nullet/core/session/session'
import { SessionLink } from '../app/session/link'
import { badNetwork, Broken, failureOf, MemoryShelf } from '../app/session/testing'
import { WaitingShelf } from '../app/session/waiting'
import type { Answer, Wire } from '../app/session/wire'
import { connectStore, type Sql } from './store/connect'
import { editsSince, postEdit, withEdits, type Stored } from './store/edits'
import { readLog } from './store/log'
import { KnownSessions } from './store/knownSessions'
import { createSession, loadSession } from './store/sessions'

const EDITS = process.env.NULLET_LONG ? 50_000 : 2000
/** Edits a history: sessions stay small, and each one begins anew. */
const PER_HISTORY = 200

/** Breaks transactions at a statement of their own, now and then. */
class Breaking {
  constructor(
    private readonly sql: Sql,
    private readonly dice: Dice,
    private readonly share: number
  ) {}

  /** The same connection pool, some of whose transactions fail at their n-th statement or just after the last. */
  get faulty(): Sql {
    const begin = (...args: unknown[]) => {
      const act = args.at(-1) as (t: unknown) => Promise<unknown>
      const at = this.dice.chance(this.share) ? this.dice.below(9) : Infinity
      let count = 0
      const step = () => {
        if (count++ === at) throw new Broken(`the transaction broke at statement ${at}`)
      }
      const watch = (t: object) =>
        new Proxy(t as () => unknown, {
          // A query is a call with a template; helpers for lists and names are not.
          apply: (target, self, given: unknown[]) => {
            if (Array.isArray(given[0]) && 'raw' in given[0]) step()
            return Reflect.apply(target, self, given)
          },
          get: (target, key) =>
            key === 'unsafe'
              ? (...given: unknown[]) => {
                  step()
                  return (target as unknown as { unsafe(...a: unknown[]): unknown }).unsafe(...given)
                }
              : Reflect.get(target, key)
        })
      return (this.sql.begin as (...a: unknown[]) => Promise<unknown>)(...args.slice(0, -1), async (t: object) => {
        const result = await act(watch(t))
        step()
        return result
      })
    }
    return new Proxy(this.sql, { get: (target, key) => (key === 'begin' ? begin : Reflect.get(target, key)) })
  }
}

/** One server process: its own cache over the shared database. */
class Process {
  readonly cache = new KnownSessions()
  constructor(
    private readonly sql: Sql,
    private readonly faulty: Sql,
    private readonly id: string,
    private readonly acknowledged: Set<string>,
    private readonly hand: string
  ) {}

  get wire(): Wire {
    return {
      load: asked => loadSession(this.sql, this.id, asked),
      post: async ({ base, era, gesture, client, edit, reverts }) => {
        // As on a real wire: what arrives is a copy.
        const sent = JSON.parse(JSON.stringify(edit)) as typeof edit
        const answer = await postEdit(
          this.faulty,
          this.id,
          { base, era },
          sent,
          { gesture, client, reverts },
          this.cache
        ).catch((error: Error & { code?: string }) => {
          if (error instanceof Refusal || error instanceof Broken) throw error
          throw Object.assign(new Error(`the server failed: ${error.message}`), { cause: error })
        })
        if (answer.done) this.acknowledged.add(gesture)
        return structuredClone(answer) as Answer
      },
      since: async (base, era) => structuredClone(await editsSince(this.sql, this.id, { base, era })) as Answer,
      readLog: async before => readLog(this.sql, this.id, this.hand, before)
    }
  }
}

interface Page {
  link: SessionLink
  client: string
}

async function history(sql: Sql, seed: number, edits: number, tally: Tally): Promise<void> {
  const dice = new Dice(seed),
    id = `history-${process.pid}-${seed}`,
    other = `${id}-b`
  const breaking = new Breaking(sql, dice, 0.12)
  const begin = generatedNetwork(seed, { tracks: 5, submixes: 3, returns: 2, stems: 1, sends: 5, keys: 2 }).session
  await createSession(sql, id, begin)
  await createSession(
    sql,
    other,
    generatedNetwork(seed + 1, { tracks: 3, submixes: 2, returns: 1, stems: 1, sends: 2, keys: 1 }).session
  )
  const acknowledged = new Map([id, other].map(s => [s, new Set<string>()]))
  const processes = (session: string) =>
    [0, 1].map(() => new Process(sql, breaking.faulty, session, acknowledged.get(session)!, `c${seed}`))
  const servers = new Map([id, other].map(s => [s, processes(s)]))
  const shelf = new MemoryShelf()
  const links: SessionLink[] = [],
    broken: Error[] = []
  const later: (() => Promise<void>)[] = [],
    /** What comes late, on its way. */
    arriving: Promise<void>[] = []
  const open = new Set<string>()
  let serial = 0,
    faultiness = 0.25

  /** What each page asks goes to either process. */
  const wireOf = (session: string): Wire => {
    const either = () => dice.pick(servers.get(session)!).wire
    return badNetwork(
      {
        load: a => either().load(a),
        post: b => either().post(b),
        since: (b, e) => either().since(b, e),
        readLog: b => either().readLog(b)
      },
      {
        chance: (p: number) => dice.chance(p === faultiness ? faultiness : p),
        below: (n: number) => dice.below(n)
      } as Dice,
      faultiness,
      act => later.push(act)
    )
  }

  async function page(session: string): Promise<Page> {
    const client = `c${seed}-${++serial}`
    open.add(client)
    const link = new SessionLink({
      client,
      wire: new Proxy({} as Wire, {
        get:
          (_, key: keyof Wire) =>
          (...args: never[]) =>
            (wireOf(session)[key] as (...a: never[]) => unknown)(...args)
      }),
      shelf: new WaitingShelf(shelf, session, client, async c => open.has(c)),
      clock: () => ++serial,
      drawn: async () => {},
      pause: async () => {
        arriving.push(...later.splice(0).map(arrive => arrive()))
      },
      failureOf(error) {
        const failure = failureOf(error)
        if (failure === 'failed' && !(error instanceof Broken)) broken.push(error as Error)
        return failure
      },
      events: {
        changed() {},
        refused: () => {
          tally.refused++
        },
        stuck() {},
        noRoom() {}
      }
    })
    for (let tries = 0; ; tries++) {
      try {
        await link.open()
        break
      } catch (error) {
        if (failureOf(error) === 'refused' || tries > 200) throw error
      }
    }
    links.push(link)
    return { link, client }
  }

  let pages = [await page(id), await page(id), await page(dice.chance(0.5) ? id : other)]
  const sessionOf = new Map(
    pages.map(p => [p.client, p === pages[2] && p.link.base.era !== pages[0]!.link.base.era ? other : id])
  )
  for (let made = 0; made < edits;) {
    const at = dice.below(pages.length),
      { link, client } = pages[at]!
    try {
      if (dice.chance(0.16)) {
        link.takeBack(dice.chance(0.7) ? 'undo' : 'redo')
        tally.takenBack++
      } else {
        const newId = () => `${client}-${++serial}`.replaceAll('/', '-')
        link.apply(
          dice.chance(0.1) ? hostileEdit(dice, link.session!, newId) : generatedEdit(dice, link.session!, newId)
        )
      }
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      tally.refusedHere++
    }
    made++
    if (dice.chance(0.3)) await Promise.resolve()
    if (dice.chance(0.1)) await link.settled()
    if (dice.chance(0.2)) link.lookAgain()
    // A page is loaded anew in mid-work, or goes to the other session; what waits is left behind or drained.
    if (dice.chance(0.02)) {
      link.close()
      open.delete(client)
      const next = dice.chance(0.5) ? sessionOf.get(client)! : dice.pick([id, other])
      pages = pages.with(at, await page(next))
      sessionOf.set(pages[at]!.client, next)
      tally.reloads++
    }
    // A job stores beside its own work, on whatever the session is then.
    if (dice.chance(0.02))
      await jobEdit(
        breaking.faulty,
        dice.pick([id, other]),
        `job ${++serial}`,
        dice.pick(servers.get(id)!).cache
      ).catch(e => {
        if (!(e instanceof Refusal || e instanceof Broken)) throw e
      })
  }

  // Quiet at last: whatever is late arrives, everybody drains and looks again.
  faultiness = 0
  await Promise.all([...arriving, ...later.splice(0).map(arrive => arrive())])
  for (const { client } of pages) open.delete(client)
  for (const link of links) await link.settled()
  const last = [await page(id), await page(other)]
  // What pages left behind is stored by those that were opened last.
  for (const { link } of last) await link.settled()
  // Whoever looks later may store what was left behind: until nothing moves any more.
  const stood = async () =>
    JSON.stringify(await sql`select id, revision from session_head where id = any(${[id, other]}) order by id`)
  for (let before = ''; before !== (await stood());) {
    before = await stood()
    for (const { link } of [...pages, ...last]) {
      link.lookAgain()
      await link.settled()
      await Promise.all(arriving)
    }
  }
  expect(broken.map(e => e.message)).toEqual([])

  for (const session of [id, other]) {
    const stored = await loadSession(sql, session)
    const log = await sql<
      Stored[]
    >`select revision, label, changes, hash, gesture, client from edit_log where session_id = ${session}
      order by revision`
    expect(firstBreach(stored.session)).toBeNull()
    expect(log.map(e => e.revision)).toEqual(log.map((_, i) => i + 1))
    expect(stored.revision).toBe(log.length)
    expect(new Set(log.map(e => e.gesture)).size).toBe(log.length)
    const gestures = new Set(log.map(e => e.gesture))
    expect([...acknowledged.get(session)!].filter(g => !gestures.has(g))).toEqual([])
    const replayed = log.reduce(
      (s: Session, e) => withChanges(s, e.changes),
      session === id
        ? begin
        : generatedNetwork(seed + 1, { tracks: 3, submixes: 2, returns: 1, stems: 1, sends: 2, keys: 1 }).session
    )
    expect(replayed).toEqual(stored.session)
    for (const { link } of [...pages.filter(p => sessionOf.get(p.client) === session), last[session === id ? 0 : 1]!]) {
      expect([link.waiting, link.base.revision]).toEqual([0, stored.revision])
      expect(link.session).toEqual(stored.session)
    }
    for (const { cache } of servers.get(session)!) {
      const known = cache.at(session, stored.revision, stored.era)
      if (known) expect(known).toEqual(stored.session)
      expect(cache.size).toBeLessThanOrEqual(12)
    }
    tally.stored += log.length
  }
}

/** As a print or an import does: in a transaction of its own, with statements around. */
const jobEdit = (sql: Sql, id: string, gesture: string, cache: KnownSessions) =>
  withEdits(
    sql,
    async (t, edit) => {
      await t`select 1`
      return edit(id, { verb: 'setSession', args: { heardLevelDb: -1 } }, { gesture, client: '' })
    },
    cache
  )

interface Tally {
  stored: number
  refused: number
  refusedHere: number
  takenBack: number
  reloads: number
}

describe('histories', () => {
  it(
    `${EDITS} stored edits in generated histories: clients, database and log agree, and each acknowledged gesture is there once`,
    async () => {
      const sql = connectStore(inject('stage').database, 8)
      const tally: Tally = { stored: 0, refused: 0, refusedHere: 0, takenBack: 0, reloads: 0 }
      try {
        for (let seed = 1; tally.stored < EDITS; seed++) await history(sql, seed, PER_HISTORY, tally)
      } finally {
        await sql.end()
      }
      console.log(`histories: ${JSON.stringify(tally)}`)
      expect(tally.takenBack).toBeGreaterThan(EDITS / 20)
      expect(tally.reloads).toBeGreaterThan(EDITS / 200)
    },
    process.env.NULLET_LONG ? 3_600_000 : 180_000
  )
})

describe('a transaction that is rolled back', () => {
  it('at whatever statement leaves nothing, in the database or in memory', async () => {
    const sql = connectStore(inject('stage').database, 2),
      id = `rollback-${process.pid}`,
      cache = new KnownSessions()
    try {
      const { session } = generatedNetwork(1, { tracks: 4, submixes: 2, returns: 1, stems: 1, sends: 2, keys: 1 })
      await createSession(sql, id, session)
      const { era } = await loadSession(sql, id)
      const bus = (name: string) => ({
        verb: 'createBus',
        args: { id: name, name, role: 'submix', order: 'z', to: 'main', feedId: `f-${name}` }
      })
      let broke = 0
      for (let at = 0; at < 14; at++) {
        const dice = { chance: () => true, below: () => at } as unknown as Dice
        const base = (await loadSession(sql, id)).revision
        const answer = await postEdit(
          new Breaking(sql, dice, 1).faulty,
          id,
          { base, era },
          bus(`new${at}`),
          { gesture: `x/${at}`, client: 'x' },
          cache
        ).catch(() => null)
        const now = await loadSession(sql, id)
        if (answer) {
          expect(now.session.channel[`new${at}`]).toBeDefined()
          continue
        }
        broke++
        expect(now.revision).toBe(base)
        expect(now.session.channel[`new${at}`]).toBeUndefined()
        // The next edit is applied to what is really there.
        const good = await postEdit(
          sql,
          id,
          { base, era },
          bus(`good${at}`),
          { gesture: `y/${at}`, client: 'x' },
          cache
        )
        expect((await loadSession(sql, id)).session).toEqual(applyEdit(now.session, bus(`good${at}`)).session)
        expect(good.edits[0]!.revision).toBe(base + 1)
      }
      expect(broke).toBeGreaterThan(4)
    } finally {
      await sql.end()
    }
  })
})
