// What nobody's page would send: every route answers with a sentence and the shape of all answers, changes nothing, and
// goes on working.
import { describe, expect, inject, it } from 'vitest'
import { client, printItem, wav } from './testing'

const { url } = inject('stage')
const http = client(url)

const ODD_IDS = [
  '__proto__',
  'constructor',
  'toString',
  '..',
  '%00',
  '%ED%A0%80',
  '%F0%9F%A5%81',
  'a%2Fb',
  'x'.repeat(300),
  '%20',
  "'; drop table channel; --"
]

/** Refused in words, with what was kept; never 500, never a stack. */
function refused(answer: { status: number; body: { message?: string; kept?: string } }, what: string): void {
  expect(answer.status, what).toBeGreaterThanOrEqual(400)
  expect(answer.status, what).toBeLessThan(500)
  expect(answer.body.message, what).toBeTruthy()
  expect(answer.body.message, what).not.toMatch(/\n\s+at |TypeError|node_modules|undefined|→ at/)
}

describe('ids of other letters', () => {
  it.each(ODD_IDS)('%s, in the address of every route', async id => {
    // Other tests share this server, and what they make may well be called so.
    for (const kind of ['sessions', 'templates', 'rigs'])
      await http.call('DELETE', `/api/${kind}/${id}`).catch(() => null)
    for (const [method, path, body] of [
      ['GET', `/api/sessions/${id}`],
      ['GET', `/api/sessions/${id}/edits?base=0&era=x`],
      ['GET', `/api/sessions/${id}/jobs`],
      ['GET', `/api/sessions/${id}/package`],
      ['GET', `/api/sessions/${id}/wav?medium=x`],
      [
        'POST',
        `/api/sessions/${id}/edits`,
        { base: 0, era: 'x', gesture: 'x/1', client: 'x', edit: { verb: 'setSession', args: {} } }
      ],
      ['POST', `/api/sessions/${id}/jobs`, { id: 'j1', kind: 'ping', label: 'x', args: { loop: 'x' } }],
      ['POST', `/api/sessions/${id}/tracks?id=a&file=a.wav&gesture=x/1&client=x`, wav([new Float32Array(10)])],
      ['GET', `/api/jobs/${id}`],
      ['POST', `/api/jobs/${id}/stop`],
      ['GET', `/api/templates/${id}`],
      ['GET', `/api/rigs/${id}`],
      ['PUT', `/api/templates/${id}`, {}]
    ] as [string, string, unknown][]) {
      const answer = await http.call(method, path, body).catch(() => null)
      // “..” never leaves the client: it is another address.
      if (answer && id !== '..') refused(answer, `${method} ${path}`)
    }
    expect((await http.call('GET', '/api/sessions')).status).toBe(200)
  })

  it('that are taken: a session, a channel, a template’s rows', async () => {
    const id = await http.make()
    refused(await http.call('POST', '/api/sessions', { id, name: 'Again', sampleRate: 48000 }), 'the session')
    refused(
      await http.edit(id, 'createBus', { id: 'main', name: 'Main again', role: 'main', order: 'a' }),
      'the channel'
    )
    expect((await http.session(id)).session.channel.main!.name).toBe('Main')
  })
})

