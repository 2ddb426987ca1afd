// The server's routes against a real database: who is let in, edits in order, two tabs, what is refused.
import { describe, expect, inject, it } from 'vitest'
import { changesHash } from '@nullet/core/session/changesHash'
import { applyEdit } from '@nullet/core/edits/apply'
import { takeRig } from '@nullet/core/formats/rig'
import { takeTemplate } from '@nullet/core/formats/template'
import type { RigSummary } from '@nullet/core/session/summary'
import { client } from './testing'

const { url } = inject('stage')
const http = client(url)

describe('who is let in', () => {
  it.each([
    ['a foreign origin', { origin: 'http://elsewhere.example' }],
    ['an opaque origin', { origin: 'null' }],
    ['another port', { origin: 'http://127.0.0.1:1' }]
  ])('%s is refused', async (_, headers) => {
    for (const path of ['/api/sessions', '/api/sessions/orrin/package']) {
      expect(await http.call('GET', path, undefined, headers)).toMatchObject({
        status: 403,
        body: { error: 'foreign' }
      })
    }
  })

  it('a foreign host is refused, pages and routes alike', async () => {
    const { request } = await import('node:http')
    const status = (path: string) =>
      new Promise<number>(done =>
        request(url + path, { headers: { host: 'elsewhere.example' } }, r => {
          r.resume()
          done(r.statusCode!)
        }).end()
      )
    expect(await status('/')).toBe(403)
    expect(await status('/api/sessions')).toBe(403)
  })

  it('pages are isolated, so that memory can be shared', async () => {
    const { headers } = await fetch(`${url}/s/orrin/network`)
    expect(headers.get('cross-origin-opener-policy')).toBe('same-origin')
    expect(headers.get('cross-origin-embedder-policy')).toBe('require-corp')
  })
})

describe('edits', () => {
  const bus = (id: string) => ({ id, name: id, role: 'submix', order: 'b0' })

  it('are stored, answered with the hash that the browser computes too, and undone', async () => {
    const id = await http.make()
    const before = await http.session(id)
    const { body } = await http.edit(id, 'createBus', bus('drums'))
    const local = applyEdit(before.session, { verb: 'createBus', args: bus('drums') })
    expect(body).toMatchObject({ done: true, edits: [{ revision: 1, hash: changesHash(local.changes) }] })
    const after = await http.session(id)
    expect(after.session).toEqual(local.session)
    await http.edit(id, 'revert', {
      label: 'undo',
      changes: local.changes.map(c => ({ ...c, before: c.after, after: c.before }))
    })
    expect((await http.session(id)).session).toEqual(before.session)
  })

  it('on a stale revision are answered with what was missed, and nothing is written', async () => {
    const id = await http.make()
    await http.edit(id, 'createBus', bus('one'))
    const { status, body } = await http.edit(id, 'createBus', bus('two'), { base: 0 })
    expect(status).toBe(200)
    expect(body).toMatchObject({ done: false, edits: [{ revision: 1, label: 'New submix “one”' }] })
    expect((await http.session(id)).session.channel.two).toBeUndefined()
  })

  it('of two tabs at once are ordered: every one is stored once', async () => {
    const id = await http.make()
    const add = async (name: string) => {
      for (let base = 0; ;) {
        const { body } = await http.edit(id, 'createBus', bus(name), { base })
        if (body.done) return
        base = body.edits.at(-1)!.revision
      }
    }
    const names = Array.from({ length: 12 }, (_, i) => `bus${i}`)
    await Promise.all(names.map(add))
    const { session, revision } = await http.session(id)
    expect(revision).toBe(12)
    expect(Object.keys(session.channel).sort()).toEqual(['main', ...names].sort())
  })

  it.each([
    ['an unknown verb', 'explode', {}, 422, 'badArguments'],
    ['an unknown channel', 'setChannels', { ids: ['nobody'], fields: { muted: true } }, 404, 'notFound'],
    ['a level out of range', 'setChannels', { ids: ['main'], fields: { levelDb: 999 } }, 422, 'badArguments'],
    [
      'a name of 301 characters',
      'setChannels',
      { ids: ['main'], fields: { name: 'x'.repeat(301) } },
      422,
      'badArguments'
    ],
    ['a circle', 'setMainFeed', { ids: ['main'], to: 'main', feedIds: ['f'] }, 422, 'circle']
  ])('%s is refused with its reason', async (_, verb, args, status, error) => {
    const id = await http.make()
    expect(await http.edit(id, verb, args)).toMatchObject({ status, body: { error, kept: 'Nothing was changed.' } })
    expect((await http.session(id)).revision).toBe(0)
  })

  it('keep names as they were typed: emoji, right to left, markup, 300 characters', async () => {
    const id = await http.make()
    for (const name of [
      '🥁 drums',
      'כינור ראשון',
      '<img src=x onerror=alert(1)>',
      '“x”; drop table channel; --',
      'x'.repeat(300)
    ]) {
      await http.edit(id, 'setChannels', { ids: ['main'], fields: { name } })
      expect((await http.session(id)).session.channel.main.name).toBe(name)
    }
  })

  it('a body that is not JSON and a session that is not there are said', async () => {
    expect(await http.call('POST', '/api/sessions/orrin/edits', new TextEncoder().encode('{'))).toMatchObject({
      status: 422,
      body: { error: 'badArguments' }
    })
    expect(await http.call('GET', '/api/sessions/nowhere')).toMatchObject({
      status: 404,
      body: { error: 'noSession', about: ['nowhere'] }
    })
  })

  it('on 144 channels are stored as one', async () => {
    const id = await http.make()
    const rows = Array.from({ length: 144 }, (_, i) => ({
      table: 'channel',
      row: { id: `t${i}`, name: `Track ${i}`, kind: 'track', order: `a${String(i).padStart(3, '0')}V` }
    }))
    await http.edit(id, 'addRows', { label: 'many', rows })
    const ids = rows.map(r => r.row.id)
    await http.edit(id, 'createSubmix', {
      id: 'all',
      name: 'All',
      order: 'b0',
      members: ids,
      feedIds: Array.from({ length: 145 }, (_, i) => `f${i}`),
      to: 'main'
    })
    const { session, revision } = await http.session(id)
    expect(revision).toBe(2)
    expect(Object.values(session.feed).filter(f => f.to === 'all')).toHaveLength(144)
  })
})

