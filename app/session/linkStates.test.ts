// What the link says of itself, and when: states, pauses, what is told once, and what a closed page still does.
import { describe, expect, it } from 'vitest'
import { Refusal } from '@nullet/core/foundation/refusal'
import { Sketch } from '@nullet/core/testing/sketch'
import { SessionLink } from './link'
import { Broken, failureOf, Lost, MemoryServer, MemoryShelf } from './testing'
import { WaitingShelf, type Waiting } from './waiting'
import type { Answer, Wire } from './wire'

function small() {
  const k = new Sketch('Small')
  k.bus('main', { role: 'main' })
  k.main(k.track('low'), 'main')
  return k.session
}
const level = (levelDb: number) => ({ verb: 'setChannels', args: { ids: ['low'], fields: { levelDb } } })

/** A page whose posts go as told: what is thrown, or answered, before the server is asked; null asks it. */
function page(
  server: MemoryServer,
  posts: (() => Promise<Answer> | null)[] = [],
  room = true,
  memory = new MemoryShelf(),
  client = 'me-1'
) {
  const states: string[] = [],
    said: string[] = [],
    pauses: number[] = [],
    leaveOut: (() => void)[] = [],
    posted: string[] = [],
    seen: { levelDb: number | null; pan: number }[] = []
  let changes = 0
  /** What a drawing takes. */
  const screen = { drawn: Promise.resolve() }
  const wire: Wire = {
    load: asked => server.load(asked),
    since: (base, era) => server.since(base, era),
    readLog: () => server.readLog(),
    post: body => {
      posted.push(body.gesture)
      return posts.shift()?.() ?? server.post(body)
    }
  }
  const shelf = new WaitingShelf(memory, 's', client, async () => false)
  const kept = room ? shelf : Object.assign(Object.create(shelf), { keep: () => false, left: () => shelf.left() })
  const link = new SessionLink({
    wire,
    shelf: kept as WaitingShelf,
    client,
    failureOf,
    pause: ms => {
      pauses.push(ms)
      return new Promise(done => setTimeout(done, 0))
    },
    drawn: () => screen.drawn,
    clock: () => 1_000_000_000_000,
    events: {
      changed() {
        changes++
        const low = link.session?.channel.low
        if (low) seen.push({ levelDb: low.levelDb, pan: low.pan })
        if (states.at(-1) !== link.status) states.push(link.status)
      },
      refused: (error, label) => said.push(`${label}: ${(error as Error).message}`),
      stuck: (label, leave) => {
        said.push(`stuck: ${label}`)
        leaveOut.push(leave)
      },
      noRoom: () => said.push('no room')
    }
  })
  return { link, states, said, pauses, leaveOut, seen, posted, screen, changes: () => changes }
}
const throwing = (error: Error, times = 1) => Array.from({ length: times }, () => () => Promise.reject<Answer>(error))

