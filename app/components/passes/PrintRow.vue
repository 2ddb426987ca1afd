<script setup lang="ts">
// A print under its source: both waveforms on one axis of time, what was verified, feed or print, download.
import { computed, shallowRef } from 'vue'
import { partName, staleParts } from '@nullet/core/print/stale'
import { heardClips, rows, takesOf } from '@nullet/core/session/session'
import type { Row } from '@nullet/core/session/rows'
import { blendEdit, mayBlend, wetShare } from '@nullet/core/print/blend'
import { proofOf } from '@nullet/core/print/prove'
import { throughText } from '@nullet/core/print/passJobs'
import { cablesInstead, wayName } from '@nullet/core/print/through'
import { dB, shortTime, whenText } from '~/words/format'
import { printOrders } from '~/session/printsPlan'
import { wavHref } from '~/session/wavHref'
import { useNotices } from '~/stores/notices'
import { usePasses } from '~/stores/passes'
import { useAnalyst } from '~/stores/analyst'
import { useSelection } from '~/stores/selection'
import { useSession } from '~/stores/session'
import { useStrips } from '~/stores/strips'
import { useTransport } from '~/stores/transport'

const props = defineProps<{ print: Row<'print'> }>()
const store = useSession(),
  passes = usePasses(),
  analyst = useAnalyst(),
  notices = useNotices(),
  transport = useTransport(),
  strips = useStrips(),
  selection = useSelection()
const track = computed(() => store.session!.channel[props.print.channel]!)
const source = computed(() => store.session!.channel[props.print.source ?? ''])
const share = computed(() => store.session!.channel[props.print.share ?? ''])
const clip = computed(() => rows(store.session!, 'clip').find(c => c.id === props.print.clip))
const medium = computed(() => clip.value && store.session!.medium[clip.value.medium])
const sourceClip = computed(() => heardClips(store.session!).find(c => c.channel === props.print.source))
const sourceMedium = computed(() => sourceClip.value && store.session!.medium[sourceClip.value.medium])
const hasTakes = computed(() => takesOf(store.session!, props.print.channel).length > 0)
/** The same tap in the next pass; what it makes is another take. */
function again(): void {
  const { source: of, tap, share: whose, through } = props.print
  if (of) passes.add([{ source: of, tap, share: whose, through }])
}
const stale = computed(() =>
  source.value ? staleParts(store.session!, props.print.id).map(p => partName(store.session!, p)) : []
)
/** Out through which units it went by itself, and how they were set. */
const way = computed(() => {
  const { through } = props.print,
    session = store.session!
  if (!through) return ''
  const name = wayName({ ...session, cable: cablesInstead(session, through.instead) }, through)
  return [`out through ${name}`, ...throughText(session, through)].join(', ')
})
const total = computed(() => Math.max(1, transport.length, props.print.startFrame + props.print.frames))
const span = (start: number, frames: number) => ({
  left: `${(start / total.value) * 100}%`,
  width: `${(frames / total.value) * 100}%`
})
const residual = computed(() =>
  props.print.verified === 'identical'
    ? 'identical to the live path: −∞'
    : props.print.verified === 'differs'
      ? `${dB(props.print.residualDb)} dB apart from the live path`
      : 'not compared yet'
)
const latest = computed(() => props.print.proofs.find(p => p.of === 'live') ?? null)
const proven = computed(() =>
  latest.value === null
    ? ''
    : latest.value.leftDb === null
      ? `identical to the live path, ${whenText(latest.value.at)}`
      : `${dB(latest.value.leftDb - (latest.value.signalDb ?? 0))} dB of it apart from the live path, ${whenText(latest.value.at)}`
)
const proving = shallowRef(false)
async function prove(): Promise<void> {
  proving.value = true
  const found = await analyst.ask({ kind: 'prove', print: props.print.id })
  proving.value = false
  const ids = [props.print.id]
  if (found) store.apply('keepProof', { ids, proof: proofOf('live', found, ids, found.culprits) })
}
const file = (depth: string) => wavHref(store.id, medium.value?.id ?? '', depth)
/** How much of what is heard is the print, where its dry track is beside it. */
const wet = computed(() => wetShare(store.session!, props.print))
function blend(share: number): void {
  const isNew = wet.value === null,
    [order] = printOrders(store.session!, [props.print.source!])
  const { verb, args } = blendEdit(store.session!, props.print, share, order!)
  if (store.apply(verb, args) && isNew)
    notices.tell(`“${source.value!.name}” is heard dry beside its print, half and half.`, store.thisUndo())
}
const set = (fields: object) => store.apply('setChannels', { ids: [props.print.channel], fields })
function park(): void {
  if (source.value) store.apply('setChannels', { ids: [source.value.id], fields: { parked: !source.value.parked } })
}
</script>

