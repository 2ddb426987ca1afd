// A network proposed from families: what is proposed can be applied, makes everything heard, and is not proposed twice.
import { describe, expect, it } from 'vitest'
import { applyEdit } from '../edits/apply'
import { runChecks } from '../checks/table'
import { whySilent } from '../graph/whySilent'
import { Sketch } from '../testing/sketch'
import { rows, type Session } from '../session/session'
import { acceptProposals, proposeNetwork, type Proposal } from './propose'

let serial = 0
const propose = (s: Session) => proposeNetwork(s, () => `p${++serial}`)
const accept = (s: Session, list: Proposal[], which = list) =>
  applyEdit(s, acceptProposals(list, new Set(which.map(p => p.id)))!).session
const bus = (s: Session, name: string) => rows(s, 'channel').find(c => c.name === name && c.kind === 'bus')

function tracks(names: string[]): Session {
  const k = new Sketch()
  names.forEach((name, i) => {
    k.medium(`m${i}`, 1, 100)
    k.track(`t${i}`, `m${i}`, { name })
  })
  return k.session
}
const BAND = ['Kick in', 'Snare top', 'Overheads', 'Choir 1', 'Choir 2', 'Narrator', 'Kora DI', 'something']

describe('a proposed network', () => {
  it('gathers families into submixes and stems, with returns, sends and colours', () => {
    const s = tracks(BAND),
      list = propose(s),
      after = accept(s, list)
    expect(
      rows(after, 'channel')
        .filter(c => c.kind === 'bus')
        .map(c => `${c.role} ${c.name}`)
        .sort()
    ).toEqual([
      'main Main',
      'return Hall',
      'return Room',
      'stem Stem Choir',
      'stem Stem Drums',
      'stem Stem Narration',
      'stem Stem Plucked',
      'submix Choir',
      'submix Drums'
    ])
    expect(after.channel.t0).toMatchObject({ family: 'Kick', familyGuessed: true, colour: bus(after, 'Drums')!.colour })
    for (const i of [0, 1, 2, 3, 4, 5, 6]) expect(whySilent(after, `t${i}`), BAND[i]).toEqual([])
    // The one of no known family stays where it was: nowhere.
    expect(runChecks(after).map(f => f.check)).toEqual(['trackNowhere'])
  })

  it('has a reason for each, and says what each needs', () => {
    const list = propose(tracks(BAND))
    for (const p of list) {
      expect(p.label).not.toBe('')
      expect(p.reason).not.toBe('')
      for (const n of p.needs) expect(list.map(x => x.id)).toContain(n)
    }
    expect(list.find(p => p.label === 'Stem “Drums”')!.needs).toHaveLength(2)
  })

  it('accepted in part brings what that part needs, and nothing else', () => {
    const s = tracks(BAND),
      list = propose(s)
    const after = accept(
      s,
      list,
      list.filter(p => p.label === 'Stem “Choir”')
    )
    expect(
      rows(after, 'channel')
        .filter(c => c.kind === 'bus')
        .map(c => c.name)
        .sort()
    ).toEqual(['Choir', 'Main', 'Stem Choir'])
    expect(after.channel.t0.family).toBe('')
    expect(acceptProposals(list, new Set())).toBeNull()
  })

  it('accepted once leaves nothing to propose', () => {
    const s = tracks(BAND)
    expect(propose(accept(s, propose(s)))).toEqual([])
  })

  it('takes in tracks that come later, into the buses that are there', () => {
    const s = tracks(BAND)
    const k = new Sketch()
    k.track('late', undefined, { name: 'Snare bottom' })
    const after = accept(s, propose(s))
    const grown = { ...after, channel: { ...after.channel, late: { ...k.session.channel.late, order: 'zz' } } }
    const list = propose(grown)
    expect(list.map(p => p.group)).toEqual(['families', 'submixes', 'colours'])
    expect(rows(accept(grown, list), 'feed').find(f => f.from === 'late')?.to).toBe(bus(after, 'Drums')!.id)
  })

  it('leaves clicks and references where they are', () => {
    const s = tracks(['Click', 'Click 2', 'Rough mix', 'Ref mix'])
    expect(propose(s).map(p => p.group)).toEqual(['families', 'families', 'main'])
  })

  it('uses the session’s own words for families', () => {
    const s = tracks(['bodhran', 'bodhran far'])
    expect(propose(s).find(p => p.group === 'families')?.label).toMatch(/Percussion$/)
    s.session.session.families = [{ family: 'Skins', colour: 5, words: ['bodhran'] }]
    expect(bus(accept(s, propose(s)), 'Skins')).toMatchObject({ colour: 5, role: 'submix' })
  })
})
