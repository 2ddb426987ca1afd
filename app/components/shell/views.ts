// The views, in the order of the work.
import { defineAsyncComponent, type Component } from 'vue'
import NetworkView from '~/components/network/NetworkView.vue'

export const VIEWS: { path: string; label: string; component: Component }[] = [
  {
    path: 'sources',
    label: 'Sources',
    component: defineAsyncComponent(() => import('~/components/sources/SourcesView.vue'))
  },
  { path: 'network', label: 'Network', component: NetworkView },
  { path: 'rig', label: 'Rig', component: defineAsyncComponent(() => import('~/components/rig/RigView.vue')) },
  {
    path: 'passes',
    label: 'Passes',
    component: defineAsyncComponent(() => import('~/components/passes/PassesView.vue'))
  }
]
