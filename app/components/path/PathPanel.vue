<script setup lang="ts">
// For the selected channel: what feeds it, the chain of stages to the ears with their faders, where else it goes, and
// answers to questions about it.
import { computed } from 'vue'
import { layoutName } from '@nullet/core/session/layouts'
import { alsoGoesTo, fedBy } from '@nullet/core/graph/path'
import { PROCESSORS, slotLabel } from '@nullet/core/processors/table'
import { phrasesOf } from '@nullet/core/notes/phrases'
import { heardClips, printOn, slotsOf, takesOf } from '@nullet/core/session/session'
import { PAN } from '~/numbers/quantity'
import { plural } from '~/words/format'
import { useCompare } from '~/stores/compare'
import { useNotes } from '~/stores/notes'
import { trackSides } from '~/session/compareSides'
import { useOpenRail } from '~/stores/openRail'
import { useSelection } from '~/stores/selection'
import { useSession } from '~/stores/session'
import { useShell } from '~/stores/shell'
import { useStrips } from '~/stores/strips'

const store = useSession(),
  selection = useSelection(),
  shell = useShell(),
  strips = useStrips(),
  compare = useCompare(),
  openRail = useOpenRail(),
  notes = useNotes()
const channel = computed(() => (selection.focused ? store.session!.channel[selection.focused] : undefined))
const fed = computed(() => (channel.value ? fedBy(store.network!, channel.value.id) : []))
const mains = computed(() =>
  channel.value ? (store.network!.feedsFrom.get(channel.value.id) ?? []).filter(f => f.kind === 'main') : []
)
const also = computed(() => [
  ...(mains.value.length > 1 ? mains.value : []),
  ...(channel.value ? alsoGoesTo(store.network!, channel.value.id) : [])
])
/** What no moving level changes. */
const wired = () => store.wiring!.session
const hasNotes = computed(() => (channel.value ? phrasesOf(wired(), channel.value.id).length > 0 : false))
const clips = computed(() => (channel.value ? heardClips(wired()).filter(c => c.channel === channel.value!.id) : []))
const printed = computed(() => (channel.value ? printOn(wired(), channel.value.id) : undefined))
/** What can be heard of it in turn: takes, live, the monitors of its unit, its reference. */
const sides = computed(() => (channel.value?.kind === 'track' ? trackSides(wired(), channel.value.id) : []))
const takes = computed(() => (channel.value ? takesOf(wired(), channel.value.id) : []))
const slots = computed(() => (channel.value ? slotsOf(wired(), channel.value.id) : []))
const act = () => selection.actOn(channel.value!.id)
function setPan(pan: number | null): void {
  if (pan !== null) store.apply('setChannels', { ids: act(), fields: { pan } })
}
</script>

<template>
  <aside class="path scroll" aria-label="path">
    <div v-if="!channel" class="empty">
      <h2>Path</h2>
      Select a channel to see what feeds it and the way it takes to your ears.
    </div>
    <template v-else>
      <div class="head">
        <h2 class="title clip" :title="channel.name">{{ channel.name }}</h2>
        <button
          class="plain"
          :class="{ on: shell.follows }"
          :aria-pressed="shell.follows"
          data-follows
          :title="
            shell.follows
              ? 'the view moves to what is selected; click to let it stay (v l)'
              : 'the view stays where it is; click to let it follow (v l)'
          "
          @click="shell.toggleFollows"
        >
          {{ shell.follows ? 'view follows' : 'view stays' }}
        </button>
        <button
          class="plain"
          :disabled="!selection.past.length"
          aria-label="back"
          title="back (g b)"
          @click="selection.back"
        >
          ‹
        </button>
        <button
          class="plain"
          :disabled="!selection.future.length"
          aria-label="forward"
          title="forward (g f)"
          @click="selection.forward"
        >
          ›
        </button>
      </div>
      <p class="quiet kind">
        {{ channel.role }} ·
        <button class="plain" title="another layout (l a)" @click="strips.askLayout(act())">
          {{ layoutName(channel.layout) }}</button><template v-if="channel.family">
          · {{ channel.family }} family</template
        ><template v-if="strips.shownLink(channel.id)"> · {{ strips.shownLink(channel.id) }}</template>
      </p>
      <div class="verbs">
        <button class="plain" :class="{ on: channel.muted }" @click="strips.toggle(act(), 'muted')">mute</button>
        <button class="plain" :class="{ on: channel.soloed }" @click="strips.toggle(act(), 'soloed')">solo</button>
        <button class="plain" :class="{ on: channel.safe }" @click="strips.toggle(act(), 'safe')">safe</button>
        <button class="plain" @click="strips.hear(channel.id)">hear</button>
        <button class="plain" @click="openRail(channel.id)">open rail</button>
      </div>
      <div class="pan">
        <span class="caption">pan</span
        ><NumberField
          bar
          :quantity="{ ...PAN, label: 'pan' }"
          :value="channel.pan"
          @move="v => store.preview('channel', act(), () => ({ pan: v }))"
          @done="setPan"
        />
      </div>

      <PathStages :id="channel.id" />

      <template v-if="slots.length">
        <h3>inside</h3>
        <div v-for="s in slots" :key="s.id" class="line">
          <button class="plain clip" @click="openRail(channel!.id, s.id)">
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
          v-if="!compare.isOf([channel.id])"
          class="plain act"
          title="each of them while it plays, equally loud"
          data-compare-sides
          @click="compare.beginTakes(channel.id)"
        >
          compare
        </button>
      </div>
      <CompareSides v-if="sides.length > 1" :ids="[channel.id]" keeps />
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
        <button class="plain clip quiet" title="o n" @click="notes.open(channel.id)">its notes</button>
      </div>
      <p v-if="!fed.length && !clips.length && !hasNotes" class="quiet none">nothing</p>

      <hr class="rule" />
      <PathQuestions :id="channel.id" :key="channel.id" />
    </template>
  </aside>
</template>

<style scoped>
.act {
  color: var(--acting);
}
.path {
  width: 300px;
  flex: none;
  padding: 14px 16px;
  border-left: 1px solid var(--rule);
  background: var(--surface);
}
@media (max-width: 1000px) {
  .path {
    width: 250px;
    padding: 10px 12px;
  }
}
.head {
  display: flex;
  gap: 8px;
  align-items: baseline;
}
.head .title {
  flex: 1;
}
.head button {
  font-size: 12px;
  color: var(--ink-2);
}
.head button.on {
  color: var(--signal);
}
.kind {
  margin: 2px 0 8px;
}
.verbs {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 14px;
}
.verbs .on {
  color: var(--acting);
  font-weight: 500;
}
.pan {
  display: grid;
  grid-template-columns: 28px 1fr;
  gap: 10px;
  align-items: center;
  margin-top: 6px;
}
.path :deep(h3) {
  font-size: 11px;
  font-weight: 500;
  color: var(--ink-2);
  margin: 14px 0 4px;
}
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
.none {
  margin: 2px 0;
}
</style>
