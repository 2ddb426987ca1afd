// Session packages through the server: the same bytes out as in, and zips that mean harm.
import { describe, expect, inject, it } from 'vitest'
import yazl from 'yazl'
import { whiteNoise } from '@nullet/core/testing/sound'
import { client, wav, printItem } from './testing'

const { url } = inject('stage')
const http = client(url)

async function zipOf(files: Record<string, Uint8Array | string>, options = {}): Promise<Uint8Array> {
  const zip = new yazl.ZipFile()
  for (const [name, content] of Object.entries(files)) zip.addBuffer(Buffer.from(content as Uint8Array), name, options)
  zip.end()
  const pieces: Buffer[] = []
  for await (const p of zip.outputStream) pieces.push(p as unknown as Buffer)
  return Buffer.concat(pieces)
}
let serial = 0
const bring = (bytes: Uint8Array) => {
  const id = `pack-${process.pid}-${++serial}`
  return http.call<{ id: string; notes: string[] }>('POST', `/api/packages?id=${id}`, bytes)
}
const out = async (id: string) => Buffer.from(await (await fetch(`${url}/api/sessions/${id}/package`)).arrayBuffer())
const document = (more: object = {}) =>
  JSON.stringify({
    nullet: 1,
    session: { name: 'By hand', sampleRate: 48000 },
    medium: [{ id: 'di', name: 'DI', file: 'audio/di.wav' }],
    channel: [
      { id: 'kora', name: 'Kora', kind: 'track', layout: ['M'] },
      { id: 'main', name: 'Main', kind: 'bus', role: 'main' }
    ],
    clip: [{ id: 'c', channel: 'kora', medium: 'di' }],
    feed: [{ id: 'f', kind: 'main', from: 'kora', to: 'main' }],
    ...more
  })
const audio = wav([whiteNoise(5000, 1)])

