<script setup lang="ts">
// Buttons in a row: those that do not fit go into one menu at its end, in their order.
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue'

export interface FitItem {
  label: string
  title?: string
  run(): unknown
  disabled?: boolean
  look?: string
  /** Attributes of the button, for what looks for it. */
  attrs?: Record<string, string | boolean>
}
const props = defineProps<{ items: readonly FitItem[]; gap?: number }>()
const row = ref<HTMLElement>(),
  measure = ref<HTMLElement>()
const count = ref(props.items.length)
const MORE_PX = 56
const gap = computed(() => props.gap ?? 14)

function fit(): void {
  if (!row.value || !measure.value) return
  const widths = [...measure.value.children].map(el => (el as HTMLElement).offsetWidth + gap.value)
  const room = row.value.clientWidth + gap.value
  const whole = widths.reduce((a, b) => a + b, 0)
  if (whole <= room) return void (count.value = widths.length)
  let used = MORE_PX + gap.value,
    n = 0
  while (n < widths.length && used + widths[n]! <= room) used += widths[n++]!
  count.value = n
}
let observer: ResizeObserver | null = null
/** Heard of once the page is laid out, before it is painted: to ask at once would have it laid out twice. */
function look(): void {
  observer?.disconnect()
  observer?.observe(row.value!)
}
onMounted(() => {
  observer = new ResizeObserver(fit)
  look()
  void document.fonts.ready.then(fit)
})
onBeforeUnmount(() => observer?.disconnect())
watch(() => props.items.map(i => i.label).join('\n'), look, { flush: 'post' })
const shown = computed(() => props.items.slice(0, count.value))
const rest = computed(() => props.items.slice(count.value))
</script>

<template>
  <div ref="row" class="fit" :style="{ gap: `${gap}px` }">
    <div ref="measure" class="measure" aria-hidden="true">
      <span v-for="i in items" :key="i.label" :class="i.look">{{ i.label }}</span>
    </div>
    <button
      v-for="i in shown"
      :key="i.label"
      class="plain"
      :class="i.look"
      :title="i.title"
      :disabled="i.disabled"
      v-bind="i.attrs"
      @click="i.run"
    >
      {{ i.label }}
    </button>
    <el-dropdown v-show="rest.length" trigger="click" :persistent="false" @command="(n: number) => rest[n]?.run()">
      <button class="plain more" data-more :aria-label="`more: ${rest.map(i => i.label).join(', ')}`">
        more <span class="quiet">▾</span>
      </button>
      <template #dropdown>
        <el-dropdown-menu>
          <el-dropdown-item
            v-for="(i, n) in rest"
            :key="i.label"
            :command="n"
            :disabled="i.disabled"
            :title="i.title"
            >{{ i.label }}</el-dropdown-item
          >
        </el-dropdown-menu>
      </template>
    </el-dropdown>
  </div>
</template>

<style scoped>
.fit {
  position: relative;
  display: flex;
  flex: 1 1 0;
  min-width: 56px;
  align-items: center;
  justify-content: flex-end;
  white-space: nowrap;
}
.measure {
  position: absolute;
  visibility: hidden;
  display: flex;
  pointer-events: none;
  height: 0;
  overflow: hidden;
  max-width: 0;
}
.measure span {
  flex: none;
}
.acting {
  color: var(--acting);
}
.acting:hover {
  text-decoration: underline;
}
.quietly,
.more {
  color: var(--ink-2);
}
.mind {
  color: var(--mind);
}
</style>
