// Spoilt requests to every route: each is answered within its time, in the shape of all answers, and breaks nothing: no
// failure of the server, no session that breaks a rule, no audio with a hole.
import { readdirSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, inject, it } from 'vitest'
import yazl from 'yazl'
import { whiteNoise } from '@nullet/core/testing/sound'
import { takeTemplate } from '@nullet/core/formats/template'
import { spoiltBytes, spoiltJson, spoiltText } from '@nullet/core/testing/mutations'
import { firstBreach } from '@nullet/core/invariants/index'
import { Dice } from '@nullet/core/testing/generated'
import { generatedEdit, hostileEdit } from '@nullet/core/testing/generatedEdits'
import { connectStore } from './store/connect'
import { brokenMedia } from './store/media'
import { client, printItem, wav } from './testing'

const { url, database } = inject('stage')
const http = client(url)
const REQUESTS = process.env.NULLET_LONG ? 40_000 : 800

interface Sent {
  method: string
  path: string
  body?: unknown
}
const audio = wav([whiteNoise(3000, 1), whiteNoise(3000, 2)])

async function zipped(document: string, file: Uint8Array): Promise<Uint8Array> {
  const zip = new yazl.ZipFile()
  zip.addBuffer(Buffer.from(document), 'session.json')
  zip.addBuffer(Buffer.from(file), 'audio/di.wav')
  zip.end()
  const pieces: Buffer[] = []
  for await (const p of zip.outputStream) pieces.push(p as unknown as Buffer)
  return Buffer.concat(pieces)
}
const document = {
  nullet: 1,
  session: { name: 'By hand', sampleRate: 48000 },
  medium: [{ id: 'di', name: 'DI', file: 'audio/di.wav' }],
  channel: [
    { id: 'kora', name: 'Kora', kind: 'track', layout: ['L', 'R'] },
    { id: 'main', name: 'Main', kind: 'bus', role: 'main' }
  ],
  clip: [{ id: 'c', channel: 'kora', medium: 'di' }],
  feed: [{ id: 'f', kind: 'main', from: 'kora', to: 'main' }]
}

