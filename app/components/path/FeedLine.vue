<script setup lang="ts">
// One feed in the Path: to where (or from where), its tap, its level, and a way to take it away.
import { computed } from 'vue'
import { printInPlaceOf } from '@nullet/core/graph/takeOver'
import { slotLabel } from '@nullet/core/processors/table'
import type { Feed } from '@nullet/core/session/rows'
import { GAIN } from '~/numbers/quantity'
import { useSelection } from '~/stores/selection'
import { useSession } from '~/stores/session'
import { useFeeds } from '~/stores/feeds'

const props = defineProps<{ feed: Feed; /** Shows where it comes from instead of where it goes. */ from?: boolean }>()
const store = useSession(),
  selection = useSelection(),
  feeds = useFeeds()
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
/** What stands in its place, in words: then nothing passes here. */
const standing = computed(() => {
  const print = printInPlaceOf(store.network!, props.feed)
  return print ? `${shown.value}: “${nameOf(print.channel)}” is heard in its place` : null
})
function go(): void {
  if (end.value && store.session!.channel[end.value]) selection.set([end.value], end.value)
}
/** What a gesture here acts on: with several channels selected, the same feed of each. */
const same = () => feeds.sameOf(props.feed, selection.list)
const word = computed(() => (props.feed.kind === 'main' ? 'feed' : props.feed.kind))
</script>

<template>
  <div class="line" :class="[feed.kind, { muted: feed.muted || standing }]">
    <i class="mark" /><button class="plain clip" :title="standing ?? shown" @click="go">{{ shown }}</button>
    <span v-if="from" class="caption">{{ feed.kind === 'main' ? '' : feed.kind }}</span>
    <button
      v-else
      class="plain caption"
      :title="`${TAP_WORDS[feed.tap]}; click for another tap`"
      @click="store.apply('setFeeds', { ids: same(), fields: { tap: NEXT[feed.tap] } })"
    >
      {{ feed.tap }}
    </button>
    <button
      class="plain mute"
      :class="{ on: feed.muted }"
      :aria-pressed="feed.muted"
      :aria-label="`mute the ${word} ${from ? 'from' : 'to'} ${from ? shown : goal}`"
      :title="feed.muted ? 'muted; click to let it through' : `mute this ${word}`"
      @click="store.apply('setFeeds', { ids: same(), fields: { muted: !feed.muted } })"
    >
      m
    </button>
    <NumberField
      :quantity="{ ...GAIN, label: `level of the ${word} ${from ? 'from' : 'to'} ${from ? shown : goal}` }"
      :value="feed.levelDb"
      @move="v => feeds.preview(same(), feed, v)"
      @done="(v, typed) => feeds.setLevel(same(), feed, v, typed)"
    />
    <button
      class="plain quiet"
      :aria-label="`remove the ${feed.kind} ${from ? 'from' : 'to'} ${from ? shown : goal}`"
      @click="store.apply('removeFeeds', { ids: same() })"
    >
      ×
    </button>
  </div>
</template>

<style scoped>
.mute {
  width: 16px;
  text-align: center;
  font: 11px var(--mono);
  color: var(--ink-2);
}
.mute.on {
  color: var(--acting);
  font-weight: 600;
}
.muted > .clip {
  color: var(--ink-2);
  text-decoration: line-through;
}
.number {
  min-width: 42px;
  text-align: right;
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
