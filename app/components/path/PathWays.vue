<script setup lang="ts">
// The ways of a channel: the chain of stages to the ears with their faders, what is inside it, where else it goes, what
// feeds it, and answers to questions about it.
import { computed } from 'vue'
import { alsoGoesTo, fedBy } from '@nullet/core/graph/path'
import { PROCESSORS, slotLabel } from '@nullet/core/processors/table'
import { phrasesOf } from '@nullet/core/notes/phrases'
import { heardClips, printOn, slotsOf, takesOf } from '@nullet/core/session/session'
import { plural } from '~/words/format'
import { useCompare } from '~/stores/compare'
import { useNotes } from '~/stores/notes'
import { trackSides } from '~/session/compareSides'
import { useOpenRail } from '~/stores/openRail'
import { useSelection } from '~/stores/selection'
import { useSession } from '~/stores/session'

const props = defineProps<{ id: string }>()
const store = useSession(),
  selection = useSelection(),
  compare = useCompare(),
  openRail = useOpenRail(),
  notes = useNotes()
const channel = computed(() => store.session!.channel[props.id])
const fed = computed(() => fedBy(store.network!, props.id))
const mains = computed(() => (store.network!.feedsFrom.get(props.id) ?? []).filter(f => f.kind === 'main'))
const also = computed(() => [...(mains.value.length > 1 ? mains.value : []), ...alsoGoesTo(store.network!, props.id)])
/** What no moving level changes. */
const wired = () => store.wiring!.session
const hasNotes = computed(() => phrasesOf(wired(), props.id).length > 0)
const clips = computed(() => heardClips(wired()).filter(c => c.channel === props.id))
const printed = computed(() => printOn(wired(), props.id))
/** What can be heard of it in turn: takes, live, the monitors of its unit, its reference. */
const sides = computed(() => (channel.value?.kind === 'track' ? trackSides(wired(), props.id) : []))
const takes = computed(() => takesOf(wired(), props.id))
const slots = computed(() => slotsOf(wired(), props.id))
</script>

<template>
  <PathStages :id="id" />

  <template v-if="slots.length">
    <h3>inside</h3>
    <div v-for="s in slots" :key="s.id" class="line">
      <button class="plain clip" @click="openRail(id, s.id)">
        {{ s.loop ? `Loop: ${store.session!.loop[s.loop]?.name}` : slotLabel(s.processor) }}</button><span
        class="caption"
        >{{
          compare.hides(s.id)
            ? 'compared'
            : s.state === 'on'
              ? PROCESSORS[s.processor] || s.loop
                ? ''
                : 'not here'
              : s.state
        }}</span
      >
    </div>
  </template>

  <h3>also goes to</h3>
  <p v-if="!also.length" class="quiet none">nowhere else</p>
  <FeedLine v-for="f in also" :key="f.id" :feed="f" />

  <h3>fed by</h3>
  <FeedLine v-for="f in fed" :key="f.id" :feed="f" from />
  <div v-if="printed" class="line">
    <button v-if="printed.source" class="plain clip quiet" @click="selection.set([printed.source], printed.source)">
      printed from {{ store.session!.channel[printed.source]?.name }}
    </button>
    <span v-else class="clip quiet">printed from {{ printed.sourceName || 'a channel' }}, which was removed</span>
  </div>
  <div v-if="sides.length > 1" class="line">
    <span class="clip quiet" :title="sides.map(x => x.word).join('\n')">{{
      sides.map(x => x.word).join(' / ')
    }}</span><button
      v-if="!compare.isOf([id])"
      class="plain act"
      title="each of them while it plays, equally loud"
      data-compare-sides
      @click="compare.beginTakes(id)"
    >
      compare
    </button>
  </div>
  <CompareSides v-if="sides.length > 1" :ids="[id]" keeps />
  <div v-if="takes.length" class="line">
    <span class="clip quiet">{{
      channel.take
        ? `“${store.session!.take[channel.take]?.name}”, one of ${plural(takes.length, 'take', 'takes')}`
        : `none of its ${plural(takes.length, 'take', 'takes')}`
    }}</span>
  </div>
  <div v-for="c in clips" :key="c.id" class="line">
    <span class="clip quiet">its clip: {{ store.session!.medium[c.medium]?.name }}</span>
  </div>
  <div v-if="hasNotes" class="line">
    <button class="plain clip quiet" title="o n" @click="notes.open(id)">its notes</button>
  </div>
  <p v-if="!fed.length && !clips.length && !hasNotes" class="quiet none">nothing</p>

  <hr class="rule" />
  <PathQuestions :id="id" :key="id" />
</template>

<style scoped>
.act {
  color: var(--acting);
}
/* A feed is such a line too. */
.line {
  display: flex;
  gap: 8px;
  align-items: center;
  height: 23px;
}
.line > :deep(.clip) {
  flex: 1;
  min-width: 0;
}
.none {
  margin: 2px 0;
}
</style>
