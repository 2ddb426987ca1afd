// Stems in two rooms: each has its own ports, one room sounds at a time, and the stems never change.
import { describe, expect, it } from 'vitest'
import { applyEdit } from '../edits/apply'
import { whySilent } from '../graph/whySilent'
import { firstBreach } from '../invariants'
import { fingerprint } from '../print/fingerprint'
import { rows, type Session } from '../session/session'
import { Sketch } from '../testing/sketch'
import { renderTaps, rmsDb, whiteNoise } from '../testing/sound'
import { carriedBy, changeOfRig, mapEdit, mapRig, outsideChannels } from './outputs'

const FRAMES = 4800
const STEMS = ['plucked', 'choir', 'wind']
/** Three stereo stems into a summing box of the loft, back on a return that is heard; a dome with fewer outs. */
function start(domeOuts = 8): Sketch {
  const k = new Sketch()
  for (const [rig, outs] of [
    ['loft', 8],
    ['dome', domeOuts]
  ] as const) {
    k.rig(rig, { name: rig === 'loft' ? 'Loft' : 'Dome' })
    k.interface(`${rig}-io`, rig, outs, 2, {
      noiseDbfs: null,
      dcCornerHz: null,
      referenceDbu: rig === 'loft' ? 18 : 20
    })
    k.unit(`${rig}-sum`, rig, 'summing-8')
    for (let i = 0; i < outs; i++) k.cable(rig, `${rig}-io-out-${i + 1}`, `${rig}-sum:${i}`)
    for (const i of [0, 1]) k.cable(rig, `${rig}-sum:${i}`, `${rig}-io-in-${i + 1}`)
  }
  STEMS.forEach((id, i) => {
    k.medium(`m-${id}`, 2, FRAMES)
    k.bus(id, { role: 'stem', name: id })
    k.main(k.track(`t-${id}`, `m-${id}`), id)
    k.add('feed', {
      id: `p-${id}`,
      kind: 'port',
      from: id,
      ports: [`loft-io-out-${2 * i + 1}`, `loft-io-out-${2 * i + 2}`]
    })
  })
  k.bus('sum', { role: 'main', name: 'Sum' })
  k.add('feed', { id: 'back', kind: 'input', to: 'sum', ports: ['loft-io-in-1', 'loft-io-in-2'] })
  Object.assign(k.session.session.session!, { rig: 'loft', heardChannel: 'sum' })
  return k
}
const audio = Object.fromEntries(STEMS.map((s, i) => [`m-${s}`, [whiteNoise(FRAMES, i), whiteNoise(FRAMES, i + 9)]]))
const work = (s: Session, rig: string) => applyEdit(s, { verb: 'setSession', args: { rig } }).session
const prints = (s: Session) => STEMS.map(c => fingerprint(s, c, 'post', { seed: 1, from: 0, frames: FRAMES }).hash)
const heard = async (s: Session) =>
  rmsDb((await renderTaps(s, audio, FRAMES, { taps: [{ channel: 'sum', tap: 'post' }], seed: 1 })).get('sum@post')![0]!)
let n = 0
const mapped = (s: Session) =>
  applyEdit(
    s,
    mapEdit(s, 'loft', 'dome', () => `new${++n}`)!
  ).session

describe('stems in two rooms', () => {
  it('get the same places in the other, the return too; the step is one and leaves what is there', () => {
    const s = start().session
    expect(mapRig(s, 'loft', 'dome').map(m => [m.channel, m.ports])).toEqual([
      ['plucked', ['dome-io-out-1', 'dome-io-out-2']],
      ['choir', ['dome-io-out-3', 'dome-io-out-4']],
      ['wind', ['dome-io-out-5', 'dome-io-out-6']],
      ['sum', ['dome-io-in-1', 'dome-io-in-2']]
    ])
    const both = mapped(s)
    expect(firstBreach(both)).toBeNull()
    expect(rows(both, 'feed').filter(f => f.kind === 'port')).toHaveLength(6)
    expect(mapEdit(both, 'loft', 'dome', () => 'x')).toBeNull()
    expect(outsideChannels(both).map(c => c.id)).toEqual([...STEMS, 'sum'])
  })

  it('what the other room lacks stays mapped here and is told', () => {
    const s = start(4).session
    expect(
      mapRig(s, 'loft', 'dome')
        .filter(m => !m.ports)
        .map(m => m.channel)
    ).toEqual(['wind'])
    const both = mapped(s)
    expect(changeOfRig(both, 'dome').find(c => c.channel === 'wind')).toEqual({
      channel: 'wind',
      kind: 'port',
      now: ['Out 5', 'Out 6'],
      then: []
    })
    expect(Object.keys(work(both, 'dome').feed)).toContain('p-wind')
  })

  it('sound through one room at a time, equally loud, and the stems are the same to the bit', async () => {
    const both = mapped(start().session)
    const [loft, dome, alone] = [
      await heard(work(both, 'loft')),
      await heard(work(both, 'dome')),
      await heard(start().session)
    ]
    expect(loft).toBeCloseTo(alone, 3)
    // As loud: each rig's ports in have the reference of its ports out.
    expect(dome).toBeCloseTo(loft, 1)
    expect(prints(work(both, 'dome'))).toEqual(prints(work(both, 'loft')))
    const taps = STEMS.map(channel => ({ channel, tap: 'post' as const }))
    const [a, b] = await Promise.all(
      ['loft', 'dome'].map(rig => renderTaps(work(both, rig), audio, FRAMES, { taps, seed: 1 }))
    )
    expect(b).toEqual(a)
    // The sum itself is another one: another unit is in it.
    const sum = (rig: string) => fingerprint(work(both, rig), 'sum', 'post', { seed: 1, from: 0, frames: FRAMES }).hash
    expect(sum('dome')).not.toBe(sum('loft'))
  })

  it('not mapped are silent in the other room, which is said with the way back', () => {
    const s = work(start().session, 'dome')
    const cause = whySilent(s, 'plucked').find(c => c.cause === 'otherRig')!
    expect(cause.sentence).toMatch(/“plucked” goes to Out 1, Out 2, which is in “Loft”/)
    const mended = applyEdit(s, cause.fix!.edit).session
    expect(whySilent(mended, 'plucked')).toEqual([])
  })

  it('share ports where they must, and each port says what it carries', () => {
    const k = start()
    k.session.feed['p-wind']!.ports = ['loft-io-out-1', 'loft-io-out-2']
    expect(carriedBy(k.session, 'loft-io-out-1')).toEqual(['plucked', 'wind'])
    expect(carriedBy(k.session, 'loft-io-out-7')).toEqual([])
  })
})
