<script setup lang="ts">
// A pass through a unit that is elsewhere: out as a file with marks, back as a file that is found, put right and laid.
import { computed, onUnmounted, ref, watch } from 'vue'
import { offsitePlaces } from '@nullet/core/measure/offsite'
import { audioOf, OFFSITE_TAIL_S, offsiteShape } from '@nullet/core/print/offsitePass'
import { byOrder, rows, settings } from '@nullet/core/session/session'
import { sentences, shortTime } from '~/words/format'
import { newId } from '~/stores/ids'
import { useImports } from '~/stores/imports'
import { isOpen, useJobs } from '~/stores/jobs'
import { useNotices } from '~/stores/notices'
import { useSelection } from '~/stores/selection'
import { printOrders } from '~/session/printsPlan'
import { wavHref } from '~/session/wavHref'
import { useSession } from '~/stores/session'

const emit = defineEmits<{ close: [] }>()
const store = useSession(),
  selection = useSelection(),
  imports = useImports(),
  jobs = useJobs(),
  notices = useNotices()
const rate = computed(() => settings(store.session!).sampleRate)
const tracks = computed(() =>
  rows(store.session!, 'channel')
    .filter(c => c.kind === 'track' && audioOf(store.session!, c.id).length > 0)
    .sort(byOrder)
)
const focused = tracks.value.find(t => t.id === selection.focused)
const source = ref((focused ?? tracks.value[0])?.id ?? '')
const choices = computed(() => audioOf(store.session!, source.value))
const chosen = ref('')
const sent = computed(() => choices.value.find(a => a.medium.id === chosen.value) ?? choices.value[0])
const name = computed(() => store.session!.channel[source.value]?.name ?? '')
const depth = ref<'24' | '32f'>('24')
const places = computed(() => sent.value && offsitePlaces(offsiteShape(sent.value.medium, rate.value)))
const time = (frames: number) => shortTime(frames, rate.value)
const feedFile = computed(() => wavHref(store.id, sent.value?.medium.id ?? '', depth.value, true))

// ── back ──
const back = ref('')
const backs = computed(() => tracks.value.filter(t => t.id !== source.value && !t.parked))
const arriving = ref<string | null>(null)
const incoming = computed(() => imports.list.find(i => i.id === arriving.value))
function bringIn(e: Event): void {
  const input = e.target as HTMLInputElement,
    [file] = input.files ?? []
  input.value = ''
  if (!file) return
  void imports.add([file]).then(() => (arriving.value = imports.list.find(i => i.file === file)?.id ?? null))
}
watch(
  () => arriving.value && store.session?.channel[arriving.value],
  there => {
    if (!there) return
    back.value = there.id
    arriving.value = null
  }
)
const typed = ref('')
const title = computed(() => typed.value.trim() || `${name.value}, from outside`)
const mutes = ref(true)

// ── laid ──
const jobId = ref<string | null>(null)
const job = computed(() => jobs.list.find(j => j.id === jobId.value))
const running = computed(() => !!job.value && isOpen(job.value))
const notes = computed(() =>
  job.value?.state === 'done' ? (job.value.result as { notes: string[] }).notes : ([] as string[])
)
const wrong = computed(() =>
  job.value?.state === 'failed'
    ? sentences(job.value.error?.message, job.value.error?.kept)
    : incoming.value?.state === 'failed'
      ? incoming.value.message
      : ''
)
let isAway = false
onUnmounted(() => (isAway = true))
/** What was laid is selected; where the sheet was left meanwhile, it is said as well. */
async function lay(): Promise<void> {
  if (!sent.value || !back.value) return
  const track = newId(),
    called = title.value
  const id = await jobs.start('offsite', `“${called}” from outside`, {
    source: source.value,
    sent: sent.value.medium.id,
    back: back.value,
    print: newId(),
    track,
    clip: newId(),
    medium: newId(),
    name: called,
    order: printOrders(store.session!, [source.value])[0]!,
    mutes: mutes.value
  })
  jobId.value = id
  if (!id || (await jobs.ended(id)).state !== 'done') return
  await store.catchUp()
  selection.set([track], track)
  if (isAway) notices.tell(`“${called}” lies where what was sent lies: ${notes.value.slice(1).join('; ')}.`)
}
</script>

