<script setup lang="ts">
// One feed in the Path: to where (or from where), its tap, its level, and a way to take it away.
import { computed } from 'vue'
import { slotLabel } from '@nullet/core/processors/table'
import type { Feed } from '@nullet/core/session/rows'
import { dB } from '~/words/format'
import { useSelection } from '~/stores/selection'
import { useSession } from '~/stores/session'
import { useStrips } from '~/stores/strips'

const props = defineProps<{ feed: Feed; /** Shows where it comes from instead of where it goes. */ from?: boolean }>()
const store = useSession(),
  selection = useSelection(),
  strips = useStrips()
const TAP_WORDS = { input: 'from its input', pre: 'before the fader', post: 'after the fader' }
const NEXT = { post: 'pre', pre: 'input', input: 'post' } as const
const nameOf = (id: string | null) => store.session!.channel[id ?? '']?.name ?? ''
const ports = computed(() => props.feed.ports.map(p => store.session!.port[p]?.name).join(', '))
const goal = computed(() => {
  const f = props.feed
  if (f.kind !== 'key') return f.kind === 'port' ? ports.value : nameOf(f.to)
  const slot = store.session!.slot[f.slot]
  return slot ? `${nameOf(slot.channel)} · ${slotLabel(slot.processor).toLowerCase()}` : ''
})
const end = computed(() =>
  props.from
    ? props.feed.from
    : props.feed.kind === 'key'
      ? store.session!.slot[props.feed.slot]?.channel
      : props.feed.to
)
const shown = computed(() =>
  props.from
    ? props.feed.from
      ? nameOf(props.feed.from)
      : ports.value
    : `${props.feed.kind === 'key' ? 'key of ' : ''}${goal.value}`
)
function go(): void {
  if (end.value && store.session!.channel[end.value]) selection.set([end.value], end.value)
}
async function level(): Promise<void> {
  const levelDb = await strips.askDb(
    `Level of the ${props.feed.kind === 'main' ? 'feed' : props.feed.kind} to ${goal.value}`,
    props.feed.levelDb
  )
  if (levelDb !== undefined) store.apply('setFeeds', { ids: [props.feed.id], fields: { levelDb } })
}
</script>

<template>
  <div class="line" :class="feed.kind">
    <i class="mark" /><button class="plain clip" :title="shown" @click="go">{{ shown }}</button>
    <span v-if="from" class="caption">{{ feed.kind === 'main' ? '' : feed.kind }}</span>
    <button
      v-else
      class="plain caption"
      :title="`${TAP_WORDS[feed.tap]}; click for another tap`"
      @click="store.apply('setFeeds', { ids: [feed.id], fields: { tap: NEXT[feed.tap] } })"
    >
      {{ feed.tap }}
    </button>
    <button class="plain num" title="type a level" @click="level">{{ dB(feed.levelDb) }}</button>
    <button
      class="plain quiet"
      :aria-label="`remove the ${feed.kind} ${from ? 'from' : 'to'} ${from ? shown : goal}`"
      @click="store.apply('removeFeeds', { ids: [feed.id] })"
    >
      ×
    </button>
  </div>
</template>

<style scoped>
.line {
  display: flex;
  gap: 8px;
  align-items: center;
  height: 23px;
}
.line > .clip {
  flex: 1;
  min-width: 0;
}
.num {
  min-width: 42px;
}
.mark {
  width: 18px;
  flex: none;
  border-top: 1.5px solid var(--ink-3);
}
.send .mark {
  border-top: 1.5px dashed var(--acting);
}
.key .mark {
  border-top: 2px dotted var(--key);
}
.port .mark,
.input .mark {
  border-top: 3px double var(--ink);
}
</style>
