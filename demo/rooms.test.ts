// What the demonstration begins with: nothing is heard otherwise for it, and one thing in it is wrong, with its fix.
import { expect, it } from 'vitest'
import { applyEdit } from '@nullet/core/edits/apply'
import { runChecks } from '@nullet/core/checks/table'
import { rigDifference } from '@nullet/core/formats/rigLibrary'
import { readRig } from '@nullet/core/formats/rig'
import { firstBreach } from '@nullet/core/invariants/index'
import { pingIsStale } from '@nullet/core/measure/ping'
import { whatMoved } from '@nullet/core/measure/recall'
import { fingerprint } from '@nullet/core/print/fingerprint'
import { furnish } from './rooms'
import { score } from './score'
import { demoSession } from './session'

it('has both rooms in the library, the amplifier’s history and the dome’s places, and sounds as before', async () => {
  const parts = score(2)
  const bare = demoSession(parts, part => ({ sha256: part.id, frames: 96000, peakDb: -6, loudnessLufs: -20 }))
  const { session, entries } = await furnish(bare, new Date('2026-11-28T12:00:00Z'))
  expect(firstBreach(session)).toBeNull()
  const usual = runChecks(bare).map(f => f.sentence)
  const more = runChecks(session).filter(f => !usual.includes(f.sentence))
  const off = more.find(f => f.check === 'unitOff')!
  expect(off.sentence).toBe('Loop “Valve pair” on “Loft sum”: Valve compressor is off.')
  expect(more.every(f => f.about.includes('valve-pair'))).toBe(true)
  const mended = applyEdit(session, off.fixes[0]!.edit!).session
  expect(runChecks(mended)).toEqual(runChecks(bare))
  expect(pingIsStale(session, session.loop['loft-sum']!)).toBe(false)
  const heard = (s: typeof bare) => fingerprint(s, 'main', 'post', { seed: 1, from: 0, frames: 96000 }).hash
  // The track that waits for its print is muted; a way that is closed counts as one all the same.
  const { 'loft-sum-main': closed, ...feed } = session.feed
  expect(session.channel[closed!.from!]!.muted).toBe(true)
  expect(heard({ ...session, feed })).toBe(heard(bare))
  const loop = session.loop['kora-amplifier']!
  expect(pingIsStale(session, loop)).toBe(false)
  expect(loop.former).toHaveLength(1)
  expect(whatMoved(loop.former[0]!, loop.ping!).join('; ')).toMatch(/dB high above .*kHz; 9\.\d samples later/)
  for (const rig of ['loft', 'dome'])
    expect(rigDifference(readRig(JSON.stringify(entries.get(`house-${rig}`))), session, rig).lines).toEqual([])
})
