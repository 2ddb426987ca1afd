<script setup lang="ts">
// What is going to be printed: line by line, which way, onto what; how many passes that takes; running them.
import { computed, ref, watch } from 'vue'
import { GROUPS, stemsPlan, wantedTap, type PrintPlace, type Planned } from '~/session/printsPlan'
import { byOrder, rows, settings } from '@nullet/core/session/session'
import { TAPS, type Tap } from '@nullet/core/session/rows'
import { printBytes } from '@nullet/core/print/storage'
import { plural, sentences, shortTime, size } from '~/words/format'
import { passSeconds } from '~/session/extent'
import { hintOf } from '~/session/whereTo'
import { useAsk } from '~/stores/ask'
import { isOpen, useJobs } from '~/stores/jobs'
import { usePasses } from '~/stores/passes'
import { useSelection } from '~/stores/selection'
import { useSession } from '~/stores/session'
import { useStorage } from '~/stores/storage'
import { useTransport } from '~/stores/transport'

const store = useSession(),
  passes = usePasses(),
  jobs = useJobs(),
  ask = useAsk(),
  storage = useStorage(),
  transport = useTransport(),
  selection = useSelection()
const plan = computed(() => passes.planned)
/** The line whose way is being set. */
const open = ref<string | null>(null)
const running = computed(() => jobs.list.filter(j => j.kind === 'print' && isOpen(j)))
const failed = computed(() =>
  jobs.list.filter(j => j.kind === 'print' && (j.state === 'failed' || j.state === 'stopped')).slice(0, 2)
)
const left = (job: { progress: number; madeAt: string }) => {
  const passed = (Date.now() - Date.parse(job.madeAt)) / 1000
  return job.progress > 0.05 ? `about ${Math.max(1, Math.round(passed / job.progress - passed))} s left` : ''
}

async function add(): Promise<void> {
  const id = await ask.ask({
    title: 'Print…',
    kind: 'choice',
    choices: rows(store.session!, 'channel')
      .sort(byOrder)
      .map(c => ({ value: c.id, label: c.name, hint: hintOf(store.network!, c.id) }))
  })
  if (id) passes.add([wantedTap(id)])
}
/** The main that is heard, or the first, and its stems. */
const stems = computed(() => {
  const mains = rows(store.session!, 'channel')
    .filter(c => c.role === 'main')
    .sort(byOrder)
  const main = mains.find(c => c.id === settings(store.session!).heardChannel) ?? mains[0]
  return main ? { main, taps: stemsPlan(store.session!, main.id) } : null
})
const groups = computed(() =>
  GROUPS.map(({ label, taps }) => ({ label, taps: taps(store.session!) })).filter(g => g.taps.length)
)
const hasRig = computed(() => rows(store.session!, 'rig').length > 0)
const several = computed(() => plan.value.length > 0 && passes.plan.passes.length > 1)
const hasCard = computed(
  () => several.value || passes.plan.back.length > 0 || passes.plan.cards.some(c => c.todo.length > 0)
)
/** What goes onto the track of a print that is just being made waits for it. */
const waits = computed(() => running.value.length > 0 && plan.value.some(p => p.through))
/** As it is stored, in bytes. */
const bytes = computed(() => plan.value.reduce((sum, p) => sum + printBytes(store.session!, p, passes.range.about), 0))
const isTooMuch = computed(() => storage.freeBytes !== null && bytes.value > storage.freeBytes)
watch(() => plan.value.length, storage.look, { immediate: true })
const refused = computed(() => [
  ...plan.value.flatMap(p => passes.plan.refused.get(p.print) ?? []),
  ...(plan.value.length && passes.range.refused ? [passes.range.refused] : []),
  ...(isTooMuch.value
    ? [`this takes ${size(bytes.value)}, and the disk has ${size(storage.freeBytes!)} left: print less, or make room`]
    : [])
])
const goesOut = computed(() => plan.value.some(i => i.isOut))
const seconds = computed(() => shortTime(passes.range.about, transport.rate))
/** With real units a pass takes as long as it sounds, and its rolls. */
const realTime = computed(() => {
  if (!goesOut.value) return ''
  const each = passSeconds(passes.range.about, passes.extent, transport.rate)
  return ` ${shortTime(passes.plan.passes.length * each * transport.rate, transport.rate)} with real units;`
})
const howLong = computed(() => {
  const room = size(bytes.value) || '0 kB'
  const n = passes.plan.passes.length
  if (!several.value)
    return `${seconds.value} of audio, one pass for all${goesOut.value ? `;${realTime.value}` : ', faster than real time;'} ${room}`
  const most = passes.plan.exact ? 'there can be no fewer' : `at least ${passes.plan.atLeast} are needed`
  return `${seconds.value} of audio in each of ${n} passes: ${most};${realTime.value} ${room}`
})
const label = (i: Planned, place: PrintPlace) =>
  place === 'take'
    ? `new take of ${i.onto?.name ?? passes.planned.find(p => p.print === (i.with ?? ''))?.name ?? ''}`
    : place === 'over'
      ? 'takes its source’s place'
      : 'stands by itself'
