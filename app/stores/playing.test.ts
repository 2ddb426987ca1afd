// The transport, comparisons and jobs: what the player is told, what is said, what ends when.
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { nextTick } from 'vue'
import { demoLike } from '@nullet/core/testing/demoLike'
import { Lost } from '~/session/testing'
import { openStage, type Stage } from './testing'

let stage: Stage
async function stores() {
  const [{ useSession }, { useTransport }, { useCompare }, { useJobs }, { useNotices }, { useAnalyst }] =
    await Promise.all([
      import('./session'),
      import('./transport'),
      import('./compare'),
      import('./jobs'),
      import('./notices'),
      import('./analyst')
    ])
  return {
    store: useSession(),
    transport: useTransport(),
    compare: useCompare(),
    jobs: useJobs(),
    notices: useNotices(),
    analyst: useAnalyst()
  }
}
beforeEach(async () => {
  stage = await openStage(demoLike().session)
  stage.answers.set('/api/sessions/s/jobs', () => [])
})
const told = (name: string) => stage.heard.calls.filter(([n]) => n === name).map(([, ...args]) => args)

describe('the transport', () => {
  it('plays from where it stands, seeks while it plays, begins anew at the end, and stops', async () => {
    const { transport } = await stores()
    await transport.play(1000)
    expect([transport.playing, transport.position]).toEqual([true, 1000])
    await transport.seek(-50)
    await transport.play(transport.length + 1)
    expect(told('play').map(([from]) => from)).toEqual([1000, 0, 0])
    await transport.toggle()
    expect([transport.playing, told('stop').length]).toEqual([false, 1])
    await transport.seek(300)
    expect([transport.position, told('play').length]).toEqual([300, 3])
  })

  it('of two clicks the later one counts; what fails is said and leaves nothing playing', async () => {
    const { transport, notices } = await stores()
    await Promise.all([transport.play(10), transport.play(20)])
    expect([transport.position, transport.playing]).toEqual([20, true])
    transport.stop()
    stage.heard.fails = new Error('no output')
    await transport.play(30)
    expect([transport.playing, transport.starting, notices.list.at(-1)!.message]).toEqual([false, false, 'no output'])
  })

  it('a range is repeated while it is on; trims are handed on and forgotten with the session', async () => {
    const { store, transport } = await stores()
    transport.setRepeat({ from: 100, to: 900 })
    await transport.play(100)
    expect(told('play')[0]).toEqual([100, transport.length, { from: 100, to: 900 }])
    transport.setRepeat(null)
    expect(told('setRepeat').at(-1)).toEqual([null])
    transport.setTrims([['main', -3]])
    expect(transport.trims.get('main')).toBe(-3)
    await store.open('other')
    await nextTick()
    expect(transport.trims.size).toBe(0)
    expect(told('close')).toHaveLength(1)
  })

  it('edits reach the engine while it plays; meters rise at once, fall slowly, and keep their highest', async () => {
    const { store, transport } = await stores()
    await transport.play(0)
    store.apply('setChannels', { ids: ['low'], fields: { levelDb: -3 } })
    expect(told('change').map(([c]) => (c as { id: string }[])[0]!.id)).toEqual(['low'])
    stage.heard.meters = new Map([
      ['lufs', -14],
      ['truePeak', -1],
      ['channel/low', 0.5],
      ['gain/s1', 0.5],
      ['port/desk-out-1', 2]
    ])
    stage.frame()
    expect(transport.levels.get('channel/low')).toBeCloseTo(-6.02, 2)
    expect(transport.levels.get('gain/s1')).toBeCloseTo(-6.02, 2)
    expect([transport.now.lufs, transport.highest.get('channel/low')!.toFixed(2)]).toEqual([-14, '-6.02'])
    expect(transport.seen.peaksDb.get('port/desk-out-1')).toBeCloseTo(6.02, 2)
    stage.heard.meters = new Map([['channel/low', 0]])
    stage.frame()
    const fallen = transport.levels.get('channel/low')!
    expect(fallen).toBeGreaterThan(-90)
    expect(fallen).toBeLessThanOrEqual(-6.02)
    expect(transport.highest.get('channel/low')).toBeCloseTo(-6.02, 2)
    // What was seen at ports was seen of another network.
    store.apply('setChannels', { ids: ['low'], fields: { levelDb: -4 } })
    expect(transport.seen.peaksDb.size).toBe(0)
  })

  it('says once a play that the machine fell behind, and which channels were muted', async () => {
    const { transport, notices } = await stores()
    await transport.play(0)
    stage.heard.events!.plan({ latency: 64, readAhead: 4000, cores: 1, heavy: [] })
    stage.heard.events!.plan({ latency: 64, readAhead: 20000, cores: 1, heavy: [{ channel: 'low', share: 0.316 }] })
    stage.heard.events!.plan({ latency: 64, readAhead: 40000, cores: 1, heavy: [] })
    expect(transport.fellBehind).toEqual({ aheadMs: 417, heavy: [{ channel: 'low', share: 0.316 }] })
    stage.heard.events!.faults(['low'])
    expect(notices.list.at(-1)!.message).toMatch(/Frame drum low/)
    stage.heard.events!.ended()
    expect([transport.playing, transport.position]).toEqual([false, 0])
  })

  it('goes from one main to the next, or says that there is one', async () => {
    const { store, transport, notices } = await stores()
    transport.hearNextMain()
    expect(notices.list.at(-1)!.message).toMatch(/one main: “Main”/)
    store.apply('createBus', { id: 'second', name: 'Second', role: 'main', order: 'z' })
    transport.hearNextMain()
    expect(store.session!.session.session!.heardChannel).toBe('second')
    transport.hearNextMain()
    expect(store.session!.session.session!.heardChannel).toBe('main')
  })
})