describe('events', () => {
  it('tell an open page of edits that others made', async () => {
    const id = await http.make()
    const stream = await fetch(`${url}/api/events`)
    const reader = stream.body!.getReader()
    const heard = (async () => {
      let text = ''
      while (!text.includes(`"session":"${id}"`)) text += new TextDecoder().decode((await reader.read()).value)
      return text
    })()
    await http.edit(id, 'setChannels', { ids: ['main'], fields: { muted: true } })
    expect(await heard).toMatch(/event: edit\ndata: .*"revision":1/)
    await reader.cancel()
  })
})

describe('templates', () => {
  it('are kept, listed, read and removed; one that cannot be read is refused with the reason', async () => {
    const { session } = await http.session('orrin')
    const document = takeTemplate(session, 'Orrin network')
    expect(await http.call('PUT', '/api/templates/orrin-network', document)).toMatchObject({
      status: 200,
      body: { name: 'Orrin network' }
    })
    const { body: list } = await http.call<{ id: string; buses: number }[]>('GET', '/api/templates')
    expect(
      (list as unknown as { id: string; buses: number; tracks: number }[]).find(t => t.id === 'orrin-network')
    ).toMatchObject({ buses: document.rows.channel.length, tracks: document.tracks.length })
    expect((await http.call('GET', '/api/templates/orrin-network')).body).toEqual(document)
    expect(await http.call('PUT', '/api/templates/wrong', { nulletTemplate: 7 })).toMatchObject({
      status: 422,
      body: { error: 'badArguments' }
    })
    await http.call('DELETE', '/api/templates/orrin-network')
    expect(await http.call('GET', '/api/templates/orrin-network')).toMatchObject({
      status: 404,
      body: { error: 'notFound' }
    })
  })
})

describe('the rig library', () => {
  it('keeps rooms, lists what is in them, takes them back; one that cannot be read is refused with the reason', async () => {
    const { session } = await http.session('orrin')
    const document = takeRig(session, 'loft', 'Loft of the house')
    expect(await http.call('PUT', '/api/rigs/house-loft', document)).toMatchObject({ status: 200 })
    const listed = async () => (await http.call<RigSummary[]>('GET', '/api/rigs')).body as unknown as RigSummary[]
    expect((await listed()).find(r => r.id === 'house-loft')).toMatchObject({
      name: 'Loft of the house',
      units: document.rows.unit.map(u => u.name),
      outs: document.rows.port.filter(p => p.direction === 'out').length,
      ins: document.rows.port.filter(p => p.direction === 'in').length
    })
    expect((await http.call('GET', '/api/rigs/house-loft')).body).toEqual(document)
    expect(await http.call('PUT', '/api/rigs/wrong', { nulletRig: 1, name: 'x', rows: { unit: [{}] } })).toMatchObject({
      status: 422,
      body: { message: expect.stringContaining('This rig cannot be read') }
    })
    await http.call('DELETE', '/api/rigs/house-loft')
    expect(await http.call('GET', '/api/rigs/house-loft')).toMatchObject({ status: 404, body: { error: 'notFound' } })
    const { body: removed } = await http.call<{ kind: string; id: string }[]>('GET', '/api/removed')
    expect(removed).toContainEqual(expect.objectContaining({ kind: 'rig', id: 'house-loft' }))
    await http.call('POST', '/api/rigs/house-loft/restore')
    expect((await listed()).some(r => r.id === 'house-loft')).toBe(true)
  })
})

describe('links, families and clocks', () => {
  it('are stored and read back', async () => {
    const id = await http.make()
    for (const name of ['a', 'b']) await http.edit(id, 'createBus', { id: name, name, role: 'submix', order: name })
    await http.edit(id, 'setLink', { id: 'k', fields: { name: 'Both', order: 'a', members: ['a', 'b'], mutes: false } })
    await http.edit(id, 'setSession', { families: [{ family: 'Skins', colour: 5, words: ['bodhran'] }] })
    const { session } = await http.session(id)
    expect(session.link.k).toEqual({
      id: 'k',
      name: 'Both',
      order: 'a',
      members: ['a', 'b'],
      levels: true,
      mutes: false,
      solos: true
    })
    expect(session.session.session.families).toEqual([{ family: 'Skins', colour: 5, words: ['bodhran'] }])
    await http.edit(id, 'removeChannels', { ids: ['a'] })
    expect((await http.session(id)).session.link).toEqual({})
  })
})
