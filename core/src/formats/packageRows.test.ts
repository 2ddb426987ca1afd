// What a session package may hold and what it may not, row by row; and how its files are called.
import { describe, expect, it } from 'vitest'
import { Refusal } from '../foundation/refusal'
import { Sketch } from '../testing/sketch'
import { TABLE_NAMES } from '../session/rows'
import { rows } from '../session/session'
import { audioName, MOST_ROWS, PackageDocument, readPackage, writePackage } from './package'

const TRACK = { id: 't', name: 'Kora', kind: 'track', role: 'track', layout: ['M'] }
const read = (tables: object) => readPackage(JSON.stringify({ nullet: 1, session: { name: 'Lake' }, ...tables }))
function refusal(text: string | object): Refusal {
  try {
    if (typeof text === 'string') readPackage(text)
    else read(text)
  } catch (error) {
    expect(error).toBeInstanceOf(Refusal)
    expect((error as Refusal).toJSON()).toMatchObject({ error: 'badPackage', kept: 'Nothing was imported.' })
    return error as Refusal
  }
  throw new Error('it was read')
}

describe('a document', () => {
  it('of the smallest kind is a session with its name', () => {
    const { session, notes } = read({})
    expect(session.session.session!.name).toBe('Lake')
    expect(notes).toEqual([])
    expect(TABLE_NAMES.filter(t => t !== 'session').flatMap(t => rows(session, t))).toEqual([])
    expect(refusal('{"nullet":1}').message).toMatch(/^The session “session” is not right: name/)
  })

  it('may begin with a byte order mark', () => {
    expect(readPackage('\ufeff{"nullet":1,"session":{"name":"Lake"}}').session.session.session!.name).toBe('Lake')
  })

  it.each([
    ['{"nullet": 1', /^session\.json is not JSON: /],
    ['7', /does not say "nullet": 1/],
    ['null', /does not say "nullet": 1/],
    ['[]', /does not say "nullet": 1/],
    ['"nullet"', /does not say "nullet": 1/],
    ['{}', /does not say "nullet": 1/],
    ['{"nullet":2}', /does not say "nullet": 1: it is not a session package of a version known here/],
    ['{"nullet":1,"fader":[]}', /^session\.json has a table “fader” that is not known; the tables are session, /],
    ['{"nullet":1,"channel":{}}', /^“channel” must be a list of rows/],
    ['{"nullet":1,"channel":null}', /^“channel” must be a list of rows/]
  ])('%s is refused with what is wrong', (text, reason) => {
    expect(refusal(text).message).toMatch(reason)
  })

  it('of more rows than are read is refused, of as many it is not for that', () => {
    const links = (n: number) => Array.from({ length: n }, (_, i) => ({ id: `l${i}`, name: 'L', order: 'a' }))
    expect(refusal({ link: links(MOST_ROWS + 1) }).message).toBe(
      `session.json has ${MOST_ROWS + 1} rows; at most ${MOST_ROWS} are read`
    )
    expect(refusal({ link: links(MOST_ROWS), channel: [TRACK] }).message).toContain(`${MOST_ROWS + 1} rows`)
  })

  it('has a schema that says the same', () => {
    expect(PackageDocument.safeParse({ nullet: 1, session: { name: 'Lake' } }).success).toBe(true)
    expect(PackageDocument.safeParse({ nullet: 1, session: { name: 'Lake' }, fader: [] }).success).toBe(false)
    expect(PackageDocument.safeParse({ nullet: 2, session: { name: 'Lake' } }).success).toBe(false)
  })
})

