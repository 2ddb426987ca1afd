// The link to a session: each fault that a network, a server or another page can make, one at a time.
import { describe, expect, it } from 'vitest'
import { Refusal } from '@nullet/core/foundation/refusal'
import { Sketch } from '@nullet/core/testing/sketch'
import { withChanges, type Session } from '@nullet/core/session/session'
import { SessionLink, type LinkEvents } from './link'
import { Broken, failureOf, Lost, MemoryServer, MemoryShelf } from './testing'
import { WaitingShelf } from './waiting'
import type { Wire } from './wire'

function small(): Session {
  const k = new Sketch('Small')
  k.bus('main', { role: 'main' })
  k.bus('drums')
  k.main('drums', 'main')
  k.main(k.track('low'), 'drums')
  return k.session
}

interface Page {
  link: SessionLink
  said: string[]
  stuck: (() => void)[]
}

function page(
  wire: Wire,
  options: { client?: string; shelf?: MemoryShelf; alive?: (c: string) => boolean; session?: string } = {}
): Page {
  const said: string[] = [],
    stuck: (() => void)[] = []
  const client = options.client ?? 'one'
  const events: LinkEvents = {
    changed() {},
    refused: (e, label) => said.push(`${label}: ${(e as Error).message}`),
    stuck: (label, leaveOut) => {
      said.push(`stuck: ${label}`)
      stuck.push(leaveOut)
    },
    noRoom: () => said.push('no room')
  }
  const shelf = new WaitingShelf(
    options.shelf ?? new MemoryShelf(),
    options.session ?? 's',
    client,
    async c => options.alive?.(c) ?? false
  )
  return {
    link: new SessionLink({
      wire,
      shelf,
      client,
      failureOf,
      pause: async () => {},
      drawn: async () => {},
      clock: () => 0,
      events
    }),
    said,
    stuck
  }
}

/** A wire on which the next posts go wrong, each in its own way. */
function faulty(server: MemoryServer, faults: ((ask: () => Promise<never>) => Promise<never>)[]): Wire {
  return {
    load: asked => server.load(asked),
    since: (b, e) => server.since(b, e),
    readLog: () => server.readLog(),
    post: body => {
      const fault = faults.shift()
      const ask = () => server.post(body)
      return fault ? fault(ask as () => Promise<never>) : ask()
    }
  }
}
const lostRequest = async () => {
  throw new Lost('request')
}
const lostAnswer = async (ask: () => Promise<unknown>) => {
  await ask()
  throw new Lost('answer')
}
const broken = async () => {
  throw new Broken('500')
}

const level = (ids: string[], byDb: number) => ({ verb: 'moveLevels', args: { ids, byDb } })
const fields = (id: string, f: object) => ({ verb: 'setChannels', args: { ids: [id], fields: f } })
const bus = (id: string, to = 'main') => ({
  verb: 'createBus',
  args: { id, name: id, role: 'submix', order: 'b0', to, feedId: `f-${id}` }
})

