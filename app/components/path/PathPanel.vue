<script setup lang="ts">
// For the selected channel: what feeds it, the chain of stages to the ears with their faders, where else it goes.
import { computed, ref, watch } from 'vue'
import { layoutName } from '@nullet/core/layouts/layouts'
import { alsoGoesTo, fedBy, pathToEars } from '@nullet/core/network/path'
import { PROCESSORS, slotLabel } from '@nullet/core/processors/table'
import { rows, slotsOf } from '@nullet/core/session/session'
import type { Feed } from '@nullet/core/session/rows'
import { whySilent } from '@nullet/core/network/whySilent'
import { dB, pan } from '~/components/format'
import { useSelection } from '~/stores/selection'
import { useSession } from '~/stores/session'
import { useStrips } from '~/stores/strips'
import { useShell } from '~/stores/shell'

const store = useSession(), selection = useSelection(), shell = useShell(), strips = useStrips()
const channel = computed(() => selection.focused ? store.session!.channel[selection.focused] : undefined)
const stages = computed(() => channel.value ? pathToEars(store.network!, channel.value.id) : [])
const fed = computed(() => channel.value ? fedBy(store.network!, channel.value.id) : [])
const also = computed(() => channel.value ? alsoGoesTo(store.network!, channel.value.id) : [])
const clips = computed(() => channel.value ? rows(store.session!, 'clip').filter(c => c.channel === channel.value!.id) : [])
const slots = computed(() => channel.value ? slotsOf(store.session!, channel.value.id) : [])
const silent = ref<ReturnType<typeof whySilent> | null>(null)
watch(() => [selection.focused, store.session], () => { silent.value = null })
const nameOf = (id: string | null) => store.session!.channel[id ?? '']?.name ?? ''

function goal(f: Feed): string {
  if (f.kind === 'key') { const slot = store.session!.slot[f.slot!]; return slot ? `${nameOf(slot.channel)} · ${slotLabel(slot.processor).toLowerCase()}` : '' }
  if (f.kind === 'port') return f.ports.map(p => store.session!.port[p]?.name).join(', ')
  return nameOf(f.to)
}
const go = (id: string | null | undefined) => { if (id && store.session!.channel[id]) selection.set([id], id) }
const goalId = (f: Feed) => f.kind === 'key' ? store.session!.slot[f.slot!]?.channel : f.to
const TAP_WORDS = { input: 'from its input', pre: 'before the fader', post: 'after the fader' }

async function level(f: Feed): Promise<void> {
  const levelDb = await strips.askDb(`Level of the ${f.kind === 'main' ? 'feed' : f.kind} to ${goal(f)}`, f.levelDb)
  if (levelDb !== undefined) store.apply('setFeeds', { ids: [f.id], fields: { levelDb } })
}
const tap = (f: Feed) => store.apply('setFeeds', { ids: [f.id], fields: { tap: f.tap === 'post' ? 'pre' : f.tap === 'pre' ? 'input' : 'post' } })
function setPan(pan: number): void { store.apply('setChannels', { ids: selection.actOn(channel.value!.id), fields: { pan } }) }
</script>

