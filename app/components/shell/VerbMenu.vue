<script setup lang="ts">
// The verbs for a channel, where it was pointed at: by the right button, a long press or the menu key. Made from the
// table of commands.
import { computed, nextTick, onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { commands, grouped, type Command } from '~/commands/table'
import { useMenu } from '~/stores/menu'
import { useSelection } from '~/stores/selection'
import { useSession } from '~/stores/session'

const menu = useMenu(),
  selection = useSelection(),
  store = useSession()
const list = ref<HTMLElement>()
const groups = computed(() => grouped(commands().filter(c => c.on)))
const title = computed(() => {
  const only = selection.list.length === 1 ? store.session?.channel[selection.list[0]!] : undefined
  return only?.name ?? `${selection.list.length} channels`
})

function channelAt(target: EventTarget | null): string | undefined {
  const owner = target instanceof Element ? target.closest<HTMLElement>('[data-channel], [data-track]') : null
  return owner?.dataset.channel ?? owner?.dataset.track
}
function open(e: MouseEvent): void {
  const target = e.target as HTMLElement
  if (target.closest('input, textarea, [role="dialog"], [role="menu"]')) return
  // The menu key points at what has the focus: there the selection is meant.
  const channel = channelAt(target) ?? (target.closest('[data-home]') ? selection.focused : undefined)
  if (!channel || !store.session?.channel[channel]) return
  e.preventDefault()
  if (!selection.ids.has(channel)) selection.set([channel], channel)
  menu.open(e.clientX, e.clientY)
}
watch(
  () => menu.at,
  async at => {
    if (!at) return
    await nextTick()
    const box = list.value!.getBoundingClientRect()
    list.value!.style.left = `${Math.max(4, Math.min(at.x, innerWidth - box.width - 4))}px`
    list.value!.style.top = `${Math.max(4, Math.min(at.y, innerHeight - box.height - 4))}px`
    items()[0]?.focus()
  }
)
const items = () => [...(list.value?.querySelectorAll<HTMLElement>('[role="menuitem"]') ?? [])]
function move(by: number): void {
  const all = items(),
    at = all.indexOf(document.activeElement as HTMLElement)
  all[(at + by + all.length) % all.length]?.focus()
}
function run(command: Command): void {
  menu.close()
  void command.run()
}
onMounted(() => window.addEventListener('contextmenu', open))
onBeforeUnmount(() => window.removeEventListener('contextmenu', open))
</script>

<template>
  <div v-if="menu.at" class="catch" @pointerdown.self="menu.close" @contextmenu.prevent.self="menu.close">
    <div
      ref="list"
      class="menu scroll"
      role="menu"
      :aria-label="`verbs for ${title}`"
      @keydown.down.prevent="move(1)"
      @keydown.up.prevent="move(-1)"
      @keydown.tab.prevent="move($event.shiftKey ? -1 : 1)"
    >
      <p class="caption clip title">{{ title }}</p>
      <div v-for="[name, verbs] in groups" :key="name" role="group" :aria-label="name">
        <p class="caption group">{{ name }}</p>
        <button v-for="c in verbs" :key="c.keys" class="plain" role="menuitem" tabindex="-1" @click="run(c)">
          <span>{{ c.label }}</span><kbd>{{ c.keys }}</kbd>
        </button>
      </div>
    </div>
  </div>
</template>

<style scoped>
.catch {
  position: fixed;
  inset: 0;
  z-index: 100000;
}
.menu {
  position: absolute;
  max-height: min(560px, 90vh);
  width: 640px;
  padding: 8px 4px;
  columns: 2;
  column-gap: 8px;
  background: var(--raised);
  border: 1px solid var(--rule);
  border-radius: var(--radius);
  box-shadow: var(--shadow);
}
.title {
  column-span: all;
  margin: 0 8px 4px;
  font-weight: 600;
}
.group {
  margin: 0;
  padding: 6px 8px 2px;
}
button {
  display: flex;
  width: 100%;
  justify-content: space-between;
  gap: 12px;
  padding: 3px 8px;
  text-align: left;
  border-radius: 2px;
  font-size: 12px;
}
button:hover,
button:focus {
  background: var(--acting-soft);
  outline: none;
}
div[role='group'] {
  break-inside: avoid;
}
</style>