describe('an edit', () => {
  it('is shown at once and stored once', async () => {
    const server = new MemoryServer(small()),
      { link } = page(server)
    await link.open()
    link.apply(level(['drums'], -3))
    expect(link.session!.channel.drums!.levelDb).toBe(-3)
    await link.settled()
    expect(server.log.map(e => e.gesture)).toEqual(['one/1'])
    expect(link).toMatchObject({ status: 'saved', waiting: 0 })
    expect(link.session).toEqual(server.session)
  })

  it('is applied here as the server reads it, to the last sign', async () => {
    const server = new MemoryServer(small()),
      { link } = page(server)
    await link.open()
    link.apply(fields('low', { levelDb: -0, name: undefined }))
    expect(Object.is(link.session!.channel.low!.levelDb, 0)).toBe(true)
    await link.settled()
    expect(link.session).toEqual(server.session)
  })

  it('whose answer is lost is not applied again, nor when the page is loaded anew meanwhile', async () => {
    const server = new MemoryServer(small()),
      shelf = new MemoryShelf()
    const first = page(faulty(server, [lostAnswer]), { shelf })
    await first.link.open()
    first.link.apply(level(['drums'], -3))
    await first.link.settled()
    expect(server.session.channel.drums!.levelDb).toBe(-3)

    const gone: Wire = {
      ...faulty(server, []),
      post: async body => {
        await server.post(body)
        throw new Lost('and the page is closed')
      }
    }
    const second = page(gone, { shelf, client: 'two' })
    await second.link.open()
    second.link.apply(level(['drums'], -3))
    second.link.close()
    await second.link.settled()
    const third = page(server, { shelf, client: 'three' })
    await third.link.open()
    // Even before anything is sent again it is not shown twice.
    expect(third.link.session!.channel.drums!.levelDb).toBe(-6)
    await third.link.settled()
    expect(server.session.channel.drums!.levelDb).toBe(-6)
    expect(server.log).toHaveLength(2)
  })

  it('is kept through any number of failures of the server, and said to be stuck after some; it can be left out', async () => {
    const server = new MemoryServer(small())
    const { link, said, stuck } = page(faulty(server, [lostRequest, ...Array.from({ length: 6 }, () => broken)]))
    await link.open()
    link.apply(level(['drums'], -3))
    await link.settled()
    expect(said).toEqual(['stuck: Level of “drums” by −3.0 dB'])
    expect(server.log).toHaveLength(1)
    stuck[0]!()
    expect(link.session).toEqual(server.session)

    const never: Wire = { ...faulty(server, []), post: broken }
    const other = page(never, { client: 'two' })
    await other.link.open()
    other.link.apply(level(['drums'], -1))
    for (let i = 0; i < 200 && !other.stuck.length; i++) await Promise.resolve()
    other.stuck[0]!()
    await other.link.settled()
    expect(other.link.waiting).toBe(0)
    expect(other.link.history.undos).toEqual([])
    expect(other.link.session!.channel.drums!.levelDb).toBe(-3)
  })

  it('that was left out while it was under way takes no other with it when it is refused at last', async () => {
    const server = new MemoryServer(small())
    let answer = () => {},
      posts = 0
    const { link, said, stuck } = page({
      ...faulty(server, []),
      post: async body => {
        if (++posts <= 4) throw new Broken('500')
        if (posts > 5) return server.post(body)
        await new Promise<void>(done => {
          answer = done
        })
        throw new Refusal('circle', 'refused at last')
      }
    })
    await link.open()
    link.apply(level(['drums'], -3))
    for (let i = 0; i < 300 && posts < 5; i++) await Promise.resolve()
    link.apply(fields('low', { muted: true }))
    stuck[0]!()
    answer()
    await link.settled()
    expect(said.filter(s => s.includes('refused at last'))).toEqual([])
    expect(server.log.map(e => e.label)).toEqual(['Mute of “low”'])
    expect(link.session).toEqual(server.session)
  })

  it('that the server refuses takes its own step of undo with it, not the last one', async () => {
    const server = new MemoryServer(small()),
      { link, said } = page(server)
    await link.open()
    // Another page takes the bus away meanwhile.
    server.store('x/1', 'x', { verb: 'removeChannels', args: { ids: ['drums'] } })
    link.apply(fields('drums', { muted: true }))
    link.apply(fields('low', { levelDb: -7 }))
    await link.settled()
    expect(said).toEqual([expect.stringMatching(/Mute.*drums/)])
    expect(link.history.undos.map(s => s.label)).toEqual(['Level of “low”'])
    expect(link.session!.channel.low!.levelDb).toBe(-7)
    expect(link.session).toEqual(server.session)
  })

  it('that is taken back before it was refused leaves nothing to make again, and is said once', async () => {
    const server = new MemoryServer(small()),
      { link, said } = page(server)
    await link.open()
    server.store('x/1', 'x', { verb: 'removeChannels', args: { ids: ['drums'] } })
    link.apply(fields('drums', { muted: true }))
    link.takeBack('undo')
    await link.settled()
    expect(said).toHaveLength(1)
    expect([link.history.undos, link.history.redos]).toEqual([[], []])
  })
})

