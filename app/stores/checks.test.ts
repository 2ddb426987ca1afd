// Checks are looked through when there is time, at once when asked, and never of another session.
import { afterEach, beforeEach, expect, it, vi } from 'vitest'
import { nextTick } from 'vue'
import { demoLike } from '@nullet/core/testing/demoLike'
import { openStage } from './testing'

beforeEach(() => openStage(demoLike().session))
afterEach(() => vi.useRealTimers())

async function stores() {
  const [{ useSession }, { useChecks }] = await Promise.all([import('./session'), import('./checks')])
  return { store: useSession(), checks: useChecks() }
}
/** Long enough for whatever waits until there is time. */
const later = () => vi.advanceTimersByTimeAsync(5000)
const soloed = (findings: readonly { about: readonly string[] }[], id: string) =>
  findings.some(f => f.about.length === 1 && f.about[0] === id)

it('many changes are one look, once there is time; who asks sees at once what is now', async () => {
  vi.useFakeTimers()
  const { store, checks } = await stores()
  const { id } = Object.values(store.session!.channel).find(c => c.kind === 'track')!
  await later()
  expect(soloed(checks.findings, id)).toBe(false)
  const before = checks.findings
  for (const levelDb of [-3, -4, -5]) store.apply('setChannels', { ids: [id], fields: { levelDb } })
  store.apply('setChannels', { ids: [id], fields: { soloed: true } })
  await nextTick()
  expect(checks.findings).toBe(before)
  await later()
  const { findings } = checks
  expect(soloed(findings, id)).toBe(true)
  await later()
  expect(checks.findings).toBe(findings)
  store.apply('setChannels', { ids: [id], fields: { soloed: false } })
  const looked = checks.look()
  expect(soloed(looked, id)).toBe(false)
  await later()
  expect(checks.findings).toEqual(looked)
})

it('those of a session that was left are forgotten', async () => {
  const { store, checks } = await stores()
  const { id } = Object.values(store.session!.channel).find(c => c.kind === 'track')!
  store.apply('setChannels', { ids: [id], fields: { soloed: true } })
  expect(checks.look().length).toBeGreaterThan(0)
  await store.open('another').catch(() => {})
  await nextTick()
  expect(soloed(checks.findings, id)).toBe(false)
})
