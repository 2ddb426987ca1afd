// To another view. The framework's own way does nothing while another one is still being checked, and a key that was
// pressed would be lost: this one takes the other's place.
import { useRouter } from '#imports'
import type { RouteLocationRaw } from 'vue-router'

export const goTo = (to: RouteLocationRaw) => useRouter().push(to)