describe('where page and server do not agree', () => {
  it('a base that is ahead of the server is loaded anew, in a few requests', async () => {
    const server = new MemoryServer(small()),
      { link } = page(server)
    await link.open()
    link.apply(level(['drums'], -3))
    await link.settled()
    // The server has lost its last edit, as from a backup.
    server.session = small()
    server.log.length = 0
    const before = server.requests
    link.apply(fields('low', { muted: true }))
    await link.settled()
    expect(server.requests - before).toBeLessThan(5)
    expect(link.session).toEqual(server.session)
    expect(server.session.channel.low!.muted).toBe(true)
  })

  it('rows that came out differently are loaded anew instead of being guessed', async () => {
    const server = new MemoryServer(small())
    const other: Wire = {
      ...faulty(server, []),
      post: async body => server.post({ ...body, edit: level(['drums'], -4) })
    }
    const { link } = page(other)
    await link.open()
    link.apply(level(['drums'], -3))
    await link.settled()
    expect(link.session!.channel.drums!.levelDb).toBe(-4)
    expect(link.history.undos[0]!.changes[0]!.after).toMatchObject({ levelDb: -4 })
  })

  it('another session under the same name gets nothing that was meant for the first', async () => {
    const server = new MemoryServer(small()),
      { link, said } = page(faulty(server, [lostRequest]))
    await link.open()
    server.era = 'era-2'
    link.apply(level(['drums'], -3))
    await link.settled()
    expect(server.log).toEqual([])
    expect(said).toEqual([expect.stringMatching(/meant for a session that is no more/)])
    expect(link.session).toEqual(server.session)
  })

  it('a session that is gone is said, and asked for no more', async () => {
    const server = new MemoryServer(small()),
      { link, said } = page({
        ...faulty(server, []),
        post: async () => {
          throw new Refusal('noSession', 'There is no session “s”')
        }
      })
    await link.open()
    link.apply(level(['drums'], -3))
    await link.settled()
    expect([link.status, said, link.waiting]).toEqual(['gone', [': There is no session “s”'], 1])
  })
})

describe('opening', () => {
  it('takes what is told meanwhile as a reason to look again, and loads once', async () => {
    const server = new MemoryServer(small()),
      shelf = new MemoryShelf()
    shelf.setItem(
      'nullet waiting/s/gone',
      JSON.stringify({ era: 'era-1', edits: [{ gesture: 'gone/1', edit: level(['drums'], -3), label: 'x', at: 0 }] })
    )
    const { link } = page(server, { shelf })
    const opening = link.open()
    link.lookAgain()
    expect(link.status).toBe('loading')
    await opening
    expect(link.status).not.toBe('saved')
    await link.settled()
    // Loaded after it was told, and posted.
    expect([link.status, server.requests, server.log.length]).toEqual(['saved', 2, 1])
  })
})

describe('catching up', () => {
  it('that fails is tried again until it is done', async () => {
    const server = new MemoryServer(small()),
      faults = [lostRequest, broken]
    const { link } = page({
      ...faulty(server, []),
      since: async (b, e) => {
        await faults.shift()?.()
        return server.since(b, e)
      }
    })
    await link.open()
    await link.settled()
    server.store('x/1', 'x', fields('low', { muted: true }))
    link.lookAgain()
    await link.settled()
    expect(faults).toEqual([])
    expect(link.session).toEqual(server.session)
  })
})

describe('two sessions', () => {
  it('one opened while an edit of the other is under way gets none of its rows', async () => {
    const a = new MemoryServer(small()),
      other = new Sketch('Other')
    other.bus('main', { role: 'main' })
    const b = new MemoryServer(other.session, 'era-b'),
      shelf = new MemoryShelf()
    let answer = () => {}
    const held = new Promise<void>(done => {
      answer = done
    })
    const slow: Wire = {
      ...faulty(a, []),
      post: async body => {
        await held
        return a.post(body)
      }
    }
    const one = page(slow, { shelf, session: 'a' })
    await one.link.open()
    one.link.apply(level(['drums'], -3))
    one.link.apply(fields('low', { muted: true }))
    one.link.close()
    const two = page(b, { shelf, session: 'b' })
    await two.link.open()
    two.link.apply(fields('main', { levelDb: -1 }))
    answer()
    await Promise.all([one.link.settled(), two.link.settled()])
    expect(Object.keys(two.link.session!.channel)).toEqual(['main'])
    expect(b.log.map(e => e.label)).toEqual(['Level of “main”'])
    expect(b.requests).toBeLessThan(5)
    // What was done before leaving is stored all the same.
    expect(a.log).toHaveLength(2)
    expect(shelf.length).toBe(0)
  })
})

