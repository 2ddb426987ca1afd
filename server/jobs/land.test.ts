// Where prints come to lie when the session has changed while their pass ran.
import { describe, expect, it } from 'vitest'
import { applyEdit } from '@nullet/core/edits/apply'
import type { MadePrint, PrintItem } from '@nullet/core/print/printRows'
import { demoLike } from '@nullet/core/testing/demoLike'
import { printOn, takesOf, type Session } from '@nullet/core/session/session'
import { land } from './land'

const item = (source: string): PrintItem => ({
  source,
  tap: 'post',
  print: `p-${source}`,
  track: `t-${source}`,
  clip: `c-${source}`,
  medium: `m2-${source}`,
  name: `Print of ${source}`,
  order: 'z',
  takesOver: true,
  share: null,
  through: null,
  pass: 0,
  take: null
})
const made: MadePrint = {
  layout: ['L', 'R'],
  sha256: 'a'.repeat(64),
  frames: 100,
  peakDb: -3,
  loudnessLufs: null,
  sampleRate: 48000,
  fingerprint: 'f',
  parts: {},
  seed: 1,
  startFrame: 0,
  latencySamples: 0,
  residualDb: null,
  verified: 'identical',
  notes: [],
  faults: [],
  printedAt: ''
}
const then = demoLike().session
function after(verb: string, args: object): Session {
  return applyEdit(then, { verb, args }).session
}
const stored = (now: Session, landed: ReturnType<typeof land>) =>
  applyEdit(now, { verb: 'several', args: { label: 'Prints', edits: landed.edits } }).session

describe('prints', () => {
  it('lie as they were meant to where nothing stands in the way', () => {
    const landed = land(then, then, [{ item: item('drums'), made }])
    expect(landed.notes).toEqual([null])
    expect(stored(then, landed).print['p-drums']).toMatchObject({ takesOver: true })
  })

  it('some of whose destinations are gone go to the others, and say so; other prints are not touched by that', () => {
    const now = after('removeChannels', { ids: ['hall'] })
    const landed = land(now, then, [
      { item: item('singers'), made },
      { item: item('drums'), made }
    ])
    expect(landed.notes).toEqual([
      expect.stringMatching(/“Print of singers” goes only where there is still something/),
      null
    ])
    const session = stored(now, landed)
    expect(session.print['p-singers']).toMatchObject({ takesOver: true })
    expect(
      Object.values(session.feed)
        .filter(f => f.from === 't-singers')
        .map(f => f.to)
    ).toEqual(['main'])
  })

  it('whose source is gone are kept as recordings, and say so', () => {
    const now = after('removeChannels', { ids: ['singers'] })
    const landed = land(now, then, [{ item: item('singers'), made }])
    expect(landed.notes).toEqual([expect.stringMatching(/what it was printed from is not in the session any more/)])
    const session = stored(now, landed)
    expect([session.channel['t-singers']!.name, Object.keys(session.print)]).toEqual(['Print of singers', []])
  })

  it('whose own ids are taken are refused with the reason', () => {
    const now = after('createBus', { id: 't-drums', name: 'Taken', role: 'submix', order: 'z' })
    expect(() => land(now, then, [{ item: item('drums'), made }])).toThrow(
      /There is a channel with the id “t-drums” already/
    )
  })

  describe('made again as a take', () => {
    const again = (n: number): PrintItem => ({
      ...item('drums'),
      print: `p${n}`,
      clip: `c${n}`,
      medium: `m${n}`,
      name: `Print ${n}`,
      take: { id: `take${n}`, name: `Take ${n}`, former: { id: 'take1', name: 'Take 1' } }
    })
    const once = stored(then, land(then, then, [{ item: item('drums'), made }]))

    it('lie on the same track, are heard, and leave the one before as it was', () => {
      const twice = stored(once, land(once, once, [{ item: again(2), made }]))
      expect(takesOf(twice, 't-drums').map(t => t.name)).toEqual(['Take 1', 'Take 2'])
      expect(twice.channel['t-drums']).toMatchObject({ take: 'take2', parked: false })
      expect(Object.values(twice.print).map(p => [p.id, twice.clip[p.clip!]!.take])).toEqual([
        ['p-drums', 'take1'],
        ['p2', 'take2']
      ])
      const feeds = (s: Session) => Object.keys(s.feed).length
      expect(feeds(twice)).toBe(feeds(once))
      const thrice = stored(twice, land(twice, twice, [{ item: again(3), made }]))
      expect(takesOf(thrice, 't-drums').map(t => t.name)).toEqual(['Take 1', 'Take 2', 'Take 3'])
      expect(printOn(thrice, 't-drums')!.id).toBe('p3')
    })

    it('lie on a track of their own where the one they were made for has gone or has other legs, and say so', () => {
      const gone = applyEdit(once, { verb: 'removeChannels', args: { ids: ['t-drums'] } }).session
      const landed = land(gone, once, [{ item: again(2), made }])
      expect(landed.notes[0]).toMatch(/“Print 2” lies on a track of its own/)
      expect(stored(gone, landed).print.p2).toMatchObject({ channel: 't-drums', takesOver: true })
      const wider = land(once, once, [{ item: again(2), made: { ...made, layout: ['L', 'R', 'C'] } }])
      expect(wider.notes[0]).toMatch(/lies on a track of its own.*“Print of drums” stood in this place before/)
      expect(stored(once, wider).channel['t-drums']!.parked).toBe(true)
    })

    it('several in one pass, each a take', () => {
      const landed = land(
        once,
        once,
        [2, 3].map(n => ({ item: again(n), made }))
      )
      expect(takesOf(stored(once, landed), 't-drums')).toHaveLength(3)
    })
  })
})