describe('a package', () => {
  it('taken out, brought in and taken out again is the same bytes', async () => {
    const first = await out('orrin')
    expect(Buffer.compare(await out('orrin'), first)).toBe(0)
    const { body } = await bring(first)
    expect(Buffer.compare(await out(body.id), first)).toBe(0)
  })

  it('with processors that are not here opens, keeps them to the last setting, and plays around them or by their print', async () => {
    const slot = {
      id: 'cloud',
      channel: 'kora',
      processor: 'granular cloud 3',
      params: { grainMs: 41.25, curve: 'wide', frozen: false },
      kept: { blob: 'AAEC', nested: [1, { deep: null }] }
    }
    const zip = await zipOf({ 'session.json': document({ slot: [slot] }), 'audio/di.wav': audio })
    const { body } = await bring(zip)
    const { session } = await http.session(body.id)
    expect(session.slot.cloud).toMatchObject(slot)
    const again = await bring(await out(body.id))
    expect((await http.session(again.body.id)).session.slot.cloud).toEqual(session.slot.cloud)
    // Untouched on its way: what the track plays is what comes out of it, centred in stereo.
    const job = await http.job(body.id, 'print', { items: [printItem('kora')], seed: 1 })
    expect(job).toMatchObject({ state: 'done', result: [{ verified: 'identical' }] })
    const printed = (await http.session(body.id)).session
    expect(printed.slot.cloud).toEqual(session.slot.cloud)
    expect(printed.medium['m-kora']!.sha256).toBe(session.medium.di!.sha256)
  })

  it('for a receiver holds the prints and what they need, and neither the room nor what it replaces', async () => {
    const id = await http.make()
    await http.upload(id, 'a', 'a.wav', audio)
    await http.edit(id, 'addRows', { label: 'a room', rows: [{ table: 'rig', row: { id: 'loft', name: 'Loft' } }] })
    await http.job(id, 'print', { items: [printItem('a')], seed: 1 })
    const given = async (form: string) => {
      const answer = await fetch(`${url}/api/sessions/${id}/package?receiver=${form}`)
      expect(answer.headers.get('content-disposition')).toContain(encodeURIComponent('for the receiver'))
      const { body } = await bring(Buffer.from(await answer.arrayBuffer()))
      return (await http.session(body.id)).session
    }
    const beside = await given('beside'),
      instead = await given('instead')
    expect(beside.channel.a).toMatchObject({ parked: true })
    expect(Object.keys(beside.rig)).toEqual(['loft'])
    expect([instead.channel.a, instead.rig.loft]).toEqual([undefined, undefined])
    expect(instead.channel['t-a']).toMatchObject({ parked: false })
    // The original's audio stays at home, unless the print is the same samples.
    const heard = Object.values(instead.medium).map(m => m.sha256)
    expect(heard).toEqual([beside.medium['m-a']!.sha256])
    expect((await fetch(`${url}/api/sessions/${id}/package?receiver=nobody`)).status).toBe(422)
  })

  it('written by hand is filled in; ids of other letters become new ones, which is said', async () => {
    const odd = document({
      channel: [{ id: '1 kora/ü', name: 'Kora', kind: 'track', layout: ['M'] }],
      clip: [{ id: 'c', channel: '1 kora/ü', medium: 'di' }],
      feed: []
    })
    const { status, body } = await bring(await zipOf({ 'session.json': odd, 'audio/di.wav': audio }))
    expect(status).toBe(200)
    const { session } = await http.session(body.id),
      [track] = Object.values(session.channel)
    expect(track).toMatchObject({ name: 'Kora', id: expect.stringMatching(/^id-[0-9a-f]+$/) })
    expect(session.clip.c!.channel).toBe(track!.id)
    expect(body.notes).toEqual([expect.stringContaining('“1 kora/ü” is “id-')])
  })

  it('with a processor that is not here keeps it, settings and all', async () => {
    const { body } = await bring(
      await zipOf({
        'session.json': document({
          slot: [{ id: 's', channel: 'kora', processor: 'Warm Box 3', params: { glow: 7 }, kept: { chunk: 'AAAA' } }]
        }),
        'audio/di.wav': audio
      })
    )
    expect((await http.session(body.id)).session.slot.s).toMatchObject({
      processor: 'Warm Box 3',
      params: { glow: 7 },
      kept: { chunk: 'AAAA' }
    })
  })

  it.each([
    ['a dangling id', { feed: [{ id: 'f', kind: 'main', from: 'kora', to: 'nobody' }] }, /“nobody”/],
    [
      'a circle',
      {
        channel: [
          { id: 'kora', name: 'Kora', kind: 'track' },
          { id: 'a', name: 'A', kind: 'bus' },
          { id: 'b', name: 'B', kind: 'bus' }
        ],
        feed: [
          { id: '1', kind: 'main', from: 'a', to: 'b' },
          { id: '2', kind: 'main', from: 'b', to: 'a' }
        ]
      },
      /circle: .*A → B|circle: .*B → A/
    ],
    ['a file outside', { medium: [{ id: 'di', name: 'DI', file: '../../etc/passwd' }] }, /outside the package/],
    [
      'audio that is missing',
      { medium: [{ id: 'di', name: 'DI', file: 'audio/no.wav' }] },
      /not a file in the package/
    ],
    ['a folder for audio', { medium: [{ id: 'di', name: 'DI', file: 'audio' }] }, /not a file in the package/],
    ['a dot for audio', { medium: [{ id: 'di', name: 'DI', file: '.' }] }, /not a file in the package/],
    [
      'one loop in two slots',
      {
        rig: [{ id: 'r', name: 'R' }],
        loop: [{ id: 'l', rig: 'r', name: 'Amp' }],
        slot: ['a', 'b'].map(id => ({ id, channel: id === 'a' ? 'kora' : 'main', processor: 'loop', loop: 'l' }))
      },
      /“Amp” is in use on “Kora”/
    ],
    ['a main feed from nowhere', { feed: [{ id: 'f', kind: 'main', to: 'main' }] }, /lacks a source/],
    ['a main feed into a track', { feed: [{ id: 'f', kind: 'main', from: 'main', to: 'kora' }] }, /ends at a track/]
  ])('with %s is refused, and nothing is imported', async (_, more, message) => {
    const before = (await http.call<unknown[]>('GET', '/api/sessions')).body.length
    const answer = await bring(await zipOf({ 'session.json': document(more), 'audio/di.wav': audio }))
    expect(answer.status).toBe(422)
    expect(answer.body.message).toMatch(message)
    expect(answer.body.kept).toBe('Nothing was imported.')
    expect((await http.call<unknown[]>('GET', '/api/sessions')).body).toHaveLength(before)
  })

  it('that is no zip, or whose entries climb out of it, is refused', async () => {
    expect((await bring(new TextEncoder().encode('no zip at all'))).body.message).toMatch(/neither a folder nor a zip/)
    const good = Buffer.from(await zipOf({ 'session.json': document(), 'xx/yy/evil.txt': 'x' }, { compress: false }))
    const climbing = Buffer.from(good.toString('latin1').replaceAll('xx/yy/evil.txt', '../../evil.txt'), 'latin1')
    expect((await bring(climbing)).body.message).toMatch(/cannot be read|outside/)
  })

  it('that unpacks to far more than audio could is refused before it is unpacked', async () => {
    const bomb = await zipOf({ 'session.json': document(), 'audio/di.wav': new Uint8Array(80_000_000) })
    expect(bomb.length).toBeLessThan(200_000)
    expect((await bring(bomb)).body.message).toMatch(/would unpack to 80000000 bytes/)
  })
})
