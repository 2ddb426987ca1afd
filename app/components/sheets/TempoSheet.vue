<script setup lang="ts">
// The tempo map: from which bar and beat which tempo holds, and how many beats a bar has.
import { ref } from 'vue'
import { barText } from '@nullet/core/notes/tempo'
import { settings } from '@nullet/core/session/session'
import { readNumber } from '~/numbers/read'
import { useSession } from '~/stores/session'

const emit = defineEmits<{ close: [] }>()
const store = useSession(),
  now = settings(store.session!)
const perBar = ref(now.beatsPerBar)
const lines = ref(
  now.tempo.map(([beat, bpm]) => ({ place: barText(beat, now.beatsPerBar), bpm: String(Number(bpm.toFixed(3))) }))
)
const problem = ref('')
const taps: number[] = []
/** The tempo of the last taps. */
function tap(): void {
  const at = performance.now()
  if (taps.length && at - taps.at(-1)! > 2500) taps.length = 0
  taps.push(at)
  if (taps.length > 8) taps.shift()
  if (taps.length > 2) lines.value[0]!.bpm = ((60000 * (taps.length - 1)) / (at - taps[0]!)).toFixed(1)
}
function beatOf(place: string): number {
  const m = /^(\d+)(?:[.:](\d+(?:\.\d+)?))?$/.exec(place.trim())
  return m ? (Number(m[1]) - 1) * perBar.value + Number(m[2] ?? 1) - 1 : NaN
}
function add(): void {
  const last = lines.value.at(-1)!
  lines.value.push({ place: barText(beatOf(last.place) + perBar.value * 4, perBar.value), bpm: last.bpm })
}
function tempoOf(text: string): number {
  const read = readNumber(text)
  return 'value' in read && read.value !== null ? read.value : NaN
}
function done(): void {
  const tempo = lines.value.map(l => [beatOf(l.place), tempoOf(l.bpm)])
  const wrong = tempo.findIndex(([beat, bpm]) => !(beat! >= 0) || !(bpm! >= 20 && bpm! <= 400))
  problem.value =
    wrong >= 0
      ? `Line ${wrong + 1}: a place is bar.beat from 1.1 on, a tempo 20 to 400.`
      : tempo[0]![0] !== 0
        ? 'The first line begins at 1.1.'
        : tempo.some((t, i) => i > 0 && t[0]! <= tempo[i - 1]![0]!)
          ? 'The places must rise from line to line.'
          : ''
  if (!problem.value && store.apply('setSession', { tempo, beatsPerBar: perBar.value })) emit('close')
}
</script>

<template>
  <p class="quiet">Notes, delays that are set as notes, the ruler and snapping follow it. Audio stays where it is.</p>
  <label class="bar"
    ><span>beats in a bar</span
    ><NumberField
      :quantity="{ label: 'beats in a bar', min: 1, max: 32, whole: true, initial: 4, write: String }"
      :value="perBar"
      @done="v => (perBar = v ?? perBar)"
    /><el-button size="small" data-tap @click="tap">tap the tempo</el-button></label
  >
  <div v-for="(l, i) in lines" :key="i" class="line">
    <span class="caption">from</span
    ><el-input v-model="l.place" size="small" :disabled="i === 0" :aria-label="`place ${i + 1}`" />
    <el-input v-model="l.bpm" size="small" :aria-label="`tempo ${i + 1}`" data-bpm /><span class="caption">bpm</span>
    <button v-if="i > 0" class="plain quiet" :aria-label="`remove line ${i + 1}`" @click="lines.splice(i, 1)">×</button>
  </div>
  <button class="plain act" @click="add">another tempo later on</button>
  <p v-if="problem" class="wrong" role="alert">{{ problem }}</p>
  <SheetEnd label="Set the tempo" @close="emit('close')" @done="done" />
</template>

<style scoped>
p {
  margin: 0 0 10px;
}
.wrong {
  color: var(--wrong);
  margin: 10px 0 0;
}
.act {
  color: var(--acting);
}
.bar,
.line {
  display: flex;
  gap: 10px;
  align-items: center;
  margin-bottom: 8px;
}
.line .el-input {
  width: 96px;
}
</style>