<template>
  <article class="print" :class="{ stale: stale.length }" :data-print="print.id">
    <div class="who">
      <button class="plain clip name" @click="selection.set([track.id], track.id)">{{ track.name }}</button>
      <span class="caption clip"
        >from {{ share ? `${share.name}’s share of ` : ''
        }}{{ source?.name ?? `${print.sourceName || 'a channel'}, removed` }},
        {{ way || (print.tap === 'input' ? 'input tap' : `${print.tap}-fader tap`) }}</span
      >
      <span
        class="residual"
        :class="latest ? (latest.leftDb === null ? 'identical' : 'differs') : print.verified"
        data-residual
        >{{ latest ? proven : residual }}</span
      >
      <span v-if="proving" class="caption"
        >comparing {{ Math.round(analyst.progress * 100) }} %
        <button class="plain act" @click="analyst.stop">stop</button></span
      ><button v-else-if="source && clip" class="plain act again" data-prove-print @click="prove">
        prove it again
      </button>
      <span v-for="c in latest?.culprits ?? []" :key="c" class="caption mind">{{ c }}</span>
    </div>
    <div class="time">
      <div class="lane">
        <div
          v-if="sourceMedium && sourceClip"
          class="wave under"
          :style="span(sourceClip.startFrame, sourceMedium.frames)"
        >
          <WaveImage :sha256="sourceMedium.sha256" :hue="6" />
        </div>
        <span v-else class="caption">bus</span>
      </div>
      <div class="lane">
        <div v-if="medium && clip" class="wave" :style="span(clip.startFrame, medium.frames)">
          <WaveImage :sha256="medium.sha256" :hue="track.colour" />
        </div>
        <i
          v-for="(f, i) in clip ? print.faults : []"
          :key="i"
          class="fault"
          :style="span(clip!.startFrame + f.from - print.startFrame, f.frames)"
        />
      </div>
      <i class="now" :style="{ left: `${(transport.position / total) * 100}%` }" />
    </div>
    <div class="do">
      <el-radio-group
        v-if="source && !print.share"
        :model-value="track.listen"
        size="small"
        aria-label="listen"
        @change="v => set({ listen: v })"
        ><el-radio-button value="feed">feed</el-radio-button
        ><el-radio-button value="print">print</el-radio-button></el-radio-group
      >
      <div v-if="wet !== null" class="row wet" data-wet>
        <span class="caption">wet</span>
        <NumberField
          class="balance"
          bar
          :quantity="{ label: `balance of ${track.name}`, unit: '%', min: 0, max: 100, initial: 50, step: 1 }"
          :value="Math.round(wet * 100)"
          @done="v => blend((v ?? 50) / 100)"
        />
      </div>
      <div class="row">
        <button class="plain act" @click="strips.hear(track.id)">hear it</button
        ><button v-if="print.takesOver" class="plain act" @click="park">
          {{ source?.parked ? 'bring the source back' : 'park the source' }}
        </button>
        <button
          v-if="wet === null && mayBlend(store.session!, print)"
          class="plain act"
          data-dry-beside
          @click="blend(0.5)"
        >
          dry beside it
        </button>
      </div>
      <div class="row">
        <a class="act" :href="file('24')" download>WAV 24-bit</a
        ><a class="act" :href="file('32f')" download>32-bit float</a>
      </div>
    </div>
    <PrintFaults v-if="print.faults.length" class="all" :print="print" :stale="stale.length > 0" />
    <TakesTable v-if="hasTakes" class="all" :channel="track.id" />
    <ClipTools v-else class="all" :channel="track.id" />
    <p class="notes caption">
      {{ shortTime(print.frames, transport.rate) }} · {{ print.latencySamples }} samples of latency taken off ·
      {{ whenText(print.printedAt) }}<template v-for="n in print.notes" :key="n"> · {{ n }}</template>
      <span v-if="stale.length" class="mind">
        · stale: {{ stale.slice(0, 3).join(', ') }}{{ stale.length > 3 ? ` and ${stale.length - 3} more` : '' }} changed
        since <button v-if="source" class="plain act" data-print-again @click="again">print again…</button></span
      >
    </p>
  </article>
</template>

<style scoped>
.print {
  display: grid;
  grid-template-columns: 190px minmax(0, 1fr) 190px;
  gap: 4px 16px;
  padding: 10px 0;
  border-bottom: 1px solid var(--rule);
}
.print.stale {
  border-left: 3px dotted var(--mind);
  padding-left: 8px;
}
.who {
  display: grid;
  align-content: start;
  gap: 2px;
}
.name {
  font-weight: 600;
}
.residual {
  font-size: 12px;
}
.again {
  justify-self: start;
}
.fault {
  position: absolute;
  inset-block: 0;
  min-width: 3px;
  background: var(--wrong);
  opacity: 0.55;
}
.identical {
  color: var(--signal);
}
.differs {
  color: var(--wrong);
}
.time {
  position: relative;
  display: grid;
  gap: 2px;
}
.lane {
  position: relative;
  height: 38px;
  background: var(--surface);
  border: 1px solid var(--rule);
  overflow: hidden;
}
.lane .caption {
  padding: 2px 6px;
}
.wave {
  position: absolute;
  top: 0;
  bottom: 0;
}
.now {
  position: absolute;
  top: 0;
  bottom: 0;
  width: 1.5px;
  background: var(--acting);
}
.do {
  display: grid;
  gap: 6px;
  align-content: start;
  justify-items: start;
}
.balance {
  flex: 1;
  min-width: 110px;
}
.wet {
  align-self: stretch;
  width: 100%;
}
.row {
  flex-wrap: wrap;
  display: flex;
  gap: 12px;
}
.act {
  color: var(--acting);
  text-decoration: none;
  font-size: 12px;
}
a.act:hover {
  text-decoration: underline;
}
.all {
  grid-column: 2 / 4;
}
.notes {
  grid-column: 1 / 4;
  margin: 0;
}
.mind {
  color: var(--mind);
}
</style>
