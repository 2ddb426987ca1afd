<script setup lang="ts">
// Product, session, views, checks, what is stored. What hardly changes has components of its own: this one is drawn
// anew with everything that is done.
import { computed } from 'vue'
import { rows, settings } from '@nullet/core/session/session'
import { useChecks } from '~/stores/checks'
import { useSession } from '~/stores/session'
import { useShell } from '~/stores/shell'
import { useStrips } from '~/stores/strips'
import { useTheme } from '~/stores/theme'
import { plural } from '~/words/format'
import type { FitItem } from './FitRow.vue'

defineProps<{ view: string }>()
const store = useSession(),
  checks = useChecks(),
  shell = useShell(),
  theme = useTheme(),
  strips = useStrips()
const name = computed(() => (store.session ? settings(store.session).name : ''))
const soloed = computed(() => (store.session ? rows(store.session, 'channel').filter(c => c.soloed).length : 0))
const STATES = { loading: 'opening…', saved: 'saved', saving: 'saving…', gone: 'this session is not there any more' }
const state = computed(() =>
  store.status !== 'waiting'
    ? STATES[store.status]
    : store.waitingCount
      ? `${plural(store.waitingCount, 'edit waits', 'edits wait')}: server away`
      : 'server away'
)

const tools = computed((): FitItem[] => {
  const many = checks.findings.length
  return [
    {
      label: 'undo',
      title: store.undos.at(-1)?.label,
      disabled: !store.undos.length,
      look: 'quietly',
      attrs: { 'data-undo': '' },
      run: store.undo
    },
    {
      label: 'redo',
      title: store.redos.at(-1)?.label,
      disabled: !store.redos.length,
      look: 'quietly',
      attrs: { 'data-redo': '' },
      run: store.redo
    },
    {
      label: 'done…',
      title: 'everything that was done, and back to any step (v h)',
      look: 'quietly',
      attrs: { 'data-history': '' },
      run: () => (shell.historyOpen = !shell.historyOpen)
    },
    {
      label: many ? plural(many, 'check', 'checks') : 'no checks',
      look: many ? 'mind' : 'quietly',
      attrs: { 'data-checks': '' },
      run: () => (shell.checksOpen = true)
    },
    ...(soloed.value
      ? [
          {
            label: `${soloed.value} soloed`,
            title: 'end every solo (c s)',
            look: 'acting',
            attrs: { 'data-clear-solo': '' },
            run: strips.clearSolo
          }
        ]
      : []),
    ...(shell.linksLifted
      ? [
          {
            label: 'links lifted',
            title: 'links do nothing while they are lifted (l l)',
            look: 'acting',
            attrs: { 'data-lifted': '' },
            run: shell.toggleLifted
          }
        ]
      : []),
    {
      label: theme.name === 'paper' ? 'Paper' : 'Dim room',
      title: `theme; click for ${theme.name === 'paper' ? 'Dim room' : 'Paper'} (v d)`,
      look: 'quietly',
      attrs: { 'data-theme-switch': '' },
      run: theme.toggle
    }
  ]
})
</script>

<template>
  <div class="bar" role="region" aria-label="session">
    <h1 class="unseen">{{ name }}</h1>
    <NuxtLink to="/" class="mark">Nullet</NuxtLink>
    <SessionMenu />
    <ViewLinks :view="view" />
    <FitRow :items="tools" :gap="16" />
    <span class="state" :class="store.status" data-state>{{ state }}</span>
    <button class="plain" aria-label="keys" title="keys and commands (?)" @click="shell.helpOpen = true">?</button>
  </div>
</template>

<style scoped>
.bar {
  display: flex;
  align-items: center;
  gap: 16px;
  padding: 0 16px;
  border-bottom: 1px solid var(--rule);
  white-space: nowrap;
}
.mark {
  font-weight: 600;
  font-size: 16px;
  color: var(--ink);
  text-decoration: none;
}
@media (max-width: 1000px) {
  .bar {
    gap: 12px;
  }
}
.state {
  color: var(--ink-2);
}
.state.waiting {
  color: var(--wrong);
}
</style>
