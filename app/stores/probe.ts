// The slot that is open is looked at while it sounds; its key can be heard instead of the mix. Both end with it.
import { defineStore } from 'pinia'
import { shallowRef, watch } from 'vue'
import type { Probe } from '~/audio/messages'
import { useSession } from './session'
import { useShell } from './shell'
import { useTransport } from './transport'

export const useProbe = defineStore('probe', () => {
  const store = useSession(),
    shell = useShell(),
    transport = useTransport()
  const keyHeard = shallowRef<string | null>(null)
  const latest = shallowRef<Probe | null>(null)
  /** What was seen last of a slot, while it plays. */
  const of = (slot: string) => (transport.playing && latest.value?.slot === slot ? latest.value : null)

  function tell(): void {
    transport.engine().listen(keyHeard.value, shell.openSlot)
  }
  function hearKey(slot: string | null): void {
    keyHeard.value = slot
    tell()
  }

  watch(
    () => shell.openSlot,
    slot => {
      if (keyHeard.value && keyHeard.value !== slot) keyHeard.value = null
      if (store.session) tell()
    }
  )
  watch(
    () => store.session?.slot[keyHeard.value ?? ''],
    slot => {
      if (keyHeard.value && !slot) hearKey(null)
    }
  )
  watch(
    () => store.id,
    () => {
      keyHeard.value = null
      latest.value = null
    }
  )
  watch(
    () => transport.beat,
    () => {
      if (shell.openSlot) {
        const seen = transport.engine().probe()
        if (seen && seen !== latest.value) latest.value = seen
      }
    }
  )

  return { keyHeard, latest, of, hearKey }
})