/** A good request to every route; `spoil` tells where its body is spoilt as bytes. */
const ROUTES: Record<string, (id: string, sha: string, n: number, dice: Dice) => Promise<Sent> | Sent> = {
  'health.get': () => ({ method: 'GET', path: '/api/health' }),
  'photos/index.post': () => ({
    method: 'POST',
    path: '/api/photos',
    body: { jpeg: Buffer.from([255, 216, 255, 1, 255, 217]).toString('base64') }
  }),
  'photos/[sha256].get': () => ({ method: 'GET', path: `/api/photos/${'a'.repeat(64)}` }),
  'room.get': () => ({ method: 'GET', path: '/api/room' }),
  '[...]': () => ({ method: 'POST', path: '/api/nothing/here', body: {} }),
  'jobs/[id].get': id => ({ method: 'GET', path: `/api/jobs/job-${id}` }),
  'jobs/[id]/again.post': id => ({ method: 'POST', path: `/api/jobs/job-${id}/again` }),
  'jobs/[id]/stop.post': id => ({ method: 'POST', path: `/api/jobs/job-${id}/stop` }),
  'media/peaks.post': (_, sha) => ({ method: 'POST', path: '/api/media/peaks', body: { sha256: [sha] } }),
  'media/segments.post': (_, sha) => ({
    method: 'POST',
    path: '/api/media/segments',
    body: { parts: [{ sha256: sha, legs: 2, from: 0, frames: 500 }] }
  }),
  'packages.post': async (_, __, n, dice) => ({
    method: 'POST',
    path: `/api/packages?id=spoilt-${process.pid}-${n}`,
    body: dice.chance(0.5)
      ? await zipped(JSON.stringify(spoiltJson(dice, document)), audio)
      : spoiltBytes(dice, await zipped(JSON.stringify(document), audio))
  }),
  'sessions/index.get': () => ({ method: 'GET', path: '/api/sessions' }),
  'sessions/index.post': (_, __, n) => ({
    method: 'POST',
    path: '/api/sessions',
    body: { id: `made-${process.pid}-${n}`, name: 'Made', sampleRate: 48000 }
  }),
  'sessions/[id]/index.get': id => ({ method: 'GET', path: `/api/sessions/${id}?asked=a/1,b/2` }),
  'sessions/[id]/index.delete': (_, __, n) => ({ method: 'DELETE', path: `/api/sessions/made-${process.pid}-${n}` }),
  'sessions/[id]/copy.post': (id, _, n) => ({
    method: 'POST',
    path: `/api/sessions/${id}/copy`,
    body: { id: `copy-${process.pid}-${n}`, name: 'Copy' }
  }),
  'sessions/[id]/name.put': (id, _, n) => ({
    method: 'PUT',
    path: `/api/sessions/${id}/name`,
    body: { name: `Name ${n}`, gesture: `name/${n}`, client: 'name' }
  }),
  'sessions/[id]/picture.get': id => ({ method: 'GET', path: `/api/sessions/${id}/picture` }),
  'sessions/[id]/edits.get': id => ({ method: 'GET', path: `/api/sessions/${id}/edits?base=0&era=x` }),
  'sessions/[id]/edits.post': async (id, _, n, dice) => {
    const { session, revision, era } = await http.session(id)
    let serial = 0
    const newId = () => `n${n}-${++serial}`
    return {
      method: 'POST',
      path: `/api/sessions/${id}/edits`,
      body: {
        base: revision,
        era,
        gesture: `s/${n}`,
        client: 'x',
        edit: dice.chance(0.3) ? hostileEdit(dice, session, newId) : generatedEdit(dice, session, newId)
      }
    }
  },
  'sessions/[id]/jobs.get': id => ({ method: 'GET', path: `/api/sessions/${id}/jobs` }),
  'sessions/[id]/jobs.post': (id, _, n) => ({
    method: 'POST',
    path: `/api/sessions/${id}/jobs`,
    body:
      n % 2
        ? { id: `j-${process.pid}-${n}`, kind: 'print', label: 'x', args: { items: [printItem('nobody')], seed: 1 } }
        : { id: `j-${process.pid}-${n}`, kind: 'ping', label: 'x', args: { loop: 'nobody' } }
  }),
  'sessions/[id]/log.get': id => ({ method: 'GET', path: `/api/sessions/${id}/log?hand=x&before=9` }),
  'sessions/[id]/restore.post': (_, __, n) => ({
    method: 'POST',
    path: `/api/sessions/made-${process.pid}-${n}/restore`
  }),
  'removed.get': () => ({ method: 'GET', path: '/api/removed' }),
  'sessions/[id]/package.get': id => ({ method: 'GET', path: `/api/sessions/${id}/package` }),
  'sessions/[id]/tracks.post': (id, _, n, dice) => ({
    method: 'POST',
    path: `/api/sessions/${id}/tracks?id=t${n}&file=${encodeURIComponent(spoiltText(dice, 'Take 1.wav').replace(/[\ud800-\udfff]/g, ''))}&gesture=t/${n}&client=x`,
    body: dice.chance(0.7) ? spoiltBytes(dice, audio) : audio
  }),
  'sessions/[id]/wav.get': id => ({ method: 'GET', path: `/api/sessions/${id}/wav?medium=first-m&depth=24` }),
  'templates/index.get': () => ({ method: 'GET', path: '/api/templates' }),
  'templates/[id]/index.get': id => ({ method: 'GET', path: `/api/templates/${id}` }),
  'templates/[id]/index.put': async id => ({
    method: 'PUT',
    path: `/api/templates/${id}`,
    body: takeTemplate((await http.session(id)).session, 'House')
  }),
  'templates/[id]/index.delete': id => ({ method: 'DELETE', path: `/api/templates/${id}` }),
  'templates/[id]/restore.post': id => ({ method: 'POST', path: `/api/templates/${id}/restore` }),
  'rigs/index.get': () => ({ method: 'GET', path: '/api/rigs' }),
  'rigs/[id]/index.get': id => ({ method: 'GET', path: `/api/rigs/${id}` }),
  'rigs/[id]/index.put': id => ({
    method: 'PUT',
    path: `/api/rigs/${id}`,
    body: { nulletRig: 1, name: 'Loft', rows: { unit: [{ id: 'u', rig: 'rig', name: 'Wire', model: 'wire' }] } }
  }),
  'rigs/[id]/index.delete': id => ({ method: 'DELETE', path: `/api/rigs/${id}` }),
  'rigs/[id]/restore.post': id => ({ method: 'POST', path: `/api/rigs/${id}/restore` }),
  'uploads/[key].get': id => ({ method: 'GET', path: `/api/uploads/0123456789abcdef?session=${id}&gesture=a/1` }),
  'uploads/[key].delete': () => ({ method: 'DELETE', path: '/api/uploads/0123456789abcdef' })
}
/** A stream that never ends has tests of its own. */
const ELSEWHERE = ['events.get']

