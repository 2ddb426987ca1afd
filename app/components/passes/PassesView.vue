<script setup lang="ts">
// Above, the next pass: what it prints and how long; below, prints under their sources, over time.
import { computed, ref } from 'vue'
import { planKey, printsPlan, stemsPlan, type Planned } from './plan'
import { byOrder, isHeardPrint, printOn, rows, settings } from '@nullet/core/session/session'
import { staleParts } from '@nullet/core/print/stale'
import { TAPS, type Print, type Tap } from '@nullet/core/session/rows'
import { plural, sentences, shortTime } from '~/words/format'
import { hintOf } from '~/session/whereTo'
import { goTo } from '~/stores/goTo'
import { useAsk } from '~/stores/ask'
import { newId, ordersAtEnd } from '~/stores/ids'
import { isOpen, useJobs } from '~/stores/jobs'
import { useSelection } from '~/stores/selection'
import { useSession } from '~/stores/session'
import { useShell } from '~/stores/shell'
import { useTransport } from '~/stores/transport'

const store = useSession(),
  shell = useShell(),
  jobs = useJobs(),
  ask = useAsk(),
  transport = useTransport(),
  selection = useSelection()
const plan = computed(() => printsPlan(store.session!, shell.toPrint))
const names = ref<Record<string, string>>({})
/** Where a print goes: onto the track of the one before, onto one of its own in its source's place, or beside it. */
type Place = 'take' | 'over' | 'beside'
const places = ref<Record<string, Place>>({})
const placeOf = (i: Planned): Place => {
  const wanted = places.value[i.key] ?? 'take'
  return wanted === 'take' && !i.onto ? (i.takesOver ? 'over' : 'beside') : wanted
}
const nameOf = (i: Planned): string =>
  names.value[i.key] || (placeOf(i) === 'take' ? `Take ${i.onto!.takes + 1}` : i.name)
const repeatOnly = ref(false)
const range = computed(() =>
  repeatOnly.value && transport.repeat ? transport.repeat : { from: 0, to: transport.length }
)
const running = computed(() => jobs.list.filter(j => j.kind === 'print' && isOpen(j)))
const failed = computed(() =>
  jobs.list.filter(j => j.kind === 'print' && (j.state === 'failed' || j.state === 'stopped')).slice(0, 2)
)
/** Tracks that hold prints or takes, each with the print that stands for it. */
const held = computed(() => {
  const session = store.session!
  const prints = new Map(rows(session, 'print').map(p => [p.channel, printOn(session, p.channel) ?? p]))
  const tracks = new Set([...prints.keys(), ...rows(session, 'take').map(t => t.channel)])
  return [...tracks]
    .flatMap(id => session.channel[id] ?? [])
    .sort(byOrder)
    .map(track => ({ track, print: prints.get(track.id) ?? null }))
})
/** Shares of one tap, two or more: whether they add up can be proven. */
const shares = computed(() => {
  const groups = new Map<string, Print[]>()
  for (const p of rows(store.session!, 'print'))
    if (p.share !== null && p.source !== null && isHeardPrint(store.session!, p)) {
      const key = planKey(p.source, p.tap)
      groups.set(key, [...(groups.get(key) ?? []), p])
    }
  return [...groups].filter(([, prints]) => prints.length > 1).map(([key, prints]) => ({ key, prints }))
})
/** Taps of prints that are heard and stale. */
const stale = computed(() =>
  rows(store.session!, 'print')
    .filter(p => p.source && isHeardPrint(store.session!, p) && staleParts(store.session!, p.id).length > 0)
    .map(p => planKey(p.source!, p.tap, p.share))
)
function againAll(): void {
  shell.toPrint = [...new Set([...shell.toPrint, ...stale.value])]
}
const count = computed(() => held.value.filter(h => h.print).length)
const first = computed(() =>
  rows(store.session!, 'channel').some(c => c.kind === 'track')
    ? []
    : [{ label: 'Bring in audio…', run: () => goTo(`/s/${store.id}/sources`) }]
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
  if (id) shell.toPrint = [...new Set([...shell.toPrint, `${id}@post`])]
}
function setTap({ key, source, share }: Planned, tap: Tap): void {
  shell.toPrint = shell.toPrint.map(k => (k === key ? planKey(source, tap, share) : k))
}
const nameOfChannel = (id: string) => store.session!.channel[id]?.name ?? ''
const whatOf = ({ source, share }: Planned): string =>
  share === null ? nameOfChannel(source) : `${nameOfChannel(share)}’s share of ${nameOfChannel(source)}`
/** The main that is heard, or the first, and its stems. */
const stems = computed(() => {
  const mains = rows(store.session!, 'channel')
    .filter(c => c.role === 'main')
    .sort(byOrder)
  const main = mains.find(c => c.id === settings(store.session!).heardChannel) ?? mains[0]
  return main ? { main, keys: stemsPlan(store.session!, main.id) } : null
})

async function run(): Promise<void> {
  const items = plan.value
  const orders = ordersAtEnd(rows(store.session!, 'channel'), items.length)
  const args = {
    from: Math.round(range.value.from),
    frames: repeatOnly.value ? Math.round(range.value.to - range.value.from) : null,
    seed: Math.floor(Math.random() * 2 ** 31),
    items: items.map((i, n) => {
      const name = nameOf(i),
        onto = placeOf(i) === 'take' ? i.onto : null
      return {
        source: i.source,
        tap: i.tap,
        share: i.share,
        print: newId(),
        track: onto?.track ?? newId(),
        clip: newId(),
        medium: newId(),
        order: orders[n],
        name: onto ? `${onto.name}, ${name}` : name,
        takesOver: onto ? onto.takesOver : placeOf(i) === 'over',
        take: onto && { id: newId(), name, former: { id: newId(), name: 'Take 1' } }
      }
    })
  }
  const label = items.length === 1 ? `Print of ${whatOf(items[0]!)}` : `Print of ${items.length} taps`
  if (await jobs.start('print', label, args)) shell.toPrint = []
}
</script>

