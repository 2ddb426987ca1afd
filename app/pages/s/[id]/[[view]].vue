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
import { useWhereLeft, type View } from '~/stores/whereLeft'
import { droppedOn } from '~/session/dropped'
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
/** Files may be dropped anywhere; a slot on its way is not a file. */
const hovering = ref(false)
const carriesFiles = (e: DragEvent) => !!e.dataTransfer?.types.includes('Files') && !!store.session
function over(e: DragEvent): void {
  if (carriesFiles(e)) {
    e.preventDefault()
    hovering.value = true
  }
}
function dropped(e: DragEvent): void {
  hovering.value = false
  if (!carriesFiles(e)) return
  e.preventDefault()
  void droppedOn(e.dataTransfer!).then(all => {
    imports.take(all)
    if (all.files.length && view.value.path !== 'sources')
      notices.tell(`${plural(all.files.length, 'file', 'files')} coming in, see Sources.`)
  })
}
onBeforeUnmount(() => {
  transport.stop()
  store.close()
})
</script>

<template>
  <div
    class="frame"
    @dragover="over"
    @dragleave="
      e => {
        if (!e.relatedTarget) hovering = false
      }
    "
    @drop="dropped"
  >
    <TopBar :view="view.path" />
    <div v-if="problem" class="empty">
      <h2>This session cannot be opened</h2>
      {{ problem }}<br /><br /><el-button @click="open(String(route.params.id))">Try again</el-button>
      <NuxtLink to="/">All sessions</NuxtLink>
    </div>
    <div v-else-if="!store.session || !route.params.view" class="empty">opening…</div>
    <template v-else>
      <div class="middle">
        <main class="view" tabindex="-1"><component :is="view.component" /></main>
        <PathPanel v-if="shell.pathOpen && view.path !== 'rig'" />
      </div>
      <div class="foot"><CompareStrip /><TransportBar /></div>
      <SheetHost />
      <ChecksDrawer />
      <HistoryDrawer />
      <HelpSheet />
      <HintStrip />
      <CommandField />
      <VerbMenu />
    </template>
    <div v-if="hovering" class="drop">Let go: these files become tracks</div>
    <ShellExtras />
  </div>
</template>

<style scoped>
.frame {
  display: grid;
  grid-template: 44px minmax(0, 1fr) auto / minmax(0, 1fr);
  height: 100%;
  min-width: 760px;
}
.foot > :last-child {
  height: 64px;
}
.drop {
  position: fixed;
  inset: 56px 12px 76px;
  z-index: 3500;
  border: 2px dashed var(--acting);
  background: color-mix(in srgb, var(--ground) 82%, transparent);
  display: grid;
  place-items: center;
  font-size: 16px;
  color: var(--acting);
  pointer-events: none;
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
