// A channel's Rail, from wherever one is: it lies in the Network.
import { nextTick } from 'vue'
import { useRoute } from '#imports'
import { goTo } from './goTo'
import { useSelection } from './selection'
import { useSession } from './session'
import { useShell } from './shell'

export function useOpenRail() {
  const store = useSession(),
    shell = useShell(),
    selection = useSelection(),
    route = useRoute()
  return async (channel: string, slot: string | null = null): Promise<void> => {
    if (!selection.list.includes(channel)) selection.set([channel], channel)
    shell.railOf = channel
    shell.openSlot = slot
    if (route.params.view === 'network') return
    // The address is told of a new selection first, or that would be the newer way.
    await nextTick()
    await goTo({ path: `/s/${store.id}/network`, query: { sel: selection.list.join(',') } })
  }
}
