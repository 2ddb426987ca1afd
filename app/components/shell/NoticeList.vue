<script setup lang="ts">
// What was said last, in lines of their own at the foot of the page: they take their room and cover nothing. What lies
// over the page, sheets and drawers, ends above them.
import { onBeforeUnmount, onMounted, ref } from 'vue'
import { useNotices, type Notice } from '~/stores/notices'

const notices = useNotices()
const list = ref<HTMLElement>()

function act({ id, action }: Notice): void {
  action!.run()
  notices.dismiss(id)
}
/** How much of the window's foot is theirs, with what is below them. */
function sayHeight(): void {
  const box = list.value!.getBoundingClientRect()
  document.documentElement.style.setProperty('--notices', box.height ? `${innerHeight - box.top}px` : '0px')
}
const watcher = new ResizeObserver(sayHeight)
onMounted(() => watcher.observe(list.value!))
onBeforeUnmount(() => {
  watcher.disconnect()
  document.documentElement.style.removeProperty('--notices')
})
</script>

<template>
  <div ref="list" class="notices" role="status" aria-live="polite">
    <div v-for="n in notices.list" :key="n.id" class="notice" :class="n.tone">
      <p>
        {{ n.message }}<span v-if="n.times > 1" class="caption">&ensp;{{ n.times }} times</span
        ><span v-if="n.kept" class="caption kept">{{ n.kept }}</span>
      </p>
      <button v-if="n.action" class="plain act" @click="act(n)">{{ n.action.label }}</button>
      <button class="plain" aria-label="dismiss" @click="notices.dismiss(n.id)">×</button>
    </div>
  </div>
</template>

<style scoped>
.notices {
  position: relative;
  /* Above a sheet's shade: what went wrong in a sheet is said while it is open. */
  z-index: 80000;
}
.notice {
  display: flex;
  gap: 12px;
  align-items: baseline;
  padding: 5px 12px;
  background: var(--raised);
  border-top: 1px solid var(--rule);
  border-left: 3px solid var(--signal);
  overflow-wrap: anywhere;
}
.notice.wrong {
  border-left-color: var(--wrong);
}
p {
  margin: 0;
}
button:last-child {
  margin-left: auto;
}
.kept {
  margin-left: 12px;
}
.act {
  color: var(--acting);
  white-space: nowrap;
  font-weight: 500;
}
</style>