const placesOf = (i: Planned): PrintPlace[] => [
  ...(i.onto || i.with || i.place === 'take' ? (['take'] as const) : []),
  ...(i.share === null ? (['over'] as const) : []),
  'beside'
]
const taps = (i: Planned): Tap[] => (i.through ? ['pre', 'post'] : [...TAPS])

const all = () => passes.run(passes.plan.passes.map((_, i) => i))
</script>

<template>
  <section class="plan">
    <div class="head">
      <h2 class="title">{{ several ? 'Next passes' : 'Next pass' }}</h2>
      <span class="space" /><button
        v-if="stems?.taps.length"
        class="plain act"
        data-add-stems
        :title="`what each stem has of ${stems.main.name}, its share of the returns with it: these add up`"
        @click="passes.add(stems.taps)"
      >
        add the {{ plural(stems.taps.length, 'stem', 'stems') }} of {{ stems.main.name }}</button
      ><button class="plain act" @click="add">add a tap…</button
      ><el-dropdown
        v-if="groups.length"
        trigger="click"
        :persistent="false"
        @command="(g: (typeof groups)[number]) => passes.add(g.taps)"
        ><button class="plain act" data-add-group>add all…</button
        ><template #dropdown
          ><el-dropdown-menu
            ><el-dropdown-item v-for="g in groups" :key="g.label" :command="g"
              >{{ g.label }} ({{ g.taps.length }})</el-dropdown-item
            ></el-dropdown-menu
          ></template
        ></el-dropdown
      ><button
        v-if="selection.list.length"
        class="plain act"
        @click="passes.add(selection.list.map(i => wantedTap(i)))"
      >
        add the selection ({{ selection.list.length }})
      </button>
    </div>
    <p v-if="!plan.length" class="quiet">
      Nothing is named yet. Add a tap here, or select channels anywhere and type <kbd>p r</kbd>.
    </p>
    <table v-else>
      <thead>
        <tr class="caption">
          <th>source</th>
          <th>tap</th>
          <th>name of the new track or take</th>
          <th>in the network</th>
          <th>way</th>
          <td />
        </tr>
      </thead>
      <tbody v-for="i in plan" :key="i.print" :data-wanted="i.source">
        <tr>
          <td class="clip" :title="passes.whatOf(i)">{{ passes.whatOf(i) }}</td>
          <td>
            <TapSelect
              :tap="i.tap"
              :taps="taps(i)"
              :label="i.through ? 'where what comes back belongs' : 'tap'"
              @choose="t => passes.set(i.print, { tap: t })"
            />
          </td>
          <td>
            <el-input
              :model-value="i.name"
              size="small"
              maxlength="300"
              :aria-label="`name of the print of ${passes.whatOf(i)}`"
              @update:model-value="(v: string) => passes.set(i.print, { name: v })"
            />
          </td>
          <td>
            <el-select
              :model-value="i.place"
              size="small"
              style="width: 210px"
              aria-label="place in the network"
              @change="(v: PrintPlace) => passes.set(i.print, { place: v })"
              ><el-option v-for="p in placesOf(i)" :key="p" :value="p" :label="label(i, p)"
            /></el-select>
          </td>
          <td class="quiet">
            {{ i.way
            }}<button
              v-if="hasRig && i.share === null"
              class="plain act way"
              data-way
              :aria-expanded="open === i.print"
              :aria-label="`way of ${passes.whatOf(i)}`"
              @click="open = open === i.print ? null : i.print"
            >
              {{ open === i.print ? 'done' : 'change…' }}
            </button>
            <span v-for="text in i.settings" :key="text" class="set">{{ text }}</span>
          </td>
          <td>
            <button
              class="plain quiet"
              :aria-label="`remove ${passes.whatOf(i)} from the pass`"
              @click="passes.remove([i.print])"
            >
              ×
            </button>
          </td>
        </tr>
        <tr v-if="open === i.print">
          <td colspan="6" class="opened"><WayOut :planned="i" /></td>
        </tr>
      </tbody>
    </table>
    <p v-for="reason in refused" :key="reason" class="wrong" role="alert">{{ reason }}.</p>
    <RunCard v-if="hasCard" :can="!refused.length && !waits" @run="n => passes.run([n])" />
    <div v-if="plan.length" class="head">
      <ExtentFields :goes-out="plan.some(p => p.through)" /><span class="quiet">{{ howLong }}</span>
      <span class="space" /><el-button type="primary" data-run :disabled="refused.length > 0 || waits" @click="all"
        >Print {{ plan.length === 1 ? 'it' : `all ${plan.length}` }}</el-button
      >
    </div>
    <div v-for="j in running" :key="j.id" class="job" data-job>
      <span class="clip">{{ j.label }}</span><el-progress
        :percentage="Math.round(j.progress * 100)"
        :stroke-width="6"
      /><span class="quiet">{{ j.state === 'waiting' ? 'waiting for a worker' : j.step }} {{ left(j) }}</span
      ><el-button size="small" @click="jobs.stop(j.id)">Stop</el-button>
    </div>
    <div v-for="j in failed" :key="j.id" class="job ended">
      <span class="clip">{{ j.label }}</span><span :class="{ wrong: j.state === 'failed' }">{{
        j.state === 'stopped'
          ? 'stopped; what its passes had finished is kept, nothing else was stored'
          : sentences(j.error?.message, j.error?.kept)
      }}</span
      ><el-button size="small" :data-again="j.id" @click="jobs.again(j.id)">Again</el-button>
    </div>
  </section>
</template>

<style scoped>
.plan {
  background: var(--surface);
  border: 1px solid var(--rule);
  border-radius: var(--radius);
  padding: 12px 14px;
  margin-bottom: 16px;
}
.head {
  display: flex;
  align-items: center;
  gap: 14px;
  min-height: 30px;
}
.space {
  flex: 1;
}
.act {
  color: var(--acting);
}
table {
  width: 100%;
  border-collapse: collapse;
  margin: 6px 0;
}
th {
  text-align: left;
  font-weight: 400;
  padding: 2px 12px 2px 0;
}
tbody td {
  padding: 3px 12px 3px 0;
  border-top: 1px solid var(--rule);
  max-width: 260px;
}
.opened {
  max-width: none;
  border-top: 0;
}
.way {
  margin-left: 8px;
  font-size: 12px;
}
.set {
  display: block;
  font-size: 12px;
}
.job {
  display: grid;
  grid-template-columns: 180px 1fr 220px auto;
  gap: 14px;
  align-items: center;
  padding: 6px 0;
  border-top: 1px solid var(--rule);
}
.job.ended {
  grid-template-columns: 180px 1fr auto;
}
.wrong {
  color: var(--wrong);
}
</style>