describe('a page', () => {
  it('that is not open yet shows nothing and does nothing', async () => {
    const { link } = page(new MemoryServer(small()))
    expect(link).toMatchObject({ status: 'loading', session: null, waiting: 0, base: { revision: 0, era: '' } })
    expect([link.apply(level(-3)), link.takeBack('undo'), link.takeBack('redo')]).toEqual([false, false, false])
    link.lookAgain()
    await link.settled()
    expect(link.status).toBe('loading')
  })

  it('is loading, saved, saving and saved again, each told once', async () => {
    const server = new MemoryServer(small()),
      { link, states } = page(server)
    await link.open()
    await link.settled()
    link.apply(level(-3))
    expect(link).toMatchObject({ status: 'saving', waiting: 1 })
    await link.settled()
    expect(states).toEqual(['loading', 'saved', 'saving', 'saved'])
    expect(link.base).toEqual({ revision: 1, era: 'era-1' })
  })

  it('shows and keeps what was done, and tells the server once it is drawn: all of it, one after the other', async () => {
    const server = new MemoryServer(small()),
      memory = new MemoryShelf(),
      { link, posted, seen, screen } = page(server, [], true, memory)
    await link.open()
    await link.settled()
    let isDrawn = () => {}
    screen.drawn = new Promise(done => (isDrawn = done))
    link.apply(level(-3))
    link.apply(level(-4))
    await Promise.resolve()
    expect(link).toMatchObject({ status: 'saving', waiting: 2 })
    expect([seen.at(-1)!.levelDb, posted.length]).toEqual([-4, 0])
    const { kept } = await new WaitingShelf(memory, 's', 'me-2', async () => false).left()
    expect(kept.flatMap(k => k.edits.map(e => e.edit))).toEqual([level(-3), level(-4)])
    isDrawn()
    await link.settled()
    expect([posted.length, server.revision, link.status]).toEqual([2, 2, 'saved'])
  })

  it('sends nothing for what changes nothing, and has no step of it', async () => {
    const server = new MemoryServer(small()),
      { link } = page(server)
    await link.open()
    expect(link.apply(level(0))).toBe(true)
    await link.settled()
    expect(server.log).toEqual([])
    expect(link.takeBack('undo')).toBe(false)
  })

  it('has no step of what is not to be taken back', async () => {
    const server = new MemoryServer(small()),
      { link } = page(server)
    await link.open()
    link.apply(level(-3), { undoable: false })
    await link.settled()
    expect(server.log).toHaveLength(1)
    expect(link.takeBack('undo')).toBe(false)
  })

  it('counts its gestures and those of the server in one row', async () => {
    const server = new MemoryServer(small()),
      { link } = page(server)
    await link.open()
    link.apply(level(-1))
    expect(link.nextServerGesture()).toBe('me-1/s2')
    link.apply(level(-2))
    await link.settled()
    expect(server.log.map(e => e.gesture)).toEqual(['me-1/1', 'me-1/3'])
  })

  it('names what is taken back and made again, and says of which gesture', async () => {
    const server = new MemoryServer(small()),
      { link } = page(server)
    await link.open()
    link.apply(level(-3))
    await link.settled()
    expect(link.takeBack('undo')).toBe(true)
    await link.settled()
    expect(link.takeBack('redo')).toBe(true)
    await link.settled()
    const [first] = server.log
    expect(server.log.map(e => e.label)).toEqual([first!.label, `Undo: ${first!.label}`, `Redo: ${first!.label}`])
    expect((await server.readLog()).entries.map(e => e.reverts)).toEqual(['me-1/2', 'me-1/1', null])
    expect(link.session!.channel.low!.levelDb).toBe(-3)
  })
})

describe('a server that is away', () => {
  it('is asked again after pauses that grow to two seconds, and after half a second when it was there', async () => {
    const server = new MemoryServer(small()),
      { link, pauses, said, states } = page(server, throwing(new Lost('away'), 6))
    await link.open()
    link.apply(level(-3))
    await link.settled()
    expect(pauses).toEqual([500, 800, 1280, 2000, 2000, 2000])
    expect(said).toEqual([])
    expect(states).toContain('waiting')
    expect(link.status).toBe('saved')
    const again = page(server, [...throwing(new Lost('away'), 2), () => null, ...throwing(new Lost('away'))])
    await again.link.open()
    again.link.apply(level(-4))
    await again.link.settled()
    again.link.apply(level(-5))
    await again.link.settled()
    expect(again.pauses).toEqual([500, 800, 500])
  })

  it('that fails at one gesture is said at the fourth time, and no more', async () => {
    const server = new MemoryServer(small()),
      { link, said } = page(server, throwing(new Broken('500'), 9))
    await link.open()
    link.apply(level(-3))
    await link.settled()
    expect(said).toEqual([`stuck: ${server.log[0]!.label}`])
    const three = page(server, throwing(new Broken('500'), 3))
    await three.link.open()
    three.link.apply(level(-4))
    await three.link.settled()
    expect(three.said).toEqual([])
  })

  it('what is left out is gone from the page, is said, and is no step any more', async () => {
    const server = new MemoryServer(small())
    let isBroken = true
    const { link, said, leaveOut } = page(
      server,
      Array.from({ length: 40 }, () => () => (isBroken ? Promise.reject<Answer>(new Broken('500')) : null))
    )
    await link.open()
    link.apply(level(-3))
    while (!leaveOut.length) await new Promise(done => setTimeout(done, 0))
    leaveOut[0]!()
    isBroken = false
    await link.settled()
    expect(link.session!.channel.low!.levelDb).toBe(0)
    expect(link.waiting).toBe(0)
    expect(said.at(-1)).toMatch(/: 500$/)
    expect(link.takeBack('undo')).toBe(false)
  })

  it('that neither stores nor says what was missed counts as failing', async () => {
    const server = new MemoryServer(small()),
      nothing = () => Promise.resolve<Answer>({ edits: [], era: 'era-1', done: false })
    const { link, pauses } = page(server, [nothing, nothing])
    await link.open()
    link.apply(level(-3))
    await link.settled()
    expect(pauses).toEqual([500, 800])
    expect(server.log).toHaveLength(1)
  })
})

