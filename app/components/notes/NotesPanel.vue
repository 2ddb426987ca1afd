<script setup lang="ts">
// The phrases of a note track: voice, where and how often, and the notes themselves. All of it while it plays.
import { computed, ref, watch } from 'vue'
import { keyName, keysOf, phrasesOf } from '@nullet/core/notes/phrases'
import { barText, beatOfFrame } from '@nullet/core/notes/tempo'
import { VOICES } from '@nullet/core/notes/voices'
import { settings } from '@nullet/core/session/session'
import type { Note, Phrase } from '@nullet/core/session/rows'
import { GAIN } from '~/numbers/quantity'
import { useAsk } from '~/stores/ask'
import { useNotes } from '~/stores/notes'
import { useNotices } from '~/stores/notices'
import { useSession } from '~/stores/session'
import { useShell } from '~/stores/shell'
import { useTransport } from '~/stores/transport'

const props = defineProps<{ channel: string }>()
const store = useSession(),
  shell = useShell(),
  notes = useNotes(),
  ask = useAsk(),
  transport = useTransport(),
  notices = useNotices()
const phrases = computed(() => phrasesOf(store.session!, props.channel).sort((a, b) => a.startBeat - b.startBeat))
const chosen = ref('')
const phrase = computed(() => phrases.value.find(p => p.id === chosen.value) ?? phrases.value[0])
const bar = computed(() => settings(store.session!).beatsPerBar)
const STEPS = [
  { value: 1, label: 'beats' },
  { value: 0.5, label: 'halves' },
  { value: 1 / 3, label: 'thirds' },
  { value: 0.25, label: 'quarters of a beat' },
  { value: 0.125, label: 'eighths of a beat' }
]
const stepOf = (p: Phrase) =>
  STEPS.reduce((best, s) => (Math.abs(s.value - p.stepBeats) < Math.abs(best.value - p.stepBeats) ? s : best)).value
const chordText = computed(() =>
  phrase.value
    ? [...phrase.value.notes]
        .sort((a, b) => a[2] - b[2])
        .map(n => keyName(n[2]))
        .join(' ')
    : ''
)
const chordDraft = ref('')
watch(
  chordText,
  text => {
    chordDraft.value = text
  },
  { immediate: true }
)
/** Beat of the phrase that is heard. */
const now = computed(() => {
  const p = phrase.value
  if (!p || !transport.playing) return null
  const beat = beatOfFrame(settings(store.session!).tempo, transport.position, transport.rate) - p.startBeat
  return beat >= 0 && beat < p.lengthBeats * p.repeats ? beat % p.lengthBeats : null
})

async function start(p: Phrase): Promise<void> {
  const text = await ask.ask({
    title: `Where “${p.name}” begins`,
    kind: 'text',
    initial: barText(p.startBeat, bar.value),
    placeholder: 'bar.beat, for example 5.1'
  })
  if (text === null) return
  const m = /^(\d+)(?:[.:](\d+))?$/.exec(text.trim())
  if (!m || Number(m[1]) < 1)
    return notices.wrong(new Error(`“${text}” is not a place: write bar.beat, both from 1. Nothing was changed.`))
  notes.set(p, { startBeat: (Number(m[1]) - 1) * bar.value + Number(m[2] ?? 1) - 1 })
}
function length(p: Phrase, beats: number): void {
  notes.set(p, {
    lengthBeats: beats,
    ...(p.as === 'chord' && { notes: p.notes.map(([b, , k, v]): Note => [b, beats, k, v]) })
  })
}
function chord(p: Phrase, keys: number[]): void {
  notes.setNotes(
    p,
    keys.map((k): Note => [0, p.lengthBeats, k, p.notes.find(n => n[2] === k)?.[3] ?? 90])
  )
}
function typed(p: Phrase, text: string): void {
  const keys = keysOf(text)
  if (keys) chord(p, [...new Set(keys)])
  else {
    chordDraft.value = chordText.value
    notices.wrong(new Error(`“${text}” are not notes: write them like A2 E3 C4. Nothing was changed.`))
  }
}
const BOARD = Array.from({ length: 37 }, (_, i) => 36 + i)
const isDark = (k: number) => [1, 3, 6, 8, 10].includes(k % 12)
function press(p: Phrase, key: number): void {
  const now = p.notes.map(n => n[2])
  chord(p, now.includes(key) ? now.filter(k => k !== key) : [...now, key])
}
</script>

