// The session as a package, saved by the browser.
import type { ReceiverForm } from '@nullet/core/formats/receiver'
import { useSession } from './session'

/** @param receiver how prints go with it, for a receiver; the whole session when left out */
export async function savePackage(receiver?: ReceiverForm): Promise<void> {
  const store = useSession()
  await store.stored()
  const query = receiver ? `?receiver=${receiver}` : ''
  window.location.href = `/api/sessions/${encodeURIComponent(store.id)}/package${query}`
}