describe('answers that do not fit', () => {
  const loads = async (answer: (server: MemoryServer) => Partial<Answer>) => {
    const server = new MemoryServer(small()),
      { link, said } = page(server, [
        () => Promise.resolve({ edits: [], era: 'era-1', done: false, ...answer(server) } as Answer)
      ])
    await link.open()
    const before = server.requests
    link.apply(level(-3))
    await link.settled()
    expect(link.session).toEqual(server.session)
    expect(said).toEqual([])
    return server.requests - before
  }
  it('are loaded anew: of another era, with a gap, or told to', async () => {
    expect(await loads(() => ({ era: 'another' }))).toBe(2)
    expect(await loads(() => ({ reload: true }))).toBe(2)
    expect(
      await loads(s => ({
        edits: [{ revision: s.revision + 2, changes: [], label: 'x', hash: '', gesture: 'g', client: 'c' }]
      }))
    ).toBe(2)
  })
  it('with what is there already are passed over', async () => {
    const server = new MemoryServer(small())
    server.store('other/1', 'other', level(-9))
    const twice: Answer = { edits: structuredClone(server.log), era: 'era-1', done: false }
    const { link } = page(server, [() => Promise.resolve(twice)])
    await link.open()
    link.apply(level(-3))
    await link.settled()
    expect(link.base.revision).toBe(2)
    // Loaded once, asked twice more at most: nothing had to be loaded anew.
    expect(server.requests).toBe(2)
    expect(link.session).toEqual(server.session)
  })
})

describe('a page that is closed', () => {
  it('still sends what waits, and tells nobody', async () => {
    const server = new MemoryServer(small()),
      { link, changes, said } = page(server, throwing(new Refusal('ahead', 'load anew')))
    await link.open()
    link.apply(level(-3))
    link.close()
    const told = changes()
    await link.settled()
    expect(server.log).toHaveLength(1)
    expect([changes(), said]).toEqual([told, []])
  })
  it('gives up where the server is away, without a pause', async () => {
    const server = new MemoryServer(small()),
      { link, pauses } = page(server, throwing(new Lost('away'), 3))
    await link.open()
    await link.settled()
    link.close()
    link.apply(level(-3))
    await link.settled()
    expect([pauses, server.log, link.status, link.waiting]).toEqual([[], [], 'waiting', 1])
  })
  it('does not look again', async () => {
    const server = new MemoryServer(small()),
      { link } = page(server)
    await link.open()
    await link.settled()
    link.close()
    const before = server.requests
    link.lookAgain()
    await link.settled()
    expect(server.requests).toBe(before)
  })
})

describe('a browser without room', () => {
  it('is said for each edit that it cannot keep; the edits are stored all the same', async () => {
    const server = new MemoryServer(small()),
      { link, said } = page(server, [], false)
    await link.open()
    await link.settled()
    said.length = 0
    link.apply(level(-3))
    expect(said).toEqual(['no room'])
    await link.settled()
    expect(server.log).toHaveLength(1)
  })
})

