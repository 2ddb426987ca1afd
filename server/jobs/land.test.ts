// Where prints come to lie when the session has changed while their pass ran.
import { describe, expect, it } from 'vitest'
import { applyEdit } from '@nullet/core/edits/apply'
import type { MadePrint, PrintItem } from '@nullet/core/print/printRows'
import { demoLike } from '@nullet/core/testing/demoLike'
import type { Session } from '@nullet/core/session/session'
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
  takesOver: true
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
  printedAt: ''
}
const then = demoLike().session
function after(verb: string, args: object): Session {
  return applyEdit(then, { verb, args }).session
}
const stored = (now: Session, landed: ReturnType<typeof land>) =>
  applyEdit(now, { verb: 'addRows', args: { label: 'Prints', rows: landed.rows } }).session

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
})
