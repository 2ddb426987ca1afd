<script setup lang="ts">
// The views of a session, with what there is in them; the selection goes along.
import { computed } from 'vue'
import { settings } from '@nullet/core/session/session'
import { useJobs } from '~/stores/jobs'
import { useSelection } from '~/stores/selection'
import { useSession } from '~/stores/session'
import { VIEWS } from './views'

defineProps<{ view: string }>()
const store = useSession(),
  jobs = useJobs(),
  selection = useSelection()
const query = computed(() => (selection.list.length ? { sel: selection.list.join(',') } : {}))
const extra = computed((): Record<string, string> => {
  const s = store.session
  if (!s) return {}
  const rig = s.rig[settings(s).rig ?? '']
  const passes = jobs.open.length
  return { rig: rig ? rig.name : '', passes: passes ? `${passes} running` : '' }
})
</script>

<template>
  <nav aria-label="views">
    <NuxtLink
      v-for="v in VIEWS"
      :key="v.path"
      :to="{ path: `/s/${store.id}/${v.path}`, query }"
      :class="{ here: v.path === view }"
      :aria-current="v.path === view ? 'page' : undefined"
    >
      {{ v.label }}<span v-if="extra[v.path]" class="quiet"> · {{ extra[v.path] }}</span>
    </NuxtLink>
  </nav>
</template>

<style scoped>
nav {
  display: flex;
  gap: 22px;
  margin-left: 12px;
  align-self: stretch;
}
@media (max-width: 1000px) {
  nav {
    gap: 12px;
    margin-left: 0;
  }
}
a {
  display: flex;
  align-items: center;
  gap: 4px;
  color: var(--ink-2);
  text-decoration: none;
  border-bottom: 2px solid transparent;
  border-top: 2px solid transparent;
}
a:hover {
  color: var(--ink);
}
a.here {
  color: var(--ink);
  font-weight: 600;
  border-bottom-color: var(--acting);
}
.quiet {
  font-weight: 400;
}
</style>
