// A print proven again: identical while nothing has changed, what is left and why where something has.
import { describe, expect, it } from 'vitest'
import { applyEdit } from '../edits/apply'
import { MemoryMedia } from '../run/memoryMedia'
import { Sketch } from '../testing/sketch'
import { renderTaps, whiteNoise } from '../testing/sound'
import { rows, type Session } from '../session/session'
import { fingerprintOf } from './stale'
import { proofOf, provePrint } from './prove'

const FRAMES = 12000

/** A bus that is printed, the print stored as it was rendered. */
async function printed(spoil: (leg: Float32Array) => void = () => undefined) {
  const k = new Sketch()
  k.medium('a', 1, FRAMES)
  k.bus('main', { role: 'main' })
  k.bus('mix')
  k.main('mix', 'main')
  k.main(k.track('one', 'a'), 'mix')
  k.slot('mix', 'compressor', { thresholdDb: -30 })
  const noise = [whiteNoise(FRAMES, 1, 0.4)]
  const taps = [{ channel: 'mix', tap: 'post' as const }]
  const audio = (await renderTaps(k.session, { a: noise }, FRAMES, { taps, seed: 3 })).get('mix@post')!
  const made = { id: 'p', source: 'mix', tap: 'post' as const, share: null, through: null, seed: 3 }
  const { hash, parts } = fingerprintOf(k.session, { ...made, startFrame: 0, frames: FRAMES })
  k.medium('m', 2, FRAMES)
  k.track('kept', 'm')
  const clip = rows(k.session, 'clip').find(c => c.channel === 'kept')!.id
  k.add('print', { ...made, channel: 'kept', clip, frames: FRAMES, fingerprint: hash, parts, takesOver: true })
  const media = new MemoryMedia()
  media.set('a', noise)
  audio.forEach(spoil)
  media.set('m', audio)
  return { session: k.session, media }
}
const edit = (s: Session, verb: string, args: Record<string, unknown>) => applyEdit(s, { verb, args }).session

describe('a print proven again', () => {
  it('is identical while nothing has changed, parked or cropped', async () => {
    const { session, media } = await printed()
    const now = edit(session, 'setChannels', { ids: ['mix'], fields: { parked: true } })
    const cropped = edit(now, 'cropClips', { ids: [now.print.p!.clip!], from: 3000, to: 6000 })
    for (const s of [session, now, cropped])
      expect(await provePrint(s, media, 'p')).toMatchObject({ rmsDb: -Infinity, culprits: [] })
  })

  it('says how far it is from what is live, and what has changed', async () => {
    const { session, media } = await printed()
    const louder = edit(session, 'setChannels', { ids: ['one'], fields: { trimDb: 0.1 } })
    const found = await provePrint(louder, media, 'p')
    expect(found.rmsDb - found.signalDb).toBeGreaterThan(-60)
    expect(found.culprits).toEqual(['input section of one changed'])
  })

  it('finds what was done to the stored samples themselves', async () => {
    const { session, media } = await printed(leg => (leg[500]! += 1e-3))
    const found = await provePrint(session, media, 'p')
    expect(Number.isFinite(found.rmsDb)).toBe(true)
    expect(found.culprits).toEqual([])
  })

  it('is refused where its source is gone, and what is known is kept', async () => {
    const { session, media } = await printed()
    const gone = edit(session, 'removeChannels', { ids: ['mix'] })
    await expect(provePrint(gone, media, 'p')).rejects.toThrow(/“kept”/)
  })

  it('is kept with the prints, the newest first, eight at most', async () => {
    let { session } = await printed()
    for (let n = 0; n < 10; n++) {
      const proof = proofOf('live', { rmsDb: n ? -100 - n : -Infinity, signalDb: -20 }, ['p'], [])
      session = edit(session, 'keepProof', { ids: ['p'], proof })
    }
    expect(session.print.p!.proofs).toHaveLength(8)
    expect(session.print.p!.proofs[0]).toMatchObject({ of: 'live', leftDb: -109, signalDb: -20, prints: ['p'] })
  })
})
