<script setup lang="ts">
// A session: views across the top, Path at the right, transport below.
import { computed, onBeforeUnmount, ref, watch } from 'vue'
import { useRoute, useRouter } from '#imports'
import { VIEWS } from '~/components/shell/views'
import { useKeys } from '~/components/shell/keys'
import { useSelection } from '~/stores/selection'
import { useSession } from '~/stores/session'
import { useShell } from '~/stores/shell'
import { useTransport } from '~/stores/transport'

definePageMeta({ key: 'session' })
const route = useRoute(), router = useRouter()
const store = useSession(), selection = useSelection(), shell = useShell(), transport = useTransport()
const problem = ref('')
const view = computed(() => VIEWS.find(v => v.path === route.params.view) ?? VIEWS[1])

async function open(id: string): Promise<void> {
  problem.value = ''
  try {
    await store.open(id)
    const wanted = String(route.query.sel ?? '').split(',').filter(i => store.session?.channel[i])
    if (wanted.length) selection.set(wanted, wanted.at(-1)!)
    else selection.clear()
  } catch (error) { problem.value = (error as Error).message }
}
watch(() => String(route.params.id), id => void open(id), { immediate: true })
// The address always says what is selected, so that a link opens the same thing.
watch(() => selection.list.join(','), sel => {
  if (sel !== String(route.query.sel ?? '')) void router.replace({ query: { ...route.query, sel: sel && selection.list.length <= 20 ? sel : undefined } })
})
useKeys()
onBeforeUnmount(() => { transport.stop(); store.close() })
</script>

<template>
  <div class="frame">
    <TopBar :view="view.path" />
    <div v-if="problem" class="empty"><h2>This session cannot be opened</h2>{{ problem }}<br><br><el-button @click="open(String(route.params.id))">Try again</el-button> <NuxtLink to="/">All sessions</NuxtLink></div>
    <div v-else-if="!store.session" class="empty">opening…</div>
    <template v-else>
      <div class="middle">
        <main class="view"><component :is="view.component" /></main>
        <PathPanel v-if="shell.pathOpen && view.path !== 'rig'" />
      </div>
      <TransportBar />
      <ChecksDrawer />
      <HelpSheet />
      <HintStrip />
      <CommandField />
    </template>
    <ShellExtras />
  </div>
</template>

<style scoped>
.frame { display: grid; grid-template: 44px minmax(0, 1fr) 64px / minmax(0, 1fr); height: 100%; min-width: 960px; }
.middle { display: flex; min-height: 0; min-width: 0; }
.view { flex: 1; min-width: 0; min-height: 0; display: flex; flex-direction: column; }
</style>