describe('a session that is gone', () => {
  it('is said without a gesture, and nothing more is sent', async () => {
    const server = new MemoryServer(small()),
      { link, said } = page(server, throwing(new Refusal('noSession', 'it was removed'), 2))
    await link.open()
    link.apply(level(-3))
    await link.settled()
    expect([link.status, said]).toEqual(['gone', [': it was removed']])
    link.lookAgain()
    await link.settled()
    expect([link.status, server.log]).toEqual(['gone', []])
  })
})

describe('what waits', () => {
  const pan = (value: number) => ({ verb: 'setChannels', args: { ids: ['low'], fields: { pan: value } } })

  it('stays on top of what others do meanwhile, at every moment', async () => {
    const server = new MemoryServer(small())
    const { link, seen } = page(server)
    await link.open()
    await link.settled()
    server.store('other/1', 'other', pan(0.5))
    link.apply(level(-3))
    link.apply(level(-4))
    seen.length = 0
    await link.settled()
    expect(seen.length).toBeGreaterThan(2)
    expect(new Set(seen.map(s => s.levelDb))).toEqual(new Set([-4]))
    expect(seen.at(-1)).toEqual({ levelDb: -4, pan: 0.5 })
    expect(server.log.map(e => e.gesture)).toEqual(['other/1', 'me-1/1', 'me-1/2'])
  })

  it('and does not fit any more is given up and said; the rest is stored', async () => {
    const server = new MemoryServer(small()),
      { link, said, posted } = page(server)
    await link.open()
    await link.settled()
    server.store('other/1', 'other', { verb: 'removeChannels', args: { ids: ['low'] } })
    link.apply(level(-3))
    link.apply({ verb: 'setChannels', args: { ids: ['main'], fields: { levelDb: -1 } } })
    await link.settled()
    expect(said).toHaveLength(1)
    expect(said[0]).toMatch(/low/)
    expect(server.log.map(e => e.gesture)).toEqual(['other/1', 'me-1/2'])
    expect(posted).toEqual(['me-1/1', 'me-1/2'])
    expect(link.session).toEqual(server.session)
    expect(link.waiting).toBe(0)
  })

  const refusing = (times = 1) => throwing(new Refusal('portTaken', 'not here'), times)
  it('and is refused by the server alone is given up with its step, and nothing else is', async () => {
    const server = new MemoryServer(small()),
      { link, said } = page(server, refusing())
    await link.open()
    await link.settled()
    link.apply(level(-3))
    link.apply(pan(0.25))
    await link.settled()
    expect(said).toHaveLength(1)
    expect(said[0]).toMatch(/: not here$/)
    expect(server.log.map(e => e.gesture)).toEqual(['me-1/2'])
    expect(link.session).toEqual(server.session)
    expect(link.session!.channel.low).toMatchObject({ levelDb: 0, pan: 0.25 })
    expect(link.takeBack('undo')).toBe(true)
    expect(link.takeBack('undo')).toBe(false)
    await link.settled()
  })

  it('to take back what is refused goes with it; what takes back something else stays', async () => {
    const server = new MemoryServer(small())
    const { link, said } = page(server, refusing())
    await link.open()
    await link.settled()
    link.apply(level(-3))
    link.apply(pan(0.25))
    link.takeBack('undo')
    await link.settled()
    expect(said).toHaveLength(1)
    expect(server.log.map(e => e.gesture)).toEqual(['me-1/2', 'me-1/3'])
    const again = new MemoryServer(small()),
      other = page(again, refusing())
    await other.link.open()
    await other.link.settled()
    other.link.apply(level(-3))
    other.link.takeBack('undo')
    await other.link.settled()
    expect([again.log, other.said.length, other.link.waiting]).toEqual([[], 1, 0])
    expect(other.link.takeBack('redo')).toBe(false)
  })

  it('is not told of a page that is closed, whatever becomes of it', async () => {
    const server = new MemoryServer(small()),
      { link, said } = page(server, refusing())
    await link.open()
    await link.settled()
    link.apply(level(-3))
    link.close()
    await link.settled()
    expect([said, link.waiting]).toEqual([[], 0])
    const gone = page(new MemoryServer(small()), throwing(new Refusal('noSession', 'it was removed')))
    await gone.link.open()
    await gone.link.settled()
    gone.link.apply(level(-3))
    gone.link.close()
    await gone.link.settled()
    expect([gone.said, gone.link.status]).toEqual([[], 'gone'])
  })
})

