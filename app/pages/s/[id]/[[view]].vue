<script setup lang="ts">
// A session: views across the top, Path at the right, transport below.
import { computed, nextTick, onBeforeUnmount, ref, watch } from 'vue'
import { useRoute, useRouter } from '#imports'
import { VIEWS } from '~/components/shell/views'
import { useKeys } from '~/keyboard/keys'
import { useImports } from '~/stores/imports'
import { useNotices } from '~/stores/notices'
import { useSelection } from '~/stores/selection'
import { useSession } from '~/stores/session'
import { useShell } from '~/stores/shell'
import { useTransport } from '~/stores/transport'
import { rehearse } from '~/session/rehearsal'
import { whenIdle } from '~/session/whenIdle'
import { useWhereLeft, type View } from '~/stores/whereLeft'
import type { Dropped } from '~/session/dropped'
import { plural } from '~/words/format'

definePageMeta({ key: 'session' })
const route = useRoute(),
  router = useRouter()
const store = useSession(),
  selection = useSelection(),
  shell = useShell(),
  transport = useTransport(),
  imports = useImports(),
  whereLeft = useWhereLeft(),
  notices = useNotices()
const problem = ref('')
const isOpen = computed(() => !problem.value && !!store.session && !!route.params.view)
const view = computed(() => VIEWS.find(v => v.path === route.params.view) ?? VIEWS[1]!)

async function open(id: string): Promise<void> {
  problem.value = ''
  try {
    await store.open(id)
    const left = whereLeft.begin(id)
    const asked = route.params.view ? String(route.query.sel ?? '').split(',') : left.selected
    if (route.params.view) whereLeft.note({ view: view.value.path as View })
    else await router.replace(`/s/${id}/${left.view}`)
    const wanted = asked.filter(i => store.session?.channel[i])
    if (wanted.length) selection.set(wanted, wanted.at(-1)!)
    else selection.clear()
    whenIdle(() => store.session && rehearse(store.session))
  } catch (error) {
    problem.value = (error as Error).message
  }
}
watch(
  () => String(route.params.id),
  id => void open(id),
  { immediate: true }
)
// The address always says what is selected, so that a link opens the same thing. It never cuts off a way to another
// view.
let moving = false
function sayInAddress(): void {
  const sel = selection.list.length <= 20 ? selection.list.join(',') : ''
  if (!moving && sel !== String(route.query.sel ?? ''))
    void router.replace({ query: { ...route.query, sel: sel || undefined } })
}
watch(() => selection.list.join(','), sayInAddress)
watch(
  () => [store.session !== null, route.params.view] as const,
  ([open, there]) => {
    if (open && there) whereLeft.note({ view: view.value.path as View })
  }
)
let goal = ''
const unhook = [
  router.beforeEach(to => {
    moving = true
    goal = to.fullPath
  }),
  // A way that was given up leaves the newer one still going; what was selected meanwhile is said at its end.
  router.afterEach(to => {
    if (to.fullPath !== goal) return
    moving = false
    void nextTick(sayInAddress)
  })
]
onBeforeUnmount(() => unhook.forEach(u => u()))
useKeys(() => view.value)
function take(all: Dropped): void {
  imports.take(all)
  if (all.files.length && view.value.path !== 'sources')
    notices.tell(`${plural(all.files.length, 'file', 'files')} coming in, see Sources.`)
}
onBeforeUnmount(() => {
  transport.stop()
  store.close()
})
</script>

<template>
  <FileDrop class="frame" says="Let go: these files become tracks" :off="!store.session" @files="take">
    <TopBar :view="view.path" />
    <div v-if="problem" class="empty">
      <h2>This session cannot be opened</h2>
      {{ problem }}<br /><br /><el-button @click="open(String(route.params.id))">Try again</el-button>
      <NuxtLink to="/">All sessions</NuxtLink>
    </div>
    <div v-else-if="!isOpen" class="empty">opening…</div>
    <div v-else class="middle">
      <main class="view" tabindex="-1"><component :is="view.component" /></main>
      <PathPanel v-if="shell.pathOpen && view.path !== 'rig'" />
    </div>
    <div class="foot">
      <NoticeList />
      <template v-if="isOpen"><CompareStrip /><TransportBar class="transport" /></template>
    </div>
    <template v-if="isOpen">
      <SheetHost />
      <ChecksDrawer />
      <HistoryDrawer />
      <HelpSheet />
      <HintStrip />
      <CommandField />
      <VerbMenu />
    </template>
    <AskBox />
  </FileDrop>
</template>

<style scoped>
.frame {
  display: grid;
  grid-template: 44px minmax(0, 1fr) auto / minmax(0, 1fr);
  height: 100%;
  min-width: 760px;
}
.transport {
  height: 64px;
}
.middle {
  display: flex;
  min-height: 0;
  min-width: 0;
}
.view {
  flex: 1;
  min-width: 0;
  min-height: 0;
  display: flex;
  flex-direction: column;
}
</style>
