// What a planner says about changes, and what an engine makes of it: after any history of edits it plays from the
// beginning what a render gives, and what an edit does not concern goes on as if nobody had touched anything.
import { describe, expect, it } from 'vitest'
import { applyEdit } from '@nullet/core/edits/apply'
import { Network } from '@nullet/core/graph/network'
import { rows, settings, withChanges, type Session } from '@nullet/core/session/session'
import { demoLike } from '@nullet/core/testing/demoLike'
import { Dice, generatedNetwork } from '@nullet/core/testing/generated'
import { carriedOut } from '@nullet/core/testing/carriedOut'
import { generatedEdit } from '@nullet/core/testing/generatedEdits'
import { noiseFor } from '@nullet/core/testing/generatedSound'
import { times } from '@nullet/core/testing/lengths'
import { peak } from '@nullet/core/testing/sound'
import { compile } from '@nullet/core/compile/compile'
import { PlanStream } from '@nullet/core/run/stream'
import { Near } from './near'
import { Planning } from './planning'
import { BLOCK } from './ring'

const BLOCKS = 24

async function heardFrom(near: Near, blocks: number): Promise<Float32Array[]> {
  const out = [new Float32Array(blocks * BLOCK), new Float32Array(blocks * BLOCK)]
  for (let n = 0; n < blocks; n++) (await near.heard.block()).forEach((leg, i) => out[i]!.set(leg, n * BLOCK))
  return out
}

async function rendered(session: Session, near: Near, media = noiseFor(session)): Promise<Float32Array[]> {
  const channel = settings(session).heardChannel ?? rows(session, 'channel').find(c => c.role === 'main')!.id
  const options = { taps: [], live: true, heard: { channel, latency: near.heard.latency } }
  const stream = new PlanStream(compile(session, options), session, media),
    out = [new Float32Array(BLOCKS * BLOCK), new Float32Array(BLOCKS * BLOCK)]
  stream.start(0)
  for (let n = 0; n < BLOCKS; n++) {
    await stream.block()
    stream.last('sink/ears').forEach((leg, i) => out[i]!.set(leg, n * BLOCK))
  }
  return out
}

describe('a planner and an engine', () => {
  it('play from the beginning what a render gives, after any history of edits of values and structure', async () => {
    let values = 0,
      plans = 0,
      edits = 0
    for (let seed = 1; edits < times(100, 500); seed++) {
      const dice = new Dice(seed)
      let { session } = demoLike(),
        serial = 0
      const media = noiseFor(session),
        known = new Set(Object.keys(session.medium)),
        near = new Near(session, media)
      for (let n = 0; n < 25; n++) {
        const done = carriedOut(
          session,
          generatedEdit(dice, session, () => `n${seed}-${++serial}`)
        )
        if (!done) continue
        const { changes } = done
        session = done.session
        if (!rows(session, 'channel').some(c => c.role === 'main')) break
        // Edits of the generator name audio that nobody has; what is there is enough.
        if (rows(session, 'medium').some(m => !known.has(m.id))) break
        const before = near.planning.compiled
        near.change(session, changes)
        if (near.planning.compiled > before) plans++
        else values++
        edits++
        await near.heard.runTo(0, () => false)
        expect(await heardFrom(near, BLOCKS), `seed ${seed}, edit ${n}`).toEqual(await rendered(session, near, media))
      }
    }
    expect(values).toBeGreaterThan(15)
    expect(plans).toBeGreaterThan(15)
  }, 300_000)

  it('leave what an edit of the structure does not concern as it is, sample by sample, while it plays', async () => {
    let others = 0,
      loudest = 0
    for (let seed = 1; seed <= times(12, 100); seed++) {
      const dice = new Dice(seed),
        size = { tracks: 10, submixes: 4, returns: 2, stems: 2, sends: 8, keys: 3, frames: 48000 }
      const { session } = generatedNetwork(seed, size),
        media = noiseFor(session)
      // Something that is listened to, and tracks that do not lead there.
      const network = new Network(session)
      const heard = dice.pick(rows(session, 'channel').filter(c => c.kind === 'bus' && c.role !== 'main')).id
      // What steers a slot is heard too.
      const keysOf = (id: string) =>
        rows(session, 'feed').flatMap(f => (f.kind === 'key' && session.slot[f.slot]!.channel === id ? [f.from] : []))
      const near = network.reach([heard], id => [...network.upstream(id), ...keysOf(id)])
      const far = rows(session, 'channel').filter(c => !near.has(c.id) && c.id !== heard)
      if (!far.length) continue
      settings(session).heardChannel = heard
      const [touched, left] = [new Near(session, media), new Near(session, media)]
      for (const { heard: h } of [touched, left]) await h.runTo(0, () => false)
      let now = session
      for (let n = 0; n < 4; n++) {
        expect(await heardFrom(touched, 20)).toEqual(await heardFrom(left, 20))
        const { id } = dice.pick(far)
        const edit = applyEdit(now, {
          verb: 'addSlot',
          args: { id: `s${n}`, channel: id, processor: dice.pick(['compressor', 'delay', 'equaliser']), order: `a${n}` }
        })
        now = edit.session
        if (touched.change(now, edit.changes)) others++
        expect(touched.planning.compiled).toBe(n + 2)
      }
      const last = await heardFrom(touched, 20)
      expect(last).toEqual(await heardFrom(left, 20))
      loudest = Math.max(loudest, peak(last[0]!))
    }
    expect(loudest).toBeGreaterThan(0.1)
    expect(others).toBeGreaterThan(20)
  })
})

describe('a planner', () => {
  it('says that clips lie elsewhere, and that nothing sounds otherwise where rows change that are not heard', () => {
    const { session } = generatedNetwork(3, { tracks: 4, submixes: 2, returns: 1, stems: 1, sends: 2, keys: 1 })
    const planning = new Planning(session)
    planning.whole()
    const clip = rows(session, 'clip')[0]!
    const moved = [{ table: 'clip' as const, id: clip.id, before: clip, after: { ...clip, startFrame: 4800 } }]
    const later = withChanges(session, moved)
    expect(planning.change(later, moved)).toEqual({ kind: 'values', ops: [], moves: null, clips: true })
    const named = [{ ...moved[0]!, before: later.clip[clip.id]!, after: { ...later.clip[clip.id]!, name: 'Take' } }]
    const once = planning.change(withChanges(later, named), named)
    expect(once).toMatchObject({ kind: 'values', ops: [], moves: null })
  })

  it('lays out for two threads what weighs enough', () => {
    const { session } = generatedNetwork(3, { tracks: 4, submixes: 2, returns: 1, stems: 1, sends: 2, keys: 1 })
    const of = (twoFrom: number) => new Planning(session, undefined, twoFrom).whole().layout.team
    expect(of(0.5)).toBeNull()
    expect(of(1e-4)).not.toBeNull()
  })
})
