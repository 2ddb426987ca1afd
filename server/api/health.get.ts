import { readFile } from 'node:fs/promises'
import { inState } from '../../host/stateFolder'
import { assertAlive, store } from '../store/connect'
import { defineRoute } from '../utils/route'

export interface Happening {
  at: string
  what: string
  said: string
}

/** What the keeper of this server had to start again, newest last. */
async function happened(): Promise<Happening[]> {
  if (!process.env.NULLET_KEPT) return []
  try {
    return JSON.parse(await readFile(inState('happened'), 'utf8')) as Happening[]
  } catch {
    return []
  }
}

export default defineRoute(async () => {
  await assertAlive(store())
  return { ok: true, happened: await happened() }
})