describe('catching up', () => {
  it('takes what others did, tells it once, and loads anew where it is told to', async () => {
    const server = new MemoryServer(small()),
      { link } = page(server)
    await link.open()
    await link.settled()
    server.store('other/1', 'other', level(-9))
    link.lookAgain()
    await link.settled()
    expect(link.session!.channel.low!.levelDb).toBe(-9)
    expect(link.base.revision).toBe(1)
    server.session = small()
    server.log.length = 0
    link.lookAgain()
    await link.settled()
    expect(link.base.revision).toBe(0)
    expect(link.session).toEqual(server.session)
    expect(link.takeBack('undo')).toBe(false)
  })
})

describe('what this browser did before', () => {
  it('is no step where the log is of another session under this name, or the page is closed by then', async () => {
    const server = new MemoryServer(small())
    server.store('me-0/1', 'me-0', level(-3))
    const before = page(server)
    await before.link.open()
    await before.link.settled()
    expect(before.link.takeBack('undo')).toBe(true)
    await before.link.settled()

    const stranger = new MemoryServer(small())
    stranger.store('me-0/1', 'me-0', level(-3))
    const read = stranger.readLog.bind(stranger)
    stranger.readLog = async () => ({ ...(await read()), era: 'another' })
    const other = page(stranger)
    await other.link.open()
    await other.link.settled()
    expect(other.link.takeBack('undo')).toBe(false)
  })
  it('is no step before one whose changes nobody knows any more', async () => {
    const server = new MemoryServer(small())
    for (const n of [1, 2, 3]) server.store(`me-0/${n}`, 'me-0', level(-n))
    server.store('other/1', 'other', { verb: 'setChannels', args: { ids: ['low'], fields: { pan: 1 } } })
    const read = server.readLog.bind(server)
    server.readLog = async () => {
      const log = await read()
      return { ...log, entries: log.entries.map(e => (e.gesture === 'me-0/2' ? { ...e, changes: undefined } : e)) }
    }
    const { link } = page(server)
    await link.open()
    await link.settled()
    expect(link.history.undos.map(s => s.gesture)).toEqual(['me-0/3'])
  })
})

