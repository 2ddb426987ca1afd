<script setup lang="ts">
// Play, position, overview of what is heard, repeat range, listening level, loudness now.
import { computed, ref, watch } from 'vue'
import { byOrder, heardClips, rows, settings } from '@nullet/core/session/session'
import { slotLabel } from '@nullet/core/processors/table'
import { FADER } from '~/numbers/quantity'
import { dB } from '~/words/format'
import { behindText } from '~/session/behind'
import { hintOf } from '~/session/whereTo'
import { useAsk } from '~/stores/ask'
import { useGestures } from '~/stores/gestures'
import { useListening } from '~/stores/listening'
import { useNotices } from '~/stores/notices'
import { useProbe } from '~/stores/probe'
import { useSession } from '~/stores/session'
import { useStrips } from '~/stores/strips'
import { useTransport } from '~/stores/transport'

const store = useSession(),
  transport = useTransport(),
  ask = useAsk(),
  strips = useStrips(),
  notices = useNotices()
const heard = computed(() => store.session?.channel[settings(store.session).heardChannel ?? ''])
const listening = useListening(),
  probe = useProbe()
const as = computed(() => settings(store.session!).heardAs)
const keyName = computed(() => {
  const slot = store.session?.slot[probe.keyHeard ?? '']
  return slot
    ? `key of ${slotLabel(slot.processor).toLowerCase()} on ${store.session!.channel[slot.channel]?.name}`
    : ''
})
const LISTENING = { ...FADER, label: 'listening level' }
const level = computed(() => (store.session ? settings(store.session).heardLevelDb : 0))
const now = ref({ lufs: '', peak: '', over: false })
watch(
  () => transport.beat,
  () => {
    if (transport.beat % 6) return
    now.value = {
      lufs: `${dB(transport.now.lufs)} LUFS`,
      peak: `${dB(transport.now.truePeak)} dBTP`,
      over: transport.now.truePeak > -1
    }
  }
)
const clips = computed(() => {
  const s = store.session
  return s ? heardClips(s).filter(c => !s.channel[c.channel]?.muted && !s.channel[c.channel]?.parked) : []
})
const ahead = computed(
  () =>
    `Sound is computed ${readAheadMs.value} ms ahead of the output${transport.info.cores > 1 ? ', on two cores' : ''}`
)
const readAheadMs = computed(() => ((transport.info.readAhead / transport.rate) * 1000).toFixed(0))

async function choose(): Promise<void> {
  const s = store.session!
  const id = await ask.ask({
    title: 'Hear…',
    kind: 'choice',
    choices: rows(s, 'channel')
      .sort((a, b) => Number(a.kind === 'track') - Number(b.kind === 'track') || byOrder(a, b))
      .map(c => ({ value: c.id, label: c.name, hint: hintOf(store.network!, c.id) }))
  })
  if (id) strips.hear(id)
}
watch(
  () => transport.fellBehind,
  behind => {
    if (!behind) return
    const say = behindText(behind, id => store.session?.channel[id]?.name ?? id)
    const print = () => useGestures().printThese(behind.heavy.map(h => h.channel))
    notices.tell(say, behind.heavy.length ? { label: 'Print these…', run: print } : undefined)
  }
)
</script>

<template>
  <footer>
    <button
      class="play"
      :class="{ on: transport.playing }"
      :aria-label="transport.playing ? 'stop' : 'play'"
      data-play
      @click="transport.toggle"
    >
      <svg viewBox="0 0 16 16" width="16" height="16" aria-hidden="true">
        <path v-if="transport.playing || transport.starting" d="M3 3h10v10H3z" />
        <path v-else d="M4 2l10 6-10 6z" />
      </svg>
    </button>
    <PlayPosition />
    <button
      class="plain repeat"
      :class="{ on: transport.repeating }"
      :title="transport.repeat ? 'repeat the marked range' : 'drag over the overview with Shift to mark a range'"
      :disabled="!transport.repeat"
      @click="transport.setRepeat(transport.repeat, !transport.repeating)"
    >
      repeat
    </button>
    <OverviewBar class="overview" :clips="clips" />
    <div class="heard">
      <span class="caption"
        >hearing
        <button class="plain fold" title="how it is heard (h a)" data-heard-as @click="listening.askAs">
          {{ as }}
        </button></span
      >
      <button v-if="probe.keyHeard" class="plain clip keyed" title="back to what is heard" @click="probe.hearKey(null)">
        {{ keyName }} ×
      </button>
      <button v-else class="plain clip" :title="heard?.name" data-heard @click="choose">
        {{ heard?.name ?? 'nothing' }}
      </button>
    </div>
    <div class="level">
      <span class="caption">listening level</span>
      <div class="row">
        <NumberField
          bar
          :quantity="LISTENING"
          :value="level"
          @move="heardLevelDb => store.preview('session', ['session'], () => ({ heardLevelDb }))"
          @done="heardLevelDb => store.apply('setSession', { heardLevelDb })"
        />
      </div>
    </div>
    <div class="loud">
      <span class="num">{{ now.lufs || '−∞ LUFS' }}</span>
      <span class="num" :class="{ over: now.over }">{{ now.peak || '−∞ dBTP' }}</span>
    </div>
    <div class="engine caption" :title="ahead">
      <span>{{ transport.info.readAhead ? `${readAheadMs} ms ahead` : 'stopped' }}</span>
      <span :class="{ over: transport.underruns }">{{
        transport.starting
          ? 'waiting for sound'
          : transport.underruns
            ? `${transport.underruns} ${transport.underruns === 1 ? 'gap' : 'gaps'}`
            : 'no gaps'
      }}</span>
    </div>
  </footer>
</template>

<style scoped>
footer {
  display: flex;
  align-items: center;
  gap: 16px;
  padding: 0 16px;
  border-top: 1px solid var(--rule);
  background: var(--surface);
}
.play {
  width: 36px;
  height: 36px;
  border-radius: 50%;
  border: 1px solid var(--ink);
  background: none;
  cursor: pointer;
  display: grid;
  place-items: center;
  flex: none;
}
.play path {
  fill: var(--ink);
}
.play.on {
  border-color: var(--signal);
}
.play.on path {
  fill: var(--signal);
}
.repeat {
  color: var(--ink-2);
}
.repeat.on {
  color: var(--acting);
}
.overview {
  flex: 1;
  min-width: 120px;
  height: 44px;
}
.heard {
  display: grid;
  max-width: 130px;
}
.fold {
  color: var(--acting);
}
.keyed {
  color: var(--key);
  font-weight: 600;
}
.level {
  display: grid;
  width: 150px;
}
.row .number {
  grid-template-columns: 1fr 42px;
}
.loud,
.engine {
  display: grid;
  flex: none;
}
/* What is said of it changes: nothing beside it moves. */
.engine {
  min-width: 72px;
}
.loud .num {
  width: 96px;
  font-size: 12px;
}
.over {
  color: var(--wrong);
}
</style>
