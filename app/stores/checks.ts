// What is probably wrong with the open session, rows and observed levels together.
import { defineStore } from 'pinia'
import { computed, shallowRef, watch } from 'vue'
import type { Finding } from '@nullet/core/checks/check'
import { runChecks } from '@nullet/core/checks/table'
import { whenIdle } from '~/session/whenIdle'
import { useSession } from './session'
import { useTransport } from './transport'

/** Between two looks: a hand on a fader changes the session with every move. */
const PAUSE_MS = 500

export const useChecks = defineStore('checks', () => {
  const store = useSession(),
    transport = useTransport()
  /** Worked out when it is looked at. */
  const now = computed(() => (store.session ? runChecks(store.session, store.network!, transport.seen) : []))
  /** A little behind: about rows of a moment ago. */
  const findings = shallowRef<readonly Finding[]>([])
  /** At once. */
  const look = () => (findings.value = now.value)
  let isWaiting = false
  /** Once for all that changes until there is time: a hand does not wait for it. */
  function soon(): void {
    if (isWaiting) return
    isWaiting = true
    setTimeout(
      () =>
        whenIdle(() => {
          isWaiting = false
          look()
        }),
      PAUSE_MS
    )
  }
  watch(() => [store.session, transport.seen], soon, { immediate: true })
  watch(
    () => store.id,
    () => (findings.value = [])
  )
  return { findings, look }
})
