// Long work: prints that are exact and verified, pings, stops, workers that die.
import { createHash } from 'node:crypto'
import { describe, expect, inject, it } from 'vitest'
import { compile } from '@nullet/core/compile/compile'
import { PlanStream, renderWhole } from '@nullet/core/run/stream'
import { rows } from '@nullet/core/session/session'
import { raise, startServer, startWorker, stopProcess } from '../e2e/support/stage'
import { interleave } from '../host/wavFile'
import { connectStore } from './store/connect'
import { DatabaseMedia } from './store/mediaReader'
import { client, printItem, waitFor, wav } from './testing'
import { whiteNoise } from '@nullet/core/testing/sound'

const { url, database } = inject('stage')
const http = client(url)

async function small(): Promise<string> {
  const id = await http.make()
  await http.upload(id, 'a', 'a.wav', wav([whiteNoise(96000, 1, 0.2)]))
  await http.upload(id, 'b', 'b.wav', wav([whiteNoise(96000, 2, 0.2)]))
  await http.edit(id, 'createSubmix', {
    id: 'mix',
    name: 'Mix',
    order: 'b0',
    members: ['a', 'b'],
    feedIds: ['1', '2', '3'],
    to: 'main'
  })
  await http.edit(id, 'addSlot', {
    id: 'eq',
    channel: 'mix',
    processor: 'equaliser',
    params: { kind1: 'bell', db1: 6 },
    order: 'a0'
  })
  await http.edit(id, 'addSlot', { id: 'comp', channel: 'mix', processor: 'compressor', order: 'a1' })
  return id
}

describe('a print', () => {
  it('is the same samples as a render here, takes its source’s place, and says so', async () => {
    const id = await small()
    const before = (await http.session(id)).session
    const job = await http.job(id, 'print', { items: [printItem('mix')], seed: 7 })
    expect(job).toMatchObject({
      state: 'done',
      progress: 1,
      error: null,
      result: [{ track: 't-mix', verified: 'identical', residualDb: null }]
    })
    const { session } = await http.session(id)
    expect(session.print['p-mix']).toMatchObject({
      source: 'mix',
      tap: 'post',
      verified: 'identical',
      takesOver: true,
      seed: 7
    })
    expect(rows(session, 'feed').filter(f => f.from === 't-mix')).toMatchObject([{ kind: 'main', to: 'main' }])
    const sql = connectStore(database, 2)
    const plan = compile(before, { taps: [{ channel: 'mix', tap: 'post' }], seed: 7 })
    const audio = (
      await renderWhole(
        new PlanStream(plan, before, await DatabaseMedia.of(sql, before)),
        { from: 0, frames: session.medium['m-mix'].frames },
        100
      )
    ).get('mix@post')!
    await sql.end()
    expect(createHash('sha256').update(interleave(audio)).digest('hex')).toBe(session.medium['m-mix'].sha256)
  })

  it('made again stands in for the print before it, which is parked: the main stays as loud, and one undo brings it back', async () => {
    const id = await small()
    const main = async () => {
      const { session } = await http.session(id)
      const sql = connectStore(database, 2)
      const plan = compile(session, { taps: [{ channel: 'main', tap: 'post' }], seed: 7 })
      const media = await DatabaseMedia.of(sql, session)
      const audio = await renderWhole(new PlanStream(plan, session, media), { from: 0, frames: 20_000 }, 100)
      await sql.end()
      return createHash('sha256')
        .update(interleave(audio.get('main@post')!))
        .digest('hex')
    }
    await http.job(id, 'print', { items: [printItem('mix')], seed: 7 })
    const once = await main()
    const again = { print: 'p-2', track: 't-2', clip: 'c-2', medium: 'm-2', name: 'mix again' }
    const job = await http.job(id, 'print', { items: [printItem('mix', again)], seed: 7 })
    expect((job.result as { notes: string[] }[])[0].notes.join()).toMatch(/stood in this place before and is parked/)
    const { session } = await http.session(id)
    expect([session.channel['t-mix'].parked, session.channel['t-2'].parked]).toEqual([true, false])
    expect(await main()).toBe(once)
  })

  it('of shares in one pass: their sum is the main, as it is stored', async () => {
    const id = await small()
    await http.upload(id, 'c', 'c.wav', wav([whiteNoise(96000, 3, 0.2)]))
    for (const stem of ['mix', 'rest'])
      await http.edit(id, 'createBus', {
        id: `stem-${stem}`,
        name: `Stem ${stem}`,
        role: 'stem',
        order: `s${stem}`,
        to: 'main',
        feedId: `f-${stem}`
      })
    await http.edit(id, 'setMainFeed', { ids: ['mix'], to: 'stem-mix', feedIds: ['x1'] })
    await http.edit(id, 'setMainFeed', { ids: ['c'], to: 'stem-rest', feedIds: ['x2'] })
    const shares = ['stem-mix', 'stem-rest']
    const items = shares.map(share =>
      printItem('main', { share, print: share, track: `t-${share}`, clip: `c-${share}`, medium: `m-${share}` })
    )
    const job = await http.job(id, 'print', { items: [...items, printItem('main', { takesOver: false })], seed: 7 })
    expect(job).toMatchObject({ state: 'done', result: [1, 2, 3].map(() => ({ verified: 'identical' })) })
    const { session } = await http.session(id)
    expect(rows(session, 'print').map(p => [p.share, p.takesOver])).toEqual(
      expect.arrayContaining([...shares.map(s => [s, false]), [null, false]])
    )
    const sql = connectStore(database, 2)
    const media = await DatabaseMedia.of(sql, session)
    const [one, other, all] = await Promise.all(
      ['m-stem-mix', 'm-stem-rest', 'm-main'].map(medium => media.read(medium, 0, 48_000))
    )
    await sql.end()
    const left = all![0]!.map((x, n) => x - one![0]![n]! - other![0]![n]!)
    const power = (a: Float32Array) => a.reduce((sum, x) => sum + x * x, 0)
    expect(10 * Math.log10(power(left) / power(all![0]!))).toBeLessThan(-120)
  })

  it('of what is printed already is copied, not rendered; of what has changed only that is rendered', async () => {
    const id = await small()
    const items = (n: number) =>
      ['a', 'b'].map(source =>
        printItem(source, {
          takesOver: false,
          print: `p-${source}-${n}`,
          track: `t-${source}-${n}`,
          clip: `c-${source}-${n}`,
          medium: `m-${source}-${n}`
        })
      )
    const made = async (n: number, seed: number) =>
      ((await http.job(id, 'print', { items: items(n), seed })).result as { copied: boolean; notes: string[] }[]).map(
        r => r.copied
      )
    expect(await made(1, 7)).toEqual([false, false])
    // Another seed is no matter where nothing analog is on the way.
    expect(await made(2, 8)).toEqual([true, true])
    await http.edit(id, 'setChannels', { ids: ['b'], fields: { trimDb: -3 } })
    expect(await made(3, 9)).toEqual([true, false])
    const { session } = await http.session(id)
    const hash = (medium: string) => session.medium[medium].sha256
    expect([hash('m-a-2'), hash('m-b-2')]).toEqual([hash('m-a-1'), hash('m-b-1')])
    expect(hash('m-b-3')).not.toBe(hash('m-b-1'))
    expect(session.print['p-a-2'].notes.join()).toContain('nothing has changed since “Print of a”: copied')
    expect(session.print['p-a-2'].verified).toBe('identical')
  })

  it('of several taps in one pass stores all or nothing', async () => {
    const id = await small()
    const job = await http.job(id, 'print', { items: [printItem('a'), printItem('gone')], seed: 1 })
    expect(job).toMatchObject({
      state: 'failed',
      error: { error: 'notFound', message: expect.stringContaining('Print of gone') }
    })
    expect(rows((await http.session(id)).session, 'print')).toEqual([])
    const both = await http.job(id, 'print', {
      items: [printItem('a', { tap: 'pre' }), printItem('main', { takesOver: false })],
      seed: 1,
      from: 4800,
      frames: 48000
    })
    expect(both.state).toBe('done')
    const { session } = await http.session(id)
    expect(rows(session, 'clip').find(c => c.channel === 't-a')).toMatchObject({ startFrame: 4800 })
    expect(session.medium['m-main'].frames).toBe(48000)
  })

  it('that is stopped stores nothing', async () => {
    const job = await http.job(
      'orrin',
      'print',
      {
        items: [printItem('main', { print: 'stopped', track: 'stopped', clip: 'stopped', medium: 'stopped' })],
        seed: 1
      },
      j => j.state === 'running'
    )
    await http.call('POST', `/api/jobs/${job.id}/stop`)
    const ended = await waitFor(url, job.id, j => j.state === 'stopped' || j.state === 'done')
    expect(ended.state).toBe('stopped')
    expect((await http.session('orrin')).session.channel.stopped).toBeUndefined()
  })
})