<template>
  <section v-if="phrase" class="panel" data-notes>
    <div class="head">
      <button
        v-for="p in phrases"
        :key="p.id"
        class="plain tab"
        :class="{ on: p.id === phrase.id }"
        @click="chosen = p.id"
      >
        {{ p.name || 'phrase' }}
      </button>
      <button class="plain act" @click="notes.add(channel)">add a phrase</button>
      <span class="space" />
      <button v-if="phrases.length > 1" class="plain quiet" @click="store.apply('removePhrases', { ids: [phrase.id] })">
        remove “{{ phrase.name }}”
      </button>
      <button class="plain" aria-label="close the notes" @click="shell.openNotes = null">×</button>
    </div>
    <div class="fields">
      <label
        ><span class="caption">voice</span
        ><el-select
          :model-value="phrase.voice"
          size="small"
          aria-label="voice"
          @change="(voice: Phrase['voice']) => notes.set(phrase!, { voice })"
          ><el-option v-for="(v, id) in VOICES" :key="id" :value="id" :label="v.label" /></el-select
      ></label>
      <label
        ><span class="caption">level</span
        ><NumberField
          :quantity="{ ...GAIN, label: `level of ${phrase.name}` }"
          :value="phrase.levelDb"
          @done="levelDb => notes.set(phrase!, { levelDb })"
      /></label>
      <label
        ><span class="caption">begins at</span
        ><button class="plain num" title="bar.beat" @click="start(phrase)">
          {{ barText(phrase.startBeat, bar) }}
        </button></label
      >
      <label
        ><span class="caption">beats</span
        ><NumberField
          :quantity="{ label: `length of ${phrase.name} in beats`, min: 0.25, max: 4096, step: 0.25, write: String }"
          :value="phrase.lengthBeats"
          @done="v => v !== null && length(phrase!, v)"
      /></label>
      <label
        ><span class="caption">times</span
        ><NumberField
          data-times
          :quantity="{ label: `how often ${phrase.name} comes`, min: 1, max: 4096, whole: true, write: String }"
          :value="phrase.repeats"
          @done="v => v !== null && notes.set(phrase!, { repeats: v })"
      /></label>
      <label v-if="phrase.as !== 'chord'"
        ><span class="caption">steps</span
        ><el-select
          :model-value="stepOf(phrase)"
          size="small"
          style="width: 136px"
          aria-label="steps"
          @change="(stepBeats: number) => notes.set(phrase!, { stepBeats })"
          ><el-option v-for="s in STEPS" :key="s.value" :value="s.value" :label="s.label" /></el-select
      ></label>
      <label v-else class="wide"
        ><span class="caption">notes</span
        ><el-input
          v-model="chordDraft"
          size="small"
          aria-label="notes of the chord"
          data-chord
          @change="(t: string) => typed(phrase!, t)"
      /></label>
    </div>
    <div v-if="phrase.as === 'chord'" class="board" role="group" aria-label="keys of the chord">
      <button
        v-for="k in BOARD"
        :key="k"
        class="key"
        :class="{ dark: isDark(k), on: phrase.notes.some(n => n[2] === k) }"
        :aria-pressed="phrase.notes.some(n => n[2] === k)"
        :aria-label="keyName(k)"
        :title="keyName(k)"
        @click="press(phrase, k)"
      >
        {{ k % 12 === 0 ? keyName(k) : '' }}
      </button>
    </div>
    <NoteGrid v-else :phrase="phrase" :beat="now" :beats-per-bar="bar" @notes="n => notes.setNotes(phrase!, n)" />
  </section>
</template>

<style scoped>
.panel {
  padding: 10px 16px;
  border-bottom: 1px solid var(--rule);
  background: var(--ground);
}
.head {
  display: flex;
  align-items: center;
  gap: 14px;
  margin-bottom: 8px;
}
.tab {
  padding-bottom: 2px;
}
.tab.on {
  font-weight: 600;
  border-bottom: 2px solid var(--acting);
}
.space {
  flex: 1;
}
.act {
  color: var(--acting);
}
.fields {
  display: flex;
  gap: 20px;
  align-items: center;
  margin-bottom: 10px;
}
label {
  display: flex;
  gap: 8px;
  align-items: center;
}
label .el-select {
  width: 96px;
}
.wide {
  flex: 1;
  max-width: 340px;
}
.num {
  border-bottom: 1px dotted var(--rule);
}
.board {
  display: flex;
  gap: 2px;
  height: 46px;
}
.key {
  flex: 1;
  min-width: 0;
  border: 1px solid var(--rule);
  border-radius: 2px;
  background: var(--raised);
  font: 10px var(--mono);
  color: var(--ink-2);
  display: grid;
  align-items: end;
  justify-items: center;
  padding: 0 0 2px;
  cursor: pointer;
}
.key.dark {
  background: var(--track);
}
.key.on {
  background: var(--acting);
  border-color: var(--acting);
  color: var(--surface);
}
</style>
