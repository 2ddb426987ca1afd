// Photographs of units: kept once, shown as they were, gone with nobody who shows them, and in packages.
import { createHash, randomBytes } from 'node:crypto'
import { afterAll, beforeAll, expect, inject, it } from 'vitest'
import yauzl from 'yauzl'
import yazl from 'yazl'
import { connectStore, type Sql } from './store/connect'
import { collectGarbage } from './store/media'
import { client } from './testing'

const { url, database } = inject('stage')
const http = client(url)
let id: string, sql: Sql
/** What begins and ends as a JPEG does. */
const jpeg = (bytes: number) =>
  Buffer.concat([Buffer.from([0xff, 0xd8, 0xff, 0xe0]), randomBytes(bytes - 6), Buffer.from([0xff, 0xd9])])
const keep = async (bytes: Buffer) =>
  http.call<{ sha256: string }>('POST', '/api/photos', { jpeg: bytes.toString('base64') })
const fetched = (sha256: string) => fetch(`${url}/api/photos/${sha256}`)

beforeAll(async () => {
  sql = connectStore(database, 2)
  id = await http.make()
  await http.edit(id, 'addRows', {
    label: 'a room',
    rows: [
      { table: 'rig', row: { id: 'loft', name: 'Loft' } },
      { table: 'unit', row: { id: 'amp', rig: 'loft', name: 'Amp', model: 'tube-amplifier' } }
    ]
  })
})
afterAll(async () => {
  await sql?.end()
})

it('a photograph comes back as it was, by the hash of its bytes, however often it is kept', async () => {
  const bytes = jpeg(512 * 1024)
  for (let n = 0; n < 2; n++) {
    const { status, body } = await keep(bytes)
    expect(status).toBe(200)
    expect(body.sha256).toBe(createHash('sha256').update(bytes).digest('hex'))
  }
  const answer = await fetched(createHash('sha256').update(bytes).digest('hex'))
  expect(answer.headers.get('content-type')).toBe('image/jpeg')
  expect(answer.headers.get('x-content-type-options')).toBe('nosniff')
  expect(answer.headers.get('cache-control')).toContain('immutable')
  expect(Buffer.from(await answer.arrayBuffer()).equals(bytes)).toBe(true)
})

it('what is none, is not whole or is too large is refused in words; one that is not there, too', async () => {
  const whole = jpeg(1000)
  const cases: [Buffer | string, RegExp][] = [
    [Buffer.from('GIF89a'), /A photograph is a JPEG/],
    [whole.subarray(0, 999), /or it is not whole/],
    [Buffer.alloc(0), /A photograph is a JPEG/],
    [jpeg(512 * 1024 + 3), /at most 512 kB|too big|at most/i]
  ]
  for (const [bytes, reason] of cases) {
    const { status, body } = await keep(Buffer.from(bytes as Buffer))
    expect(status).toBeGreaterThanOrEqual(400)
    expect(status).toBeLessThan(500)
    expect((body as unknown as { message: string }).message).toMatch(reason)
  }
  const odd = await http.call<{ message: string }>('POST', '/api/photos', { jpeg: 'not base64!' })
  expect(odd.status).toBe(422)
  expect((await fetched('a'.repeat(64))).status).toBe(404)
  expect((await fetched('..%2f..%00')).status).toBeLessThan(500)
})

it('goes along in a package, and what a package lacks is said and left out', async () => {
  const first = (await keep(jpeg(3000))).body.sha256,
    second = (await keep(jpeg(4000))).body.sha256
  await http.edit(id, 'setUnit', {
    id: 'amp',
    fields: { photos: [{ sha256: first, about: 'the back' }, { sha256: second }] }
  })
  const zip = Buffer.from(await (await fetch(`${url}/api/sessions/${id}/package`)).arrayBuffer())
  const entries = await unzipped(zip)
  expect([...entries.keys()].filter(name => name.startsWith('photos/'))).toEqual(
    [first, second].sort().map(s => `photos/${s}.jpg`)
  )
  await sql`delete from photo where sha256 in (${first}, ${second})`
  const bring = async (file: Buffer, to: string) => {
    const answer = await fetch(`${url}/api/packages?id=${to}`, { method: 'POST', body: new Uint8Array(file) })
    expect(answer.status).toBe(200)
    return (await answer.json()) as { notes: string[] }
  }
  const whole = `photos-${process.pid}`
  expect((await bring(zip, whole)).notes).toEqual([])
  expect((await http.session(whole)).session.unit.amp!.photos).toEqual([
    { sha256: first, about: 'the back' },
    { sha256: second, about: '' }
  ])
  expect(Buffer.from(await (await fetched(first)).arrayBuffer()).equals(entries.get(`photos/${first}.jpg`)!)).toBe(true)

  entries.delete(`photos/${first}.jpg`)
  entries.set(`photos/${second}.jpg`, jpeg(4000))
  const { notes } = await bring(await zipped(entries), `${whole}-less`)
  expect(notes).toEqual(['2 photographs of “Amp” are not in the package'])
  expect((await http.session(`${whole}-less`)).session.unit.amp!.photos).toEqual([])
})

it('that nobody shows is collected after thirty days; that somebody shows, or showed, is not', async () => {
  const shown = (await keep(jpeg(2000))).body.sha256,
    taken = (await keep(jpeg(2001))).body.sha256,
    stray = (await keep(jpeg(2002))).body.sha256,
    young = (await keep(jpeg(2003))).body.sha256
  await http.edit(id, 'setUnit', { id: 'amp', fields: { photos: [{ sha256: shown }, { sha256: taken }] } })
  await http.edit(id, 'setUnit', { id: 'amp', fields: { photos: [{ sha256: shown }] } })
  await sql`update photo set made_at = now() - interval '31 days' where sha256 in (${shown}, ${taken}, ${stray})`
  await collectGarbage(sql)
  const left = await sql<
    { sha256: string }[]
  >`select sha256 from photo where sha256 in (${shown}, ${taken}, ${stray}, ${young})`
  // What was taken away can be brought back by undo.
  expect(new Set(left.map(p => p.sha256))).toEqual(new Set([shown, taken, young]))
})

const unzipped = (zip: Buffer) =>
  new Promise<Map<string, Buffer>>((done, fail) => {
    yauzl.fromBuffer(zip, { lazyEntries: true }, (error, file) => {
      if (error) return fail(error)
      const out = new Map<string, Buffer>()
      file.on('entry', (entry: yauzl.Entry) =>
        file.openReadStream(entry, (wrong, stream) => {
          if (wrong) return fail(wrong)
          const pieces: Buffer[] = []
          stream.on('data', (piece: Buffer) => pieces.push(piece))
          stream.on('end', () => {
            out.set(entry.fileName, Buffer.concat(pieces))
            file.readEntry()
          })
        })
      )
      file.on('end', () => done(out))
      file.readEntry()
    })
  })
const zipped = async (entries: Map<string, Buffer>) => {
  const zip = new yazl.ZipFile()
  for (const [name, bytes] of entries) zip.addBuffer(bytes, name, { compress: false })
  zip.end()
  const pieces: Buffer[] = []
  for await (const piece of zip.outputStream) pieces.push(piece as Buffer)
  return Buffer.concat(pieces)
}