describe('what a page left behind', () => {
  /** A page that closes while its answer is lost, or before it was asked. */
  async function closing(server: MemoryServer, memory: MemoryShelf, isStored: boolean, act = (_: SessionLink) => {}) {
    const lost = async () => {
      if (isStored) server.store('old-1/1', 'old-1', level(-3))
      throw new Lost('answer')
    }
    const { link } = page(server, [lost, lost, lost], true, memory, 'old-1')
    await link.open()
    await link.settled()
    link.apply(level(-3))
    act(link)
    link.close()
    await link.settled()
  }
  it('and the server has already is not sent again', async () => {
    const server = new MemoryServer(small()),
      memory = new MemoryShelf()
    await closing(server, memory, true)
    const next = page(server, [], true, memory)
    await next.link.open()
    await next.link.settled()
    expect([next.posted, next.link.waiting, server.log.length]).toEqual([[], 0, 1])
  })
  it('and the server has not is sent under its own name, and what takes it back is no step of its own', async () => {
    const server = new MemoryServer(small()),
      memory = new MemoryShelf()
    await closing(server, memory, false, link => link.takeBack('undo'))
    const next = page(server, [], true, memory)
    await next.link.open()
    await next.link.settled()
    expect(next.posted).toEqual(['old-1/1', 'old-1/2'])
    expect(next.link.session!.channel.low!.levelDb).toBe(0)
    expect(next.link.history.undos.map(s => s.gesture)).not.toContain('old-1/2')
  })
  /** Two pages of one hand left these behind; a third opens. */
  async function adopting(one: Waiting[], other: Waiting[]) {
    const server = new MemoryServer(small()),
      memory = new MemoryShelf()
    for (const [client, edits] of [
      ['me-2', one],
      ['me-3', other]
    ] as const)
      memory.setItem(`nullet waiting/s/${client}`, JSON.stringify({ era: 'era-1', edits }))
    const next = page(server, [], true, memory)
    await next.link.open()
    await next.link.settled()
    return { ...next, server }
  }
  const named = (name: string) => ({ verb: 'setChannels', args: { ids: ['low'], fields: { name } } })
  /** Takes a gesture back that gave the bus another name. */
  const back = (gesture: string, reverts: string, at: number): Waiting => {
    const { main } = small().channel
    const changes = [{ table: 'channel', id: 'main', before: main, after: { ...main, name: 'Taken back' } }]
    return {
      gesture,
      edit: { verb: 'revert', args: { label: 'Undo: name', changes } },
      label: 'Undo: name',
      at,
      reverts
    }
  }
  it('is sent in the order in which it was made, each page’s in its own', async () => {
    const of = (gesture: string, at: number): Waiting => ({ gesture, edit: named(gesture), label: gesture, at })
    const { posted, link } = await adopting(
      [of('me-2/1', 10), of('me-2/2', 30), of('me-2/3', 5)],
      [of('me-3/1', 20), of('me-3/2', 40)]
    )
    expect(posted).toEqual(['me-2/1', 'me-3/1', 'me-2/2', 'me-2/3', 'me-3/2'])
    expect(link.session!.channel.low!.name).toBe('me-3/2')
  })
  it('and cannot be done takes with it what takes it back, also where that stands before it', async () => {
    const wrong = { verb: 'setChannels', args: { ids: ['nobody'], fields: { name: 'x' } } }
    const { link, server, said } = await adopting(
      [back('me-2/1', 'me-3/1', 10)],
      [{ gesture: 'me-3/1', edit: wrong, label: 'Name', at: 10 }]
    )
    expect(said).toHaveLength(1)
    expect([link.waiting, server.log.length]).toEqual([0, 0])
    expect(link.session).toEqual(server.session)
    expect(link.session!.channel.main!.name).not.toBe('Taken back')
  })
  it('for another session under this name is not for this one', async () => {
    const memory = new MemoryShelf()
    await closing(new MemoryServer(small()), memory, false)
    const other = new MemoryServer(small(), 'era-2'),
      next = page(other, [], true, memory)
    await next.link.open()
    await next.link.settled()
    expect([next.posted, other.log, next.link.waiting]).toEqual([[], [], 0])
    expect(next.link.session!.channel.low!.levelDb).toBe(0)
  })
  it('or was stored while the page had to load anew is not sent twice', async () => {
    const server = new MemoryServer(small()),
      { link, posted } = page(server, [
        async () => {
          server.store('me-1/1', 'me-1', level(-3))
          throw new Refusal('ahead', 'load anew')
        }
      ])
    await link.open()
    await link.settled()
    link.apply(level(-3))
    await link.settled()
    expect([posted, link.waiting, server.log.length]).toEqual([['me-1/1'], 0, 1])
    expect(link.session).toEqual(server.session)
  })
})

describe('steps beside the rows', () => {
  it('are taken back at once, whatever their answer', async () => {
    const server = new MemoryServer(small()),
      { link, changes } = page(server)
    await link.open()
    await link.settled()
    const done: string[] = []
    const before = changes()
    link.doneBeside('Keep a template', {
      about: 'template',
      undo: async () => done.push('undo'),
      redo: async () => done.push('redo')
    })
    expect(changes()).toBe(before + 1)
    expect(link.history.undos.at(-1)).toMatchObject({
      label: 'Keep a template',
      changes: [],
      beside: { about: 'template', at: '2001-09-09T01:46:40.000Z' }
    })
    expect(link.takeBack('undo')).toBe(true)
    expect(link.takeBack('undo')).toBe(false)
    expect(link.takeBack('redo')).toBe(true)
    expect(done).toEqual(['undo', 'redo'])
    expect(server.log).toEqual([])
  })
})