describe('a ping', () => {
  it('through a wire on the desk finds 141.37 samples, and is kept until it is applied', async () => {
    await http.edit('orrin', 'setLoop', {
      id: 'wires',
      rig: 'loft',
      fields: { name: 'Wires', outPorts: ['loft-io-out-7', 'loft-io-out-8'], inPorts: ['loft-io-in-7', 'loft-io-in-8'] }
    })
    const job = await http.job('orrin', 'ping', { loop: 'wires' })
    expect(job.result).toMatchObject({ measured: true, inverted: false, reportedSamples: 128 })
    const { loop } = (await http.session('orrin')).session
    expect(Math.abs(loop.wires.ping!.delaySamples - 141.37)).toBeLessThan(0.02)
    expect(loop.wires.applied).toBe(false)
    await http.edit('orrin', 'removeLoop', { id: 'wires' })
  })
})

describe('a worker killed in the middle of a print', () => {
  it('leaves no half track; another does the job again; a server that is started anew gives the same package', async () => {
    const stage = await raise(20)
    try {
      const own = client(stage.url)
      const job = await own.job(
        'orrin',
        'print',
        { items: [printItem('main', { takesOver: false })], seed: 1 },
        j => j.state === 'running' && j.progress > 0.05
      )
      await stopProcess(stage.worker, 'SIGKILL')
      expect((await own.session('orrin')).session.channel['t-main']).toBeUndefined()
      const next = startWorker(stage.database)
      const done = await waitFor(stage.url, job.id, j => j.state === 'done' || j.state === 'failed')
      expect(done).toMatchObject({ state: 'done', tries: 2, result: [{ verified: 'identical' }] })
      expect(rows((await own.session('orrin')).session, 'print')).toHaveLength(1)
      await stopProcess(next)

      const packed = async () =>
        Buffer.from(await (await fetch(`${stage.url}/api/sessions/orrin/package`)).arrayBuffer())
      const before = await packed()
      await stopProcess(stage.server)
      const again = await startServer(stage.database, Number(new URL(stage.url).port))
      expect(Buffer.compare(await packed(), before)).toBe(0)
      await stopProcess(again)
    } finally {
      await stage.fall()
    }
  })
})
