// What is probably wrong with the open session, rows and observed levels together.
import { defineStore } from 'pinia'
import { computed } from 'vue'
import { runChecks } from '@nullet/core/checks/table'
import { useSession } from './session'
import { useTransport } from './transport'

export const useChecks = defineStore('checks', () => {
  const store = useSession(),
    transport = useTransport()
  const findings = computed(() => (store.session ? runChecks(store.session, store.network!, transport.seen) : []))
  return { findings }
})
