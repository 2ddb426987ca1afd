// The feeds as a table: the same after out and in; wrong files say what is wrong; formulas are defused.
import { describe, expect, it } from 'vitest'
import { applyEdit } from '../edits/apply'
import { generatedNetwork } from '../testing/generated'
import { Sketch } from '../testing/sketch'
import { rows, type Session } from '../session/session'
import { planCrosspointsCsv, writeCrosspointsCsv } from './crosspointsCsv'

function session(): Sketch {
  const k = new Sketch()
  k.bus('main', { role: 'main', name: 'Main' })
  k.bus('hall', { role: 'return', name: 'Hall' })
  k.main('hall', 'main', { levelDb: -1.5 })
  k.track('a', undefined, { name: '=SUM(A1)' })
  k.track('b', undefined, { name: 'Twin' })
  k.track('c', undefined, { name: 'Twin' })
  for (const t of ['a', 'b', 'c']) k.main(t, 'main')
  k.send('b', 'hall', -9.5, 'pre', { pan: -0.25 })
  k.send('c', 'hall', null)
  k.key('a', k.slot('main', 'compressor'))
  k.rig('r', { name: 'Loft' })
  k.interface('io', 'r', 2, 1)
  k.session.session.session.rig = 'r'
  k.add('feed', { id: 'p', kind: 'port', from: 'main', ports: ['io-out-1', 'io-out-2'], muted: true })
  k.add('feed', { id: 'i', kind: 'input', to: 'b', ports: ['io-in-1'] })
  return k
}
let serial = 0
const plan = (s: Session, text: string, remove = false) =>
  planCrosspointsCsv(s, text, { remove, newId: () => `new${++serial}` })
const applied = (s: Session, text: string, remove = false) =>
  plan(s, text, remove).edits.reduce((now, e) => applyEdit(now, e).session, s)
const wrong = (act: () => unknown) => {
  try {
    act()
  } catch (e) {
    return (e as Error).message
  }
  return ''
}

