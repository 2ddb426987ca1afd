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
})