describe('a slot compared with and without', () => {
  const slot = (store: Awaited<ReturnType<typeof stores>>['store']) =>
    Object.values(store.session!.slot).find(s => s.processor === 'reverb')!.id

  it('lowers only the louder one, is no step of undo, and ends as it began', async () => {
    const { store, compare, analyst, transport } = await stores(),
      id = slot(store)
    vi.spyOn(analyst, 'ask').mockResolvedValue({
      kind: 'sides',
      lufs: [-15, -20],
      apartDb: [
        [-Infinity, -12],
        [-12, -Infinity]
      ]
    } as never)
    await compare.beginSlots([id])
    expect([compare.side, compare.trimDb]).toEqual([0, -5])
    compare.hear(1)
    await nextTick()
    expect([compare.side, compare.trimDb, store.session!.slot[id]!.state]).toEqual([1, 0, 'bypassed'])
    expect(told('setTrims').at(-1)).toEqual([[['main', 0]]])
    compare.end()
    expect([store.session!.slot[id]!.state, compare.now, store.undos.length]).toEqual(['on', null, 0])
    expect(transport.trims.size).toBe(0)
  })

  it('blind hides the slot’s state and tells at the end which was which', async () => {
    const { store, compare, analyst, notices } = await stores(),
      id = slot(store)
    vi.spyOn(analyst, 'ask').mockResolvedValue({
      kind: 'sides',
      lufs: [-80, -20],
      apartDb: [
        [-Infinity, -12],
        [-12, -Infinity]
      ]
    } as never)
    await compare.beginSlots([id])
    expect(compare.trimDb).toBe(0)
    compare.setBlind(true)
    expect(compare.hides(id)).toBe(true)
    expect(compare.offered.map(o => o.word)).toEqual(['one', 'two'])
    compare.hear(0)
    expect(compare.offered[0]!.on).toBe(true)
    const isOn = store.session!.slot[id]!.state === 'on'
    compare.end()
    expect(notices.list.at(-1)!.message).toBe(
      isOn ? '“One” was with it, “two” was without it.' : '“One” was without it, “two” was with it.'
    )
    await compare.beginChain('voice')
    expect(notices.list.at(-1)!.message).toMatch(/No slot is on here/)
  })
})

describe('takes of a track compared', () => {
  async function withTakes() {
    const all = await stores()
    const { store, analyst } = all
    const [track, other] = Object.values(store.session!.channel).filter(c => c.kind === 'track')
    const clip = Object.values(store.session!.clip).find(c => c.channel === other!.id)!
    store.apply('several', {
      label: 'Takes',
      edits: [
        { verb: 'gatherTakes', args: { channel: track!.id, take: { id: 'k1', name: 'Take 1', order: 'a' } } },
        {
          verb: 'addRows',
          args: {
            label: 'Take 2',
            rows: [
              { table: 'take', row: { id: 'k2', channel: track!.id, name: 'Take 2', order: 'b' } },
              { table: 'clip', row: { ...clip, id: 'k2-clip', channel: track!.id, take: 'k2' } }
            ]
          }
        }
      ]
    })
    vi.spyOn(analyst, 'ask').mockResolvedValue({
      kind: 'sides',
      lufs: [-15, -18],
      apartDb: [
        [-Infinity, -12],
        [-12, -Infinity]
      ]
    } as never)
    return { ...all, id: track!.id }
  }

  it('what is tried is no step of undo; what is kept is one', async () => {
    const { store, compare, id } = await withTakes()
    const steps = store.undos.length
    await compare.beginTakes(id)
    expect(compare.offered).toEqual([
      { word: 'Take 1', lufs: -15, apartDb: -Infinity, on: true },
      { word: 'Take 2', lufs: -18, apartDb: -12, on: false }
    ])
    expect(compare.trimDb).toBe(-3)
    compare.hear(1)
    await nextTick()
    expect([store.session!.channel[id]!.take, compare.trimDb, store.undos.length]).toEqual(['k2', 0, steps])
    compare.end()
    expect([store.session!.channel[id]!.take, store.undos.length]).toEqual(['k2', steps + 1])
    store.undo()
    expect(store.session!.channel[id]!.take).toBe('k1')
  })

  it('blind hides the names until the end, and one take alone has nothing to compare', async () => {
    const { store, compare, notices, id } = await withTakes()
    await compare.beginTakes(id)
    compare.setBlind(true)
    expect([compare.hides(id), compare.offered.map(o => o.word)]).toEqual([true, ['one', 'two']])
    compare.end()
    expect(notices.list.at(-1)!.message).toMatch(/^“One” was Take [12], “two” was Take [12]\.$/)
    store.apply('removeTakes', { ids: ['k2'] })
    await compare.beginTakes(id)
    expect(notices.list.at(-1)!.message).toMatch(/has nothing to compare/)
  })
})

