// The keeper's restarts reach the page: also when the server is still away as it asks, and each only once.
import { expect, it, vi } from 'vitest'

const answers: (() => unknown)[] = []
vi.mock('~/stores/api', () => ({ api: async () => answers.shift()!() }))
const { Happenings } = await import('./happenings')

const at = (second: number, what: string, said: string) => ({ at: `2026-01-01T00:00:0${second}.000Z`, what, said })
const away = () => {
  throw new Error('away')
}
const killed = at(1, 'server', 'ended (SIGKILL) and was started again'),
  silent = at(2, 'database', 'did not answer and was started again')

it('asks again while nobody answers, and tells what is new once', async () => {
  let pauses = 0
  const happenings = new Happenings(async () => void pauses++)
  answers.push(() => ({ happened: [killed] }))
  expect(await happenings.look()).toEqual([])
  answers.push(
    away,
    away,
    () => ({ happened: [killed, silent] }),
    () => ({ happened: [killed, silent] })
  )
  const told = await Promise.all([happenings.look(), happenings.look()])
  expect(told).toEqual([['The database did not answer and was started again. What was stored is there.'], []])
  expect(pauses).toBe(2)
})