describe('pages that close while they wait', () => {
  it('leave all their edits to whoever opens the session next, each page its own', async () => {
    const server = new MemoryServer(small()),
      shelf = new MemoryShelf()
    const away: Wire = { ...faulty(server, []), post: lostRequest }
    for (const [client, id] of [
      ['one', 'low'],
      ['two', 'drums']
    ] as const) {
      const p = page(away, { shelf, client, alive: c => c === 'one' || c === 'two' })
      await p.link.open()
      p.link.apply(fields(id, { muted: true }))
      p.link.close()
      await p.link.settled()
    }
    expect(server.log).toEqual([])
    const next = page(server, { shelf, client: 'three' })
    await next.link.open()
    await next.link.settled()
    expect(server.log.map(e => e.gesture)).toEqual(['one/1', 'two/1'])
    expect(shelf.length).toBe(0)
  })

  it('a page that is still open keeps its own; no room is said; what is no document is passed over', async () => {
    const server = new MemoryServer(small()),
      shelf = new MemoryShelf()
    shelf.setItem('nullet waiting/s/ghost', '{broken')
    shelf.setItem(
      'nullet waiting/s/two',
      JSON.stringify({ era: 'era-1', edits: [{ gesture: 'two/1', edit: level(['drums'], -3), label: 'x', at: 0 }] })
    )
    const p = page(server, { shelf, alive: c => c === 'two' })
    await p.link.open()
    await p.link.settled()
    expect(server.log).toEqual([])
    const tight = page({ ...faulty(server, []), post: lostRequest }, { shelf: new MemoryShelf(10) })
    await tight.link.open()
    tight.link.apply(level(['drums'], -3))
    expect(tight.said).toEqual(['no room'])
    tight.link.close()
    await tight.link.settled()
  })
})

describe('taking back', () => {
  it('takes back what really changed when others moved in between', async () => {
    const server = new MemoryServer(small()),
      { link } = page(server)
    await link.open()
    server.store('x/1', 'x', fields('drums', { levelDb: -10 }))
    link.apply(level(['drums'], -3))
    link.takeBack('undo')
    await link.settled()
    expect(server.session.channel.drums!.levelDb).toBe(-10)
    link.takeBack('redo')
    await link.settled()
    expect(server.session.channel.drums!.levelDb).toBe(-13)
  })

  it('a bus that others have built on stays, and what stands on it is named', async () => {
    const server = new MemoryServer(small()),
      { link } = page(server)
    await link.open()
    link.apply(bus('brass'))
    await link.settled()
    server.store('x/1', 'x', { verb: 'setMainFeed', args: { ids: ['low'], to: 'brass', feedIds: [] } })
    link.lookAgain()
    await link.settled()
    expect(() => link.takeBack('undo')).toThrow(/the main feed from “low” to “brass” stands on the bus “brass”/)
    expect(link.session!.channel.brass).toBeDefined()
    expect(link.history.undos).toEqual([])
  })

  it('counts what the server did for this page: an import is a step like any other', async () => {
    const server = new MemoryServer(small()),
      { link } = page(server)
    await link.open()
    link.apply(level(['drums'], -3))
    await link.settled()
    server.store(link.nextServerGesture(), 'one', {
      verb: 'addRows',
      args: {
        label: 'Bring in kora.wav',
        rows: [{ table: 'channel', row: { id: 'kora', name: 'kora', kind: 'track' } }]
      }
    })
    server.store('job 7', 'somebody', fields('low', { colour: 4 }))
    link.lookAgain()
    await link.settled()
    expect(link.history.undos.map(s => s.label)).toEqual(['Level of “drums” by −3.0 dB', 'Bring in kora.wav'])
    link.takeBack('undo')
    await link.settled()
    expect(server.session.channel.kora).toBeUndefined()
    expect(server.session.channel.drums!.levelDb).toBe(-3)
    link.takeBack('redo')
    await link.settled()
    expect(server.session.channel.kora).toBeDefined()
  })

  it('a step beside the rows has its place in the order; one that cannot be carried out is given up and said', async () => {
    const server = new MemoryServer(small()),
      { link, said } = page(server)
    await link.open()
    const kept = new Set(['roof'])
    let isAway = false
    const change = (act: () => void) => async () => {
      if (isAway) throw new Error('the server is away')
      act()
    }
    link.apply(level(['drums'], -3))
    kept.delete('roof')
    link.doneBeside('Remove the template “roof”', {
      about: 'roof',
      undo: change(() => kept.add('roof')),
      redo: change(() => kept.delete('roof'))
    })
    link.apply(level(['drums'], -4))
    await link.settled()
    link.takeBack('undo')
    expect([...kept]).toEqual([])
    link.takeBack('undo')
    expect([...kept]).toEqual(['roof'])
    link.takeBack('redo')
    expect([...kept]).toEqual([])
    isAway = true
    link.takeBack('undo')
    await expect.poll(() => said).toEqual(['Remove the template “roof”: the server is away'])
    expect([...kept]).toEqual([])
    expect(link.history.redos.map(s => s.label)).toEqual(['Level of “drums” by −4.0 dB'])
    link.takeBack('undo')
    await link.settled()
    expect(server.session.channel.drums!.levelDb).toBe(small().channel.drums!.levelDb)
  })

  it('rows that come back as they were made here stay the same objects', async () => {
    const server = new MemoryServer(small()),
      { link } = page(server)
    await link.open()
    link.apply(level(['drums'], -3))
    const row = link.session!.channel.drums
    await link.settled()
    expect(link.session!.channel.drums).toBe(row)
    expect(withChanges(small(), server.log[0]!.changes)).toEqual(server.session)
  })
})