describe('crosspoints as a table', () => {
  it('out and in again changes nothing, also with the same names twice, ports and generated networks', () => {
    for (const s of [
      session().session,
      generatedNetwork(4, { tracks: 30, submixes: 8, returns: 3, stems: 3, sends: 60, keys: 9 }).session
    ]) {
      const p = plan(s, writeCrosspointsCsv(s), true)
      expect(p).toMatchObject({ changes: [], problems: [], edits: [], unchanged: rows(s, 'feed').length })
    }
  })

  it('brings every feed back into a session that has none', () => {
    const { session: s } = session()
    const text = writeCrosspointsCsv(s)
    const after = applied({ ...s, feed: {} }, text)
    const plain = (x: Session) =>
      rows(x, 'feed')
        .map(({ id: _, withMute: __, ...f }) => JSON.stringify(f))
        .sort()
    expect(plain(after)).toEqual(plain(s))
  })

  it('defuses names that a spreadsheet would run, and reads them back', () => {
    const { session: s } = session()
    const cells = writeCrosspointsCsv(s)
      .split(/[\r\n,]+/)
      .map(c => c.replace(/^"(.*)"$/, '$1'))
    expect(cells).toContain("'=SUM(A1)")
    expect(cells.filter(c => /^["']?[=+@]/.test(c) && !c.startsWith("'"))).toEqual([])
    expect(cells.filter(c => /^-/.test(c) && Number.isNaN(Number(c)))).toEqual([])
  })

  it('shows what would be added, changed and removed', () => {
    const { session: s } = session()
    const text = 'From,Feed,To,Level\r\nTwin [c],send,Hall,-6\r\n=SUM(A1),send,Hall,-20\r\n'
    expect(plan(s, text).changes).toEqual([
      { what: 'change', text: 'send: Twin [c] → Hall: level −∞ → −6' },
      { what: 'add', text: 'send: =SUM(A1) → Hall' }
    ])
    expect(plan(s, text, true).changes.filter(c => c.what === 'remove')).toHaveLength(rows(s, 'feed').length - 1)
    const after = applied(s, text)
    expect(rows(after, 'feed').find(f => f.from === 'c' && f.kind === 'send')?.levelDb).toBe(-6)
    expect(rows(after, 'feed').find(f => f.from === 'a' && f.kind === 'send')).toMatchObject({
      to: 'hall',
      levelDb: -20,
      tap: 'post'
    })
  })

  it('lists every line that it cannot understand, by number', () => {
    const p = plan(
      session().session,
      'from,feed,to,tap,level\r\nNobody,main,Main,,\r\nTwin,main,Main,,\r\nTwin [b],hug,Main,,\r\nTwin [b],send,Hall,sideways,\r\nTwin [b],send,Hall,,loud\r\n'
    )
    expect(p.problems.map(x => x.line)).toEqual([2, 3, 4, 5, 6])
    expect(p.problems[0].text).toMatch(/no channel “Nobody”/)
    expect(p.problems[1].text).toMatch(/“Twin” is 2 channels: write “Twin \[b\]” or “Twin \[c\]”/)
    expect(
      p.problems
        .slice(2)
        .map(x => x.text)
        .join()
    ).toMatch(/hug.*sideways.*loud/)
  })

  it('refuses a table with other columns, and says which are needed', () => {
    expect(wrong(() => plan(session().session, 'source,bus\r\n1,2\r\n'))).toMatch(
      /“from”, “feed”, “to” are missing; “source”, “bus” are not known\. Its columns are from, feed/
    )
    expect(wrong(() => plan(session().session, ''))).toMatch(/missing/)
  })

  it('is written line by line, in the order of the ids', () => {
    const k = session()
    k.rig('far', { name: 'Dome' })
    k.interface('away', 'far', 1, 1)
    k.add('feed', { id: 'q', kind: 'port', from: 'hall', ports: ['away-out-1'], levelDb: -3, pan: 0.5 })
    k.add('feed', { id: 'z', kind: 'input', to: 'a', ports: ['io-in-1', 'away-in-1'] })
    expect(writeCrosspointsCsv(k.session).split('\r\n')).toEqual([
      '\ufefffrom,feed,to,tap,level,pan,muted',
      'Hall,main,Main,post,-1.5,,',
      `"'=SUM(A1)",main,Main,post,0,,`,
      'Twin [b],main,Main,post,0,,',
      'Twin [c],main,Main,post,0,,',
      'Twin [b],send,Hall,pre,-9.5,-0.25,',
      'Twin [c],send,Hall,post,−∞,,',
      `"'=SUM(A1)",key,Compressor on Main,pre,0,,`,
      'In 1,input,Twin [b],post,0,,',
      'Main,port,Out 1 + Out 2,post,0,,yes',
      'Hall,port,Out 1 (Dome),post,-3,0.5,',
      `In 1 + In 1 (Dome),input,"'=SUM(A1)",post,0,,`,
      ''
    ])
  })

  const HEAD = 'from,feed,to,tap,level,pan,muted\r\n'
  const send = (cells: string) => plan(session().session, `${HEAD}Twin [c],send,Hall,${cells}\r\n`)
  it.each([
    ['pre,-6,0.5,yes', 'tap post → pre, level −∞ → −6, pan −∞ → 0.5, muted no → yes'],
    [' PRE , -6 dB,"0,5",X', 'tap post → pre, level −∞ → −6, pan −∞ → 0.5, muted no → yes'],
    [',"−6,25",−1,1', 'level −∞ → −6.25, pan −∞ → −1, muted no → yes'],
    [",'-6.004,1,TRUE", 'level −∞ → −6, pan −∞ → 1, muted no → yes'],
    [',-150,,', 'level −∞ → −150'],
    [',48,,', 'level −∞ → 48']
  ])('%s is read as %s', (cells, said) => {
    expect(send(cells).problems).toEqual([])
    expect(send(cells).changes).toEqual([{ what: 'change', text: `send: Twin [c] → Hall: ${said}` }])
  })
  it.each(['−∞', '-inf', 'Infinity', '-∞ dB', '∞', ''])('a level of %s is what it is', level => {
    expect(send(`,${level},,`)).toMatchObject({ changes: [], unchanged: 1, problems: [], edits: [] })
  })
  it.each([
    ['middle,,,', '“middle” is not a tap: it is one of input, pre, post'],
    [',49,,', '“49” is not a level: it goes from −150 to 48 dB, or −∞'],
    [',-151,,', '“-151” is not a level: it goes from −150 to 48 dB, or −∞'],
    [',loud,,', '“loud” is not a level: it goes from −150 to 48 dB, or −∞'],
    [',,1.01,', '“1.01” is not a pan: it goes from −1 to 1'],
    [',,-1.01,', '“-1.01” is not a pan: it goes from −1 to 1'],
    [',,left,', '“left” is not a pan: it goes from −1 to 1']
  ])('%s is told by its line', (cells, text) => {
    expect(send(cells)).toMatchObject({ problems: [{ line: 2, text }], changes: [], edits: [] })
  })

  it('leaves what has no column as it is, and a column without a mark means not muted', () => {
    const { session: s } = session()
    const port = 'Main,port,Out 1 + Out 2'
    expect(plan(s, `from,feed,to\r\n${port}\r\n`)).toMatchObject({ changes: [], unchanged: 1 })
    expect(plan(s, `from,feed,to,muted\r\n${port},\r\n`).changes).toEqual([
      { what: 'change', text: 'port: Main → Out 1 + Out 2: muted yes → no' }
    ])
    expect(plan(s, `from,feed,to\r\n\r\n${port}\r\n , , \r\n`)).toMatchObject({ unchanged: 1, problems: [] })
  })

  it('says of every end what is not there, or not alone', () => {
    const lines = [
      'Main,port,Out 9',
      'In 9,input,Twin [b]',
      'Twin [b],key,Compressor on Hall',
      'Twin [b],send,Nowhere',
      'Main,port,Out 1'
    ]
    expect(plan(session().session, `from,feed,to\r\n${lines.join('\r\n')}\r\n`)).toMatchObject({
      problems: [
        { line: 2, text: 'there is no port “Out 9”' },
        { line: 3, text: 'there is no port “In 9”' },
        { line: 4, text: 'there is no key input “Compressor on Hall”' },
        { line: 5, text: 'there is no channel “Nowhere”' }
      ],
      changes: [{ what: 'add', text: 'port: Main → Out 1' }]
    })
  })

  it('adds all feeds in one step and takes away what the file lacks in one', () => {
    const { session: s } = session()
    const p = plan(s, `${HEAD}"'=SUM(A1)",key,Compressor on Main,,-3,,\r\nTwin [c],send,Main,pre,-4,,x\r\n`, true)
    expect(p.edits.map(e => e.verb)).toEqual(['setFeeds', 'addRows', 'removeFeeds'])
    expect(p.edits[1]!.args).toMatchObject({
      label: 'Feeds from a table',
      rows: [{ table: 'feed', row: { kind: 'send', from: 'c', to: 'main', tap: 'pre', levelDb: -4, muted: true } }]
    })
    expect(p.changes.map(c => c.text)).toContain('key: =SUM(A1) → Compressor on Main: level 0 → −3')
    expect(p.changes.filter(c => c.what === 'remove').map(c => c.text)).toEqual(
      expect.arrayContaining(['input: In 1 → Twin [b]', 'port: Main → Out 1 + Out 2', 'main: Hall → Main'])
    )
  })

  it('takes each feed once where a line is there twice', () => {
    const twice = plan(session().session, 'from,feed,to\r\nHall,main,Main\r\nHall,main,Main\r\n')
    expect(twice).toMatchObject({ unchanged: 1, changes: [{ what: 'add', text: 'main: Hall → Main' }] })
  })

  it.each([
    ['from,feed', 'the column “to” is missing. Its columns are'],
    ['from', 'the columns “feed”, “to” are missing. Its'],
    [
      'from,feed,to,colour',
      '“colour” is not known. Its columns are from, feed, to, tap, level, pan, muted; the first three'
    ],
    ['from,feed,colour', 'the column “to” is missing; “colour” is not known. Its']
  ])('a table with the columns %s is none', (columns, said) => {
    expect(wrong(() => plan(session().session, `${columns}\r\nx\r\n`))).toContain(
      `This is not a table of crosspoints: ${said}`
    )
  })
})