<template>
  <aside class="path scroll" aria-label="path">
    <div v-if="!channel" class="empty"><h2>Path</h2>Select a channel to see what feeds it and the way it takes to your ears.</div>
    <template v-else>
      <div class="head">
        <h2 class="title clip" :title="channel.name">{{ channel.name }}</h2>
        <button class="plain" :disabled="!selection.past.length" aria-label="back" title="back (g b)" @click="selection.back">‹</button>
        <button class="plain" :disabled="!selection.future.length" aria-label="forward" title="forward (g f)" @click="selection.forward">›</button>
      </div>
      <p class="quiet kind">{{ channel.role }} · {{ layoutName(channel.layout) }}<template v-if="channel.family"> · {{ channel.family }} family</template></p>
      <div class="verbs">
        <button class="plain" :class="{ on: channel.muted }" @click="strips.toggle(selection.actOn(channel.id), 'muted')">mute</button>
        <button class="plain" :class="{ on: channel.soloed }" @click="strips.toggle(selection.actOn(channel.id), 'soloed')">solo</button>
        <button class="plain" :class="{ on: channel.safe }" @click="strips.toggle(selection.actOn(channel.id), 'safe')">safe</button>
        <button class="plain" @click="strips.hear(channel.id)">hear</button>
        <button class="plain" @click="shell.railOf = channel.id">open rail</button>
      </div>
      <div class="pan"><span class="caption">pan</span><SlideBar :value="channel.pan" :min="-1" :max="1" :step="0.01" label="pan" @move="v => store.preview('channel', selection.actOn(channel!.id), () => ({ pan: v }))" @done="setPan" @dblclick="setPan(0)" /><span class="num">{{ pan(channel.pan) }}</span></div>

      <h3>to the ears</h3>
      <div v-for="(id, i) in stages" :key="id" class="stage" :class="{ last: i === stages.length - 1 }">
        <button class="plain clip" :title="nameOf(id)" @click="go(id)">{{ nameOf(id) }}</button>
        <LevelBar slim :level="store.session!.channel[id]!.levelDb" :meter="id" :label="nameOf(id)" @move="db => store.preview('channel', [id], () => ({ levelDb: db }))" @done="db => store.apply('setChannels', { ids: [id], fields: { levelDb: db } })" />
        <span class="num">{{ dB(store.session!.channel[id]!.levelDb) }}</span>
      </div>

      <template v-if="slots.length">
        <h3>inside</h3>
        <div v-for="s in slots" :key="s.id" class="line"><button class="plain clip" @click="shell.railOf = channel.id; shell.openSlot = s.id">{{ s.loop ? `Loop: ${store.session!.loop[s.loop]?.name}` : slotLabel(s.processor) }}</button><span class="caption">{{ s.state === 'on' ? (PROCESSORS[s.processor] || s.loop ? '' : 'not here') : s.state }}</span></div>
      </template>

      <h3>also goes to</h3>
      <p v-if="!also.length" class="quiet none">nowhere else</p>
      <div v-for="f in also" :key="f.id" class="line feed" :class="f.kind">
        <i class="mark" /><button class="plain clip" @click="go(goalId(f))">{{ f.kind === 'key' ? 'key of ' : '' }}{{ goal(f) }}</button>
        <button class="plain caption" :title="`${TAP_WORDS[f.tap]}; click for another tap`" @click="tap(f)">{{ f.tap === 'post' ? 'post' : f.tap }}</button>
        <button class="plain num" title="type a level" @click="level(f)">{{ dB(f.levelDb) }}</button>
        <button class="plain quiet" :aria-label="`remove the ${f.kind} to ${goal(f)}`" @click="store.apply('removeFeeds', { ids: [f.id] })">×</button>
      </div>

      <h3>fed by</h3>
      <div v-for="f in fed" :key="f.id" class="line feed" :class="f.kind">
        <i class="mark" /><button class="plain clip" @click="go(f.from)">{{ f.from ? nameOf(f.from) : f.ports.map(p => store.session!.port[p]?.name).join(', ') }}</button>
        <span class="caption">{{ f.kind === 'main' ? '' : f.kind }}</span><button class="plain num" @click="level(f)">{{ dB(f.levelDb) }}</button>
      </div>
      <div v-for="c in clips" :key="c.id" class="line"><span class="clip quiet">its clip: {{ store.session!.medium[c.medium]?.name }}</span></div>
      <p v-if="!fed.length && !clips.length" class="quiet none">nothing</p>

      <hr class="rule">
      <el-button size="small" @click="silent = whySilent(store.session!, channel.id)">Why is this silent?</el-button>
      <ul v-if="silent" class="why">
        <li v-if="!silent.length" class="quiet">Nothing in the network keeps it from being heard.</li>
        <li v-for="(w, i) in silent" :key="i"><span :class="{ first: i === 0 }">{{ w.sentence }}</span> <button v-if="w.fix" class="plain act" @click="store.apply(w.fix.edit.verb, w.fix.edit.args)">{{ w.fix.label }}</button></li>
      </ul>
    </template>
  </aside>
</template>

<style scoped>
.path { width: 300px; flex: none; padding: 14px 16px; border-left: 1px solid var(--rule); background: var(--surface); }
.head { display: flex; gap: 8px; align-items: baseline; }
.head .title { flex: 1; }
.kind { margin: 2px 0 8px; }
.verbs { display: flex; gap: 14px; }
.verbs .on { color: var(--acting); font-weight: 500; }
.pan { display: grid; grid-template-columns: 28px 1fr 34px; gap: 10px; align-items: center; margin-top: 6px; }
h3 { font-size: 11px; font-weight: 500; color: var(--ink-2); margin: 14px 0 4px; }
.stage { display: grid; grid-template-columns: 104px 1fr 42px; gap: 8px; align-items: center; height: 26px; position: relative; padding-left: 14px; }
.stage::before { content: ''; position: absolute; left: 2px; top: 9px; width: 8px; height: 8px; border-radius: 50%; background: var(--signal); }
.stage::after { content: ''; position: absolute; left: 5.5px; top: 17px; height: 18px; width: 1px; background: var(--signal); }
.stage.last::after { display: none; }
.line { display: flex; gap: 8px; align-items: center; height: 23px; }
.line > .clip { flex: 1; min-width: 0; }
.line .num { min-width: 42px; }
.mark { width: 18px; flex: none; border-top: 1.5px solid var(--ink-3); }
.send .mark { border-top: 1.5px dashed var(--acting); }
.key .mark { border-top: 2px dotted var(--key); }
.port .mark, .input .mark { border-top: 3px double var(--ink); }
.none { margin: 2px 0; }
.why { padding-left: 16px; margin: 8px 0; }
.why .first { font-weight: 500; }
.act { color: var(--acting); }
</style>