describe('what a hand did before', () => {
  it('can be taken back and made again by its next page, in order', async () => {
    const server = new MemoryServer(small()),
      begin = server.session
    const { link } = page(server, { client: 'hand-a' })
    await link.open()
    link.apply(level(['drums'], -3))
    link.apply(fields('low', { muted: true }))
    link.apply(level(['drums'], -2))
    link.takeBack('undo')
    await link.settled()
    server.store('other/1', 'other-1', fields('low', { colour: 3 }))
    const next = page(server, { client: 'hand-b' }).link
    await next.open()
    await next.settled()
    const labels = link.history.undos.map(s => s.label)
    expect(next.history.undos.map(s => s.label)).toEqual(labels)
    next.takeBack('redo')
    expect(next.session!.channel.drums!.levelDb).toBe(-5)
    for (let i = 0; i < 3; i++) expect(next.takeBack('undo')).toBe(true)
    expect(next.takeBack('undo')).toBe(false)
    await next.settled()
    expect(server.session.channel.drums).toEqual(begin.channel.drums)
    // What somebody else did stays.
    expect(server.session.channel.low).toEqual({ ...begin.channel.low, colour: 3 })
  })

  it('is nothing of somebody else’s, and nothing at all where the log is not to be had', async () => {
    const server = new MemoryServer(small())
    server.store('x/1', 'hand-x', fields('low', { muted: true }))
    const stranger = page(server, { client: 'other-1' }).link
    await stranger.open()
    await stranger.settled()
    expect(stranger.history.undos).toEqual([])
    const cut = page({ ...faulty(server, []), readLog: lostRequest }, { client: 'hand-y' }).link
    await cut.open()
    await cut.settled()
    expect(cut.history.undos).toEqual([])
    expect(cut.session!.channel.low!.muted).toBe(true)
  })

  it('is told once, also what waited and is stored by the next page', async () => {
    const server = new MemoryServer(small()),
      shelf = new MemoryShelf()
    const away: Wire = { ...faulty(server, []), post: lostRequest }
    const first = page(away, { client: 'hand-a', shelf })
    await first.link.open()
    first.link.apply(level(['drums'], -3))
    first.link.close()
    await first.link.settled()
    const next = page(server, { client: 'hand-b', shelf }).link
    await next.open()
    await next.settled()
    expect(next.history.undos.map(s => s.gesture)).toEqual(['hand-a/1'])
    next.takeBack('undo')
    await next.settled()
    expect(server.session.channel.drums!.levelDb).toBe(0)
  })
})