/** Path and query with something else in them, still an address. */
function spoiltPath(dice: Dice, path: string): string {
  const parts = path.split(/(?<=[/=&?])/)
  const i = 3 + dice.below(Math.max(1, parts.length - 3))
  if (parts[i] === undefined) return path
  const end = /[/=&?]$/.exec(parts[i]!)?.[0] ?? ''
  parts[i] =
    encodeURIComponent(
      spoiltText(dice, parts[i]!.slice(0, parts[i]!.length - end.length)).replace(/[\ud800-\udfff]/g, '%')
    )
      .replace(/%25/g, () => (dice.chance(0.3) ? '%' : '%25'))
      .replace(/^\.+$/, 'x') + end
  return parts.join('')
}

describe('spoilt requests', () => {
  it('are known for every route there is', () => {
    const there = (readdirSync(join(process.cwd(), 'server/api'), { recursive: true }) as string[])
      .filter(f => f.endsWith('.ts'))
      .map(f => f.replace(/\.ts$/, ''))
    expect([...Object.keys(ROUTES), ...ELSEWHERE].sort()).toEqual(there.sort())
  })

  it(`${REQUESTS} of them are answered in words, and nothing breaks`, async () => {
    const statuses = new Map<number, number>(),
      sql = connectStore(database, 1),
      names = Object.keys(ROUTES)
    let id = '',
      sha = ''
    for (let n = 0; n < REQUESTS; n++) {
      const dice = new Dice(n)
      if (n % 400 === 0) {
        id = await http.make()
        await http.upload(id, 'first', 'First.wav', audio)
        sha = (await http.session(id)).session.medium['first-m']!.sha256
      }
      const name = names[n % names.length]!
      const good = await ROUTES[name]!(id, sha, n, dice)
      const path = dice.chance(0.5) ? spoiltPath(dice, good.path) : good.path
      const json = good.body !== undefined && !(good.body instanceof Uint8Array)
      const body =
        !json || dice.chance(0.15)
          ? good.body
          : dice.chance(0.7)
            ? spoiltJson(dice, good.body)
            : spoiltBytes(dice, new TextEncoder().encode(JSON.stringify(good.body)))
      const what = `request ${n}, ${name}: ${good.method} ${path.slice(0, 200)} ${json ? JSON.stringify(body)?.slice(0, 300) : ''}`
      const answer = await fetch(url + path, {
        method: good.method,
        signal: AbortSignal.timeout(20_000),
        headers: { connection: 'close', ...(json ? { 'content-type': 'application/json' } : {}) },
        body: body === undefined ? undefined : body instanceof Uint8Array ? (body as BodyInit) : JSON.stringify(body)
      }).catch((error: Error) => {
        throw new Error(`${what}: ${error.message} ${String(error.cause ?? '')}`)
      })
      statuses.set(answer.status, (statuses.get(answer.status) ?? 0) + 1)
      const text = await answer.text()
      expect(answer.status, `${what}\n${text.slice(0, 500)}`).toBeLessThan(500)
      if (answer.status >= 400 && answer.status !== 416 && path.startsWith('/api/')) {
        const said = JSON.parse(text) as { error: string; message: string; kept: string }
        expect([typeof said.error, typeof said.message, typeof said.kept], what).toEqual(['string', 'string', 'string'])
        expect(said.message, what).not.toMatch(/\n|TypeError|node_modules|undefined|\[object|→ at/)
      }
      if (n % 400 === 399) {
        expect(firstBreach((await http.session(id)).session), what).toBeNull()
        expect(await brokenMedia(sql)).toEqual([])
      }
    }
    expect((await http.call('GET', '/api/health')).status).toBe(200)
    await sql.end()
    expect(statuses.get(200)).toBeGreaterThan(REQUESTS / 10)
    expect([...statuses].filter(([s]) => s >= 400).reduce((sum, [, n]) => sum + n, 0)).toBeGreaterThan(REQUESTS / 4)
    console.log(
      `spoilt requests: ${REQUESTS}, answered ${[...statuses]
        .sort()
        .map(([s, n]) => `${s}: ${n}`)
        .join(', ')}`
    )
  }, 3_600_000)
})