<template>
  <p v-if="!tracks.length" class="quiet">No track holds audio yet: bring some in, then send it out.</p>
  <template v-else>
    <h3>Out</h3>
    <div class="fields">
      <label for="offsite-track">the track</label>
      <el-select id="offsite-track" v-model="source" size="small" filterable aria-label="the track that goes out"
        ><el-option v-for="t in tracks" :key="t.id" :value="t.id" :label="t.name"
      /></el-select>
      <template v-if="choices.length > 1"
        ><label for="offsite-audio">its audio</label>
        <el-select
          id="offsite-audio"
          :model-value="sent?.medium.id"
          size="small"
          aria-label="its audio"
          @change="(id: string) => (chosen = id)"
          ><el-option v-for="c in choices" :key="c.medium.id" :value="c.medium.id" :label="c.medium.name" /></el-select
      ></template>
      <span />
      <span class="file"
        ><a class="act" :href="feedFile" data-feed-file download>Take out the file</a>
        <el-select v-model="depth" size="small" class="depth" aria-label="word length"
          ><el-option value="24" label="24 bit" /><el-option value="32f" label="32 bit float" /></el-select
      ></span>
    </div>
    <p v-if="places" class="quiet">
      It is <span class="num">{{ time(places.length) }}</span> long: a mark, the programme from
      <span class="num">{{ time(places.programme) }}</span> on, {{ OFFSITE_TAIL_S }} s for what rings on, a mark. Ask
      for all of it to be played and recorded in one go, from before the first mark until after the second.
    </p>
    <h3>Back</h3>
    <div class="fields">
      <label for="offsite-back">came back on</label>
      <span class="file"
        ><el-select
          id="offsite-back"
          v-model="back"
          size="small"
          filterable
          placeholder="a track"
          aria-label="the track that it came back on"
          ><el-option v-for="t in backs" :key="t.id" :value="t.id" :label="t.name" /></el-select
        ><label class="plain act pick"
          >Bring in the file…<input
            type="file"
            accept="audio/*,.wav,.flac,.aif,.aiff"
            data-returned
            @change="bringIn" /></label
      ></span>
      <label for="offsite-name">new track</label>
      <el-input id="offsite-name" v-model="typed" size="small" maxlength="200" :placeholder="title" />
      <span /><el-checkbox v-model="mutes">mute “{{ name }}” itself</el-checkbox>
    </div>
    <p v-if="incoming && incoming.state !== 'failed'" class="quiet" role="status">
      “{{ incoming.file.name }}” is coming in: <span class="num">{{ Math.round(incoming.share * 100) }} %</span>
    </p>
    <p v-if="running" class="quiet" role="status">
      {{ job!.step || 'waiting' }} <span class="num">{{ Math.round(job!.progress * 100) }} %</span>
      <button class="plain act" @click="jobs.stop(job!.id)">Stop</button>
    </p>
    <ul v-if="notes.length" class="notes" data-offsite-notes>
      <li v-for="n in notes" :key="n">{{ n }}</li>
    </ul>
    <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
    <SheetEnd
      :label="notes.length ? 'Done' : 'Lay it in place'"
      :disabled="!notes.length && (!back || running)"
      :over="notes.length > 0"
      note="Offset, clock, polarity and level are found by the marks. What it came in on is parked. One undo."
      @close="emit('close')"
      @done="notes.length ? emit('close') : lay()"
    />
  </template>
</template>

<style scoped>
h3 {
  margin: 4px 0 8px;
  font-size: 13px;
  font-weight: 600;
}
.fields {
  display: grid;
  grid-template-columns: 90px 1fr;
  gap: 8px 12px;
  align-items: center;
}
.file {
  display: flex;
  gap: 12px;
  align-items: center;
}
.depth {
  width: 120px;
}
.pick {
  white-space: nowrap;
  cursor: pointer;
}
.pick:focus-within {
  outline: 2px solid var(--acting);
  outline-offset: 2px;
}
.pick input {
  position: absolute;
  width: 1px;
  opacity: 0;
}
.notes {
  margin: 10px 0 0;
  padding-left: 18px;
  line-height: 1.4;
}
.act {
  color: var(--acting);
}
.wrong {
  color: var(--wrong);
}
</style>
