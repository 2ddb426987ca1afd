import { assertAlive, store } from '../store/connect'
import { defineRoute } from '../utils/route'

export default defineRoute(async () => {
  await assertAlive(store())
  return { ok: true }
})