<template>
  <MovementView v-if="shell.passesAs === 'time'"><PassesSwitch /></MovementView>
  <div v-else class="passes scroll">
    <PassesSwitch class="switch" />
    <section class="plan">
      <div class="head">
        <h2 class="title">Next pass</h2>
        <span class="space" /><button
          v-if="stems?.keys.length"
          class="plain act"
          data-add-stems
          :title="`what each stem has of ${stems.main.name}, its share of the returns with it: these add up`"
          @click="shell.toPrint = [...new Set([...shell.toPrint, ...stems.keys])]"
        >
          add the {{ plural(stems.keys.length, 'stem', 'stems') }} of {{ stems.main.name }}</button
        ><button class="plain act" @click="add">add a tap…</button
        ><button
          v-if="selection.list.length"
          class="plain act"
          @click="shell.toPrint = [...new Set([...shell.toPrint, ...selection.list.map(i => `${i}@post`)])]"
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
            <th />
          </tr>
        </thead>
        <tbody>
          <tr v-for="i in plan" :key="i.key">
            <td class="clip" :title="whatOf(i)">{{ whatOf(i) }}</td>
            <td>
              <el-select
                :model-value="i.tap"
                size="small"
                style="width: 104px"
                aria-label="tap"
                @change="(t: Tap) => setTap(i, t)"
                ><el-option v-for="t in TAPS" :key="t" :value="t" :label="t === 'input' ? 'input' : `${t}-fader`"
              /></el-select>
            </td>
            <td>
              <el-input
                :model-value="names[i.key] ?? nameOf(i)"
                size="small"
                maxlength="300"
                :aria-label="`name of the print of ${whatOf(i)}`"
                @update:model-value="(v: string) => (names[i.key] = v)"
              />
            </td>
            <td>
              <el-select
                :model-value="placeOf(i)"
                size="small"
                style="width: 210px"
                aria-label="place in the network"
                @change="(v: Place) => (places[i.key] = v)"
                ><el-option v-if="i.onto" value="take" :label="`new take of ${i.onto.name}`" /><el-option
                  v-if="i.share === null"
                  value="over"
                  label="takes its source’s place" /><el-option value="beside" label="stands by itself"
              /></el-select>
            </td>
            <td class="quiet">{{ i.way }}</td>
            <td>
              <button
                class="plain quiet"
                :aria-label="`remove ${whatOf(i)} from the pass`"
                @click="shell.toPrint = shell.toPrint.filter(k => k !== i.key)"
              >
                ×
              </button>
            </td>
          </tr>
        </tbody>
      </table>
      <div v-if="plan.length" class="head">
        <el-checkbox v-model="repeatOnly" :disabled="!transport.repeat">only the marked range</el-checkbox>
        <span class="quiet"
          >{{ shortTime(range.to - range.from, transport.rate) }} of audio, one pass for all{{
            plan.some(i => i.loops.length) ? '; with real units it would take real time' : ', faster than real time'
          }}</span
        >
        <span class="space" /><el-button type="primary" data-run @click="run"
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
          j.state === 'stopped' ? 'stopped; nothing was stored' : sentences(j.error?.message, j.error?.kept)
        }}</span
        ><el-button size="small" :data-again="j.id" @click="jobs.again(j.id)">Again</el-button>
      </div>
    </section>
    <section>
      <div class="head">
        <h2 class="title">Prints and takes</h2>
        <button v-if="stale.length" class="plain act" data-print-stale @click="againAll">
          print what is stale again ({{ stale.length }})
        </button>
        <span class="quiet">{{ count ? `${plural(count, 'print', 'prints')} on tracks of their own` : '' }}</span>
      </div>
      <EmptyView v-if="!held.length" title="Nothing printed yet" :steps="first">
        A print is a recording of a tap: aligned to the sample, compared with the live path, with the residual shown.
        {{
          first.length
            ? 'There are no tracks to print from yet.'
            : 'Choose what to print above, or select channels anywhere and press p r.'
        }}
      </EmptyView>
      <StemsProof v-for="g in shares" :key="g.key" :prints="g.prints" />
      <template v-for="h in held" :key="h.track.id">
        <PrintRow v-if="h.print" :print="h.print" />
        <article v-else class="stack" :data-stacked="h.track.id">
          <button class="plain clip name" @click="selection.set([h.track.id], h.track.id)">{{ h.track.name }}</button>
          <TakesTable :channel="h.track.id" />
        </article>
      </template>
    </section>
  </div>
</template>

<style scoped>
.passes {
  flex: 1;
  padding: 14px 16px;
  min-height: 0;
}
.switch {
  margin-bottom: 10px;
}
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
td {
  padding: 3px 12px 3px 0;
  border-top: 1px solid var(--rule);
  max-width: 260px;
}
.stack {
  display: grid;
  grid-template-columns: 190px minmax(0, 1fr);
  gap: 4px 16px;
  align-items: start;
  padding: 10px 0;
  border-bottom: 1px solid var(--rule);
}
.stack .name {
  font-weight: 600;
  text-align: left;
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