describe('edits', () => {
  const channel = { table: 'channel', id: 'main' }
  it.each<[string, string, unknown]>([
    ['levels of __proto__', 'moveLevels', { ids: ['__proto__'], byDb: -3 }],
    [
      'a revert of __proto__',
      'revert',
      { label: 'x', changes: [{ table: 'channel', id: '__proto__', before: null, after: { levelDb: 3 } }] }
    ],
    [
      'a revert that takes the session’s row',
      'revert',
      { label: 'x', changes: [{ table: 'session', id: 'session', before: { id: 'session' }, after: null }] }
    ],
    [
      'a revert from nothing to nothing',
      'revert',
      { label: 'x', changes: [{ ...channel, before: null, after: null }] }
    ],
    [
      'a revert that stores a row of one field',
      'revert',
      { label: 'x', changes: [{ table: 'channel', id: 'x', before: null, after: { id: 'x' } }] }
    ],
    [
      'a revert with an unknown field',
      'revert',
      { label: 'x', changes: [{ ...channel, before: { sparkle: 1 }, after: { sparkle: 2 } }] }
    ],
    [
      'a revert that ends a feed at a track',
      'addRows',
      {
        label: 'x',
        rows: [
          { table: 'channel', row: { id: 't', name: 'T', kind: 'track' } },
          { table: 'feed', row: { id: 'f', kind: 'main', from: 'main', to: 't' } }
        ]
      }
    ],
    ['the verb constructor', 'constructor', {}],
    ['the verb __proto__', '__proto__', {}],
    ['a verb of 80 letters', 'x'.repeat(80), {}],
    ['a name with NUL', 'setChannels', { ids: ['main'], fields: { name: 'a\0b' } }],
    ['half a pair of code units', 'setChannels', { ids: ['main'], fields: { name: '\ud83e' } }],
    [
      'a label with NUL',
      'several',
      { label: 'a\0', edits: [{ verb: 'setChannels', args: { ids: ['main'], fields: { muted: true } } }] }
    ],
    [
      'a frame beyond 2³¹ days',
      'addRows',
      { label: 'x', rows: [{ table: 'medium', row: { id: 'm', name: 'M', frames: 1e15 } }] }
    ],
    [
      'a rate beyond 2³¹',
      'addRows',
      { label: 'x', rows: [{ table: 'medium', row: { id: 'm', name: 'M', sampleRate: 2 ** 40 } }] }
    ],
    [
      'a setting of 10⁹',
      'createBus',
      {
        id: 'h',
        name: 'H',
        role: 'return',
        order: 'b',
        slot: { id: 's', processor: 'reverb', params: { decayS: 1e9 } }
      }
    ]
  ])('%s: refused, nothing changed', async (_, verb, args) => {
    const id = await http.make()
    refused(await http.edit(id, verb, args), verb)
    expect((await http.session(id)).revision).toBe(0)
  })

  it.each<[string, object]>([
    ['a base beyond 2³¹', { base: 2 ** 31 }],
    ['a base that is no number', { base: '0' }],
    ['a base ahead of the server', { base: 7 }],
    ['another era', { era: 'never' }],
    ['a gesture with NUL', { gesture: 'a\0' }],
    ['a gesture of a job', { gesture: 'job 1' }],
    ['a gesture of 200 letters', { gesture: 'x'.repeat(200) }]
  ])('%s is refused', async (_, more) => {
    const id = await http.make()
    refused(await http.edit(id, 'setSession', { beatsPerBar: 3 }, more), JSON.stringify(more))
    expect((await http.session(id)).revision).toBe(0)
  })

  it('edits in edits in edits, and lists in lists in lists, are refused', async () => {
    const id = await http.make(),
      { era } = await http.session(id),
      deep = 30_000
    for (const [open, inside, close] of [
      ['{"verb":"several","args":{"label":"x","edits":[', '{"verb":"setSession","args":{"beatsPerBar":3}}', ']}}'],
      ['[', '', ']']
    ]) {
      const edit = open!.repeat(deep) + inside + close!.repeat(deep)
      const body = `{"base":0,"era":"${era}","gesture":"deep/1","client":"x","edit":${open === '[' ? `{"verb":"setChannels","args":${edit}}` : edit}}`
      refused(await http.call('POST', `/api/sessions/${id}/edits`, new TextEncoder().encode(body)), open!)
    }
    expect((await http.session(id)).revision).toBe(0)
  })

  it('one gesture that arrives three times, once on a base of before, is stored once', async () => {
    const id = await http.make(),
      gesture = `twice/${Date.now()}`
    const first = await http.edit(id, 'moveLevels', { ids: ['main'], byDb: -3 }, { gesture, base: 0 })
    expect(first.body).toMatchObject({ done: true, edits: [{ revision: 1, gesture }] })
    expect((await http.edit(id, 'moveLevels', { ids: ['main'], byDb: -3 }, { gesture, base: 0 })).body).toMatchObject({
      done: true,
      edits: [{ revision: 1 }]
    })
    expect((await http.edit(id, 'moveLevels', { ids: ['main'], byDb: -3 }, { gesture })).body).toMatchObject({
      done: true,
      edits: []
    })
    expect(await http.session(id)).toMatchObject({ revision: 1, session: { channel: { main: { levelDb: -3 } } } })
  })
})

describe('jobs, audio and packages', () => {
  it('a print of nothing, a ping of no loop, a job of no session, a job twice', async () => {
    const id = await http.make()
    const job = (session: string, body: object) =>
      http.call('POST', `/api/sessions/${session}/jobs`, { id: `h-${id}`, label: 'x', ...body })
    refused(await job('nowhere', { kind: 'ping', args: { loop: 'x' } }), 'no session')
    refused(await job(id, { kind: 'print', args: { items: [], seed: 1 } }), 'no items')
    refused(await job(id, { kind: 'print', args: { items: [printItem('a\0')], seed: 1 } }), 'NUL')
    refused(await job(id, { kind: 'print', args: { items: [printItem('main')], seed: 2 ** 40 } }), 'seed')
    refused(await job(id, { kind: 'constructor', args: {} }), 'no kind')
    expect((await job(id, { kind: 'ping', args: { loop: '__proto__' } })).status).toBe(200)
    expect((await job(id, { kind: 'ping', args: { loop: '__proto__' } })).status).toBe(200)
    expect((await http.call<unknown[]>('GET', `/api/sessions/${id}/jobs`)).body).toHaveLength(1)
  })

  it('audio that is not there, files with odd names, sums that are none', async () => {
    const id = await http.make()
    refused(await http.call('GET', `/api/sessions/${id}/wav?medium=constructor`), 'medium')
    refused(
      await http.call('POST', '/api/media/segments', {
        parts: [{ sha256: 'f'.repeat(64), legs: 1, from: 2 ** 53, frames: 1 }]
      }),
      'segment'
    )
    refused(await http.call('POST', '/api/media/peaks', { sha256: ['f'.repeat(64)] }), 'peaks')
    refused(await http.upload(id, 'bad%00', 'x.wav', wav([new Float32Array(10)])), 'track id')
    refused(await http.upload(id, 'a1', 'a\0.wav', wav([new Float32Array(10)])), 'file name')
    refused(await http.upload(id, 'a2', 'folder', new Uint8Array()), 'nothing')
    expect((await http.session(id)).revision).toBe(0)
  })
})