describe('jobs', () => {
  const job = (more: object) => ({
    id: 'j',
    kind: 'print',
    label: 'Print of drums',
    args: {},
    state: 'running',
    progress: 0.5,
    step: '',
    result: null,
    error: null,
    tries: 1,
    madeAt: '',
    ...more
  })

  it('are begun for this page, followed by what the server tells, and end once', async () => {
    const { store, jobs, notices } = await stores()
    let now = job({ id: 'j1', state: 'waiting' })
    stage.answers.set('/api/sessions/s/jobs', body => {
      now = job({ ...(body as object), state: 'waiting' })
      return now
    })
    const id = await jobs.start('print', 'Print of drums', { items: [] })
    expect(stage.requests.at(-1)![1]).toMatchObject({ kind: 'print', client: store.client })
    expect(jobs.open.map(j => j.id)).toEqual([id])
    const ended = jobs.ended(id!)
    stage.answers.set('/api/jobs/', () => now)
    now = { ...now, state: 'failed', error: { message: 'no room' } } as never
    stage.tell({ kind: 'job', session: 's', job: id! })
    expect((await ended).state).toBe('failed')
    expect(jobs.open).toEqual([])
    expect(notices.list.map(n => n.message)).toEqual(['“Print of drums”: no room'])
    expect((await jobs.ended(id!)).state).toBe('failed')
  })

  it('begin once the server has what was done before, or is known to be away', async () => {
    const { store, jobs, notices } = await stores()
    let there = -1
    stage.answers.set('/api/sessions/s/jobs', body => {
      there = stage.server.revision
      return job({ ...(body as object), state: 'waiting' })
    })
    for (const levelDb of [-1, -2, -3]) store.apply('setChannels', { ids: ['low'], fields: { levelDb } })
    expect(stage.server.revision).toBe(0)
    await jobs.start('print', 'Print of drums', { items: [] })
    expect([there, store.waitingCount]).toEqual([3, 0])
    stage.server.post = () => Promise.reject(new Lost('away'))
    stage.answers.set('/api/sessions/s/jobs', () => {
      throw new Error('the server does not answer')
    })
    store.apply('setChannels', { ids: ['low'], fields: { levelDb: -4 } })
    expect(await jobs.start('print', 'Print of drums', { items: [] })).toBeNull()
    expect(notices.list.at(-1)!.message).toBe('the server does not answer')
    expect(store.waitingCount).toBe(1)
  })

  it('that ended while nobody listened are found when the stream comes back; a stop is asked of the server', async () => {
    const { jobs, notices } = await stores()
    stage.answers.set('/api/sessions/s/jobs', () => [job({ id: 'j1' })])
    await jobs.refresh()
    const ended = jobs.ended('j1')
    stage.answers.set('/api/jobs/j1/stop', () => job({ id: 'j1', state: 'stopping' }))
    await jobs.stop('j1')
    expect(jobs.list[0]!.state).toBe('stopping')
    stage.answers.set('/api/sessions/s/jobs', () => [job({ id: 'j1', state: 'stopped' })])
    stage.tell({ kind: 'open' })
    expect((await ended).state).toBe('stopped')
    stage.answers.set('/api/jobs/j1/again', () => job({ id: 'j1', state: 'waiting' }))
    await jobs.again('j1')
    expect(jobs.open.map(j => j.state)).toEqual(['waiting'])
    stage.answers.set('/api/sessions/s/jobs', () => {
      throw new Error('the server does not answer')
    })
    expect(await jobs.start('ping', 'Ping', {})).toBeNull()
    expect(notices.list.at(-1)!.message).toBe('the server does not answer')
  })
})