describe('rows', () => {
  it.each([
    [{ channel: [{ ...TRACK, name: 7 }] }, /^The channel “t” is not right: /, ['t']],
    [{ channel: [{ name: 'x' }] }, /^The channel “\(no id\)” is not right: /, []],
    [{ channel: [7] }, /^The channel “\(no id\)” is not right: /, []],
    [{ channel: [null] }, /^The channel “\(no id\)” is not right: /, []],
    [
      { channel: [{ ...TRACK, fader: 1 }] },
      /^The channel “t” has a field “fader” that is not known; its fields are id, /,
      ['t']
    ],
    [{ channel: [TRACK, TRACK] }, /^Two rows of “channel” have the id “t”/, ['t']],
    [{ session: { name: 7 } }, /^The session “session” is not right: /, ['session']]
  ])('%o are refused by table and id', (tables, reason, about) => {
    const said = refusal(tables)
    expect(said.message).toMatch(reason)
    expect(said.about).toEqual(about)
  })

  it('long or odd words of theirs are cut in what is said', () => {
    const { message } = refusal({ channel: [{ ...TRACK, ['x'.repeat(500)]: 1 }] })
    expect(message).toContain(`“${'x'.repeat(60)}”`)
    expect(message).not.toContain('x'.repeat(61))
  })

  it('of one id in two tables are two rows', () => {
    const { session } = read({ channel: [{ ...TRACK, id: 'same' }], medium: [{ id: 'same', name: 'Audio' }] })
    expect([session.channel.same!.name, session.medium.same!.name]).toEqual(['Kora', 'Audio'])
  })

  it('that name something that is not there are refused', () => {
    const clip = { id: 'c', channel: 't', medium: 'gone' }
    expect(refusal({ channel: [TRACK], clip: [clip] }).message).toMatch(/gone/)
  })

  it('points of envelopes come in order of time, and that is said', () => {
    const envelope = (points: unknown) => ({
      channel: [TRACK],
      envelope: [{ id: 'e', channel: 't', field: 'levelDb', points }]
    })
    const { session, notes } = read(
      envelope([
        [9, -3],
        [0, 0],
        [5, -1]
      ])
    )
    expect(session.envelope.e!.points).toEqual([
      [0, 0],
      [5, -1],
      [9, -3]
    ])
    expect(notes).toEqual(['The points of the envelope “e” were not in order of time; they are now'])
    expect(
      read(
        envelope([
          [0, 0],
          [5, -1]
        ])
      ).notes
    ).toEqual([])
    expect(refusal(envelope('none')).message).toMatch(/^The envelope “e” is not right/)
    expect(refusal(envelope([['a', 0]])).message).toMatch(/^The envelope “e” is not right/)
    expect(refusal({ envelope: 'none' }).message).toMatch(/must be a list/)
  })
})

describe('what is written', () => {
  it('has rows by id, fields as the schema has them, keys of free values in order, and no empty tables', () => {
    const k = new Sketch('Order')
    k.track('b')
    k.track('a')
    k.add('slot', { id: 's', channel: 'a', processor: 'someone/else', params: { z: 1, a: 2 } })
    const text = writePackage(k.session)
    const document = JSON.parse(text) as Record<string, { id: string }[]>
    expect(document.channel!.map(c => c.id)).toEqual(['a', 'b'])
    expect(Object.keys(document)).toEqual(['nullet', 'session', 'channel', 'slot'])
    expect(Object.keys(document.channel![0]!)[0]).toBe('id')
    expect(text).toContain('"params":{"a":2,"z":1}')
    expect(text.startsWith('{\n  "nullet": 1,\n  "session": {')).toBe(true)
    expect(text.endsWith('  ]\n}\n')).toBe(true)
    expect(text.split('\n').filter(l => l.startsWith('    {'))).toHaveLength(3)
    expect(readPackage(text).session).toEqual(k.session)
  })
})

describe('names of files', () => {
  it('are readable, safe, and each its own', () => {
    const taken = new Set<string>()
    const name = (given: string) => audioName(given, taken)
    expect(name('Kora DI.wav')).toBe('audio/Kora DI.wav')
    expect(name('kora di')).toBe('audio/kora di 2.wav')
    expect(name('KORA DI.WAV')).toBe('audio/KORA DI 3.wav')
    expect(name('../../etc/passwd')).toBe('audio/etcpasswd.wav')
    expect(name('Café «Öl»')).toBe('audio/Cafe Ol.wav')
    expect(name('…')).toBe('audio/audio.wav')
    expect(name('')).toBe('audio/audio 2.wav')
    expect(name('a.wav.wav')).toBe('audio/awav.wav')
    expect(name(`  ${'x'.repeat(100)}`)).toBe(`audio/${'x'.repeat(60)}.wav`)
    expect(name('under_score-dash')).toBe('audio/under_score-dash.wav')
  })
})
