<script setup lang="ts">
// The selected channel: what it is, what is done with it most, and its ways.
import { computed, shallowRef, watch } from 'vue'
import { layoutName } from '@nullet/core/session/layouts'
import { PAN } from '~/numbers/quantity'
import { drawn } from '~/session/drawn'
import { useOpenRail } from '~/stores/openRail'
import { useSelection } from '~/stores/selection'
import { useSession } from '~/stores/session'
import { useShell } from '~/stores/shell'
import { useStrips } from '~/stores/strips'

const store = useSession(),
  selection = useSelection(),
  shell = useShell(),
  strips = useStrips(),
  openRail = useOpenRail()
const channel = computed(() => (selection.focused ? store.session!.channel[selection.focused] : undefined))
/** Of a panel that opens the head comes first: what a hand has just done is drawn before all else is there. */
const isFilled = shallowRef(false)
watch(
  () => !!channel.value,
  async open => {
    if (open) await drawn()
    isFilled.value = open && !!channel.value
  },
  { immediate: true }
)
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
      <template v-if="isFilled">
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

        <PathWays :id="channel.id" />
      </template>
    </template>
  </aside>
</template>

<style scoped>
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
</style>
