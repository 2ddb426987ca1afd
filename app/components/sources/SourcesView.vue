<script setup lang="ts">
// The tracks as they came: name, family, waveform, layout, length, levels. Files are dropped anywhere on it.
import { computed, ref } from 'vue'
import { useVirtualizer } from '@tanstack/vue-virtual'
import { familyColour, familyTable } from '@nullet/core/session/families'
import { layoutName } from '@nullet/core/session/layouts'
import { byOrder, heardClips, rows } from '@nullet/core/session/session'
import { useShown } from '~/keyboard/shown'
import { clock, dB, plural, shortTime } from '~/words/format'
import type { FitItem } from '../shell/FitRow.vue'
import { ACCEPTED, sorted } from '~/session/dropped'
import { matching } from '~/session/matching'
import { useGestures } from '~/stores/gestures'
import { useImports } from '~/stores/imports'
import { useSelection } from '~/stores/selection'
import { useSession } from '~/stores/session'
import { useShell } from '~/stores/shell'
import { useStrips } from '~/stores/strips'
import { useTakes } from '~/stores/takes'
import { useTracks } from '~/stores/tracks'
import { useTransport } from '~/stores/transport'

const ROW = 38
const store = useSession(),
  selection = useSelection(),
  imports = useImports(),
  gestures = useGestures(),
  strips = useStrips(),
  shell = useShell(),
  takesStore = useTakes(),
  tracksStore = useTracks(),
  transport = useTransport()
const chosen = computed(() => selection.list.map(id => store.session!.channel[id]).filter(c => c?.kind === 'track'))
const wide = computed(() => chosen.value.some(c => c!.layout.length > 1))
const two = computed(() => chosen.value.length === 2 && chosen.value.every(c => c!.layout.length === 1))
const verbs = computed((): FitItem[] => {
  if (!all.value) return []
  const list: FitItem[] = selection.list.length
    ? [
        { label: 'listen to just these', run: listen },
        { label: 'new submix…', title: 'n s', run: () => gestures.newSubmix(selection.list) },
        { label: 'rename in series…', title: 'r s', run: () => strips.renameSeries(selection.list) },
        { label: 'colour…', title: 'c o', run: () => strips.askColour(selection.list) },
        ...(chosen.value.length > 1
          ? [{ label: 'stack as takes', title: 't s', run: () => takesStore.stackSelected(selection.list) }]
          : []),
        ...(wide.value
          ? [{ label: 'split into mono', title: 'l m', run: () => tracksStore.split(selection.list) }]
          : []),
        ...(two.value
          ? [{ label: 'join as stereo', title: 'l s', run: () => tracksStore.joinSelected(selection.list) }]
          : [])
      ]
    : [
        ...(tracksStore.pairs.length
          ? [
              {
                label: `${plural(tracksStore.pairs.length, 'pair', 'pairs')} to stereo…`,
                title: 'l p',
                attrs: { 'data-pairs': '' },
                run: openSheet('pairs')
              }
            ]
          : []),
        ...(takesStore.stacks.length
          ? [
              {
                label: `takes of ${plural(takesStore.stacks.length, 'source', 'sources')}…`,
                title: 't o',
                attrs: { 'data-stacks': '' },
                run: openSheet('stacks')
              }
            ]
          : []),
        { label: 'arrange by family', title: 'a f', run: () => tracksStore.arrange() },
        { label: 'words for families…', title: 'f w', attrs: { 'data-families': '' }, run: openSheet('families') },
        { label: 'propose a network…', title: 'n p', attrs: { 'data-propose': '' }, run: openSheet('propose') }
      ]
  return list.map(v => ({ ...v, look: 'acting' }))
})
const openSheet = (name: string) => () => (shell.sheet = name)
const scroller = ref<HTMLElement>(),
  picker = ref<HTMLInputElement>()
const clips = computed(() => {
  const first = new Map<string, string>()
  for (const c of heardClips(store.session!).sort((a, b) => a.startFrame - b.startFrame))
    if (!first.has(c.channel)) first.set(c.channel, c.medium)
  return first
})
const tracks = computed(() => {
  const found = matching(store.session!, selection.filter)
  return rows(store.session!, 'channel')
    .filter(c => c.kind === 'track' && (!found || found.has(c.id)))
    .sort(byOrder)
})
const families = computed(() => familyTable(store.session!))
const order = computed(() => tracks.value.map(t => t.id))
useShown(() => order.value)
const list = useVirtualizer(
  computed(() => ({
    count: tracks.value.length,
    getScrollElement: () => scroller.value ?? null,
    estimateSize: () => ROW,
    overscan: 8
  }))
)
const played = computed(() => new Set(rows(store.session!, 'phrase').map(p => p.channel)))
const medium = (id: string) => store.session!.medium[clips.value.get(id) ?? '']
/** What the file says about itself. */
function fileWords(id: string): string | undefined {
  const m = medium(id)
  if (!m) return undefined
  return [
    m.file,
    m.title && `called “${m.title}”`,
    m.timeReference !== null && `recorded at ${clock(m.timeReference, m.sampleRate)}`
  ]
    .filter(Boolean)
    .join(', ')
}
const all = computed(() => rows(store.session!, 'channel').filter(c => c.kind === 'track').length)

function picked(e: Event): void {
  const input = e.target as HTMLInputElement
  if (input.files?.length) imports.take(sorted([...input.files]))
  input.value = ''
}
function setFamily(id: string, family: string): void {
  store.apply('setChannels', {
    ids: selection.actOn(id),
    fields: { family, familyGuessed: false, colour: familyColour(family, families.value) }
  })
}
function listen(): void {
  const ids = new Set(selection.list)
  const soloed = rows(store.session!, 'channel')
    .filter(c => c.soloed)
    .map(c => c.id)
  const only = [...ids].every(id => store.session!.channel[id]!.soloed) && soloed.length === ids.size
  if (only) {
    strips.clearSolo()
    return
  }
  strips.clearSolo()
  strips.toggle([...ids], 'soloed')
  if (!transport.playing) void transport.play()
}
</script>

<template>
  <div class="sources">
    <div class="tools">
      <el-input
        v-if="all"
        v-model="selection.filter"
        data-filter
        class="filter"
        placeholder="filter: name, family"
        clearable
        @keydown.esc.stop="
          $event => {
            selection.filter = ''
            ;($event.target as HTMLElement).blur()
          }
        "
      />
      <span class="quiet count">{{
        tracks.length === all ? plural(all, 'track', 'tracks') : `${tracks.length} of ${plural(all, 'track', 'tracks')}`
      }}</span>
      <span v-if="selection.list.length" class="quiet count">selected: {{ selection.list.length }}</span>
      <FitRow :items="verbs" />
      <el-button size="small" type="primary" @click="picker?.click()">Bring in audio…</el-button>
      <input ref="picker" type="file" :accept="ACCEPTED" multiple hidden data-audio @change="picked" />
    </div>
    <ImportList v-if="imports.list.length" />
    <div class="table scroll">
      <div v-if="all" class="grid head caption">
        <span /><span>name</span><span>family</span><span>waveform</span><span>layout</span
        ><span class="num">length</span><span class="num">peak dBFS</span><span class="num">LUFS</span
        ><span>feeds</span>
      </div>
      <FirstSteps v-if="!all" />
      <div v-else ref="scroller" class="scroll rows" role="list" aria-label="tracks" tabindex="0" data-home>
        <div :style="{ height: `${list.getTotalSize()}px`, position: 'relative' }">
          <div
            v-for="r in list.getVirtualItems()"
            :key="tracks[r.index]!.id"
            class="grid row"
            role="listitem"
            :aria-current="selection.ids.has(tracks[r.index]!.id)"
            :aria-label="tracks[r.index]!.name"
            :data-track="tracks[r.index]!.id"
            :class="{ selected: selection.ids.has(tracks[r.index]!.id), muted: tracks[r.index]!.muted }"
            :style="{ transform: `translateY(${r.start}px)`, height: `${ROW}px` }"
            @click="selection.click(tracks[r.index]!.id, $event, order)"
            @dblclick="strips.rename(tracks[r.index]!.id)"
          >
            <i class="hue" :style="{ background: `var(--hue-${tracks[r.index]!.colour})` }" />
            <span class="clip name" :title="tracks[r.index]!.name">{{ tracks[r.index]!.name }}</span>
            <span class="family" @click.stop>
              <el-select
                :model-value="tracks[r.index]!.family"
                size="small"
                placeholder="unknown"
                :class="{ guessed: tracks[r.index]!.familyGuessed }"
                :aria-label="`family of ${tracks[r.index]!.name}`"
                @change="(f: string) => setFamily(tracks[r.index]!.id, f)"
              >
                <el-option v-for="f in families" :key="f.family" :value="f.family" :label="f.family" /><el-option
                  value=""
                  label="unknown"
                />
              </el-select>
              <span v-if="tracks[r.index]!.familyGuessed" class="caption" title="guessed from the name">guess</span>
            </span>
            <span class="wave"
              ><WaveImage
                v-if="medium(tracks[r.index]!.id)"
                :sha256="medium(tracks[r.index]!.id)!.sha256"
                :hue="tracks[r.index]!.colour"
              /><NotesImage
                v-else-if="played.has(tracks[r.index]!.id)"
                :channel="tracks[r.index]!.id"
                :hue="tracks[r.index]!.colour"
                :from="0"
                :to="transport.length"
              /><span v-else class="caption">no clip</span></span
            >
            <span class="quiet"
              >{{ layoutName(tracks[r.index]!.layout)
              }}<span
                v-if="medium(tracks[r.index]!.id)?.originalRate"
                class="caption rate"
                title="rate of the file, converted"
              >
                {{ medium(tracks[r.index]!.id)!.originalRate! / 1000 }} kHz</span
              ></span
            >
            <span class="num" :title="fileWords(tracks[r.index]!.id)">{{
              medium(tracks[r.index]!.id) ? shortTime(medium(tracks[r.index]!.id)!.frames, transport.rate) : ''
            }}</span>
            <span class="num">{{ medium(tracks[r.index]!.id) ? dB(medium(tracks[r.index]!.id)!.peakDb) : '' }}</span>
            <span class="num">{{
              medium(tracks[r.index]!.id) ? dB(medium(tracks[r.index]!.id)!.loudnessLufs) : ''
            }}</span>
            <span class="quiet clip">{{
              store.session!.channel[store.network!.next(tracks[r.index]!.id).find(f => f.kind === 'main')?.to ?? '']
                ?.name ?? 'nothing'
            }}</span>
          </div>
        </div>
      </div>
    </div>
  </div>
</template>

<style scoped>
.sources {
  position: relative;
  display: flex;
  flex-direction: column;
  min-height: 0;
  flex: 1;
}
.table {
  flex: 1;
  min-height: 0;
  display: flex;
  flex-direction: column;
  overflow: auto hidden;
}
.table > * {
  min-width: 820px;
}
.grid {
  display: grid;
  grid-template-columns: 6px minmax(120px, 1.2fr) 158px minmax(140px, 2fr) 104px 62px 74px 58px minmax(80px, 0.8fr);
  gap: 12px;
  align-items: center;
  padding: 0 16px;
}
.head {
  height: 28px;
  border-bottom: 1px solid var(--rule);
}
.rows {
  flex: 1;
}
.row {
  position: absolute;
  left: 0;
  right: 0;
  border-bottom: 1px solid color-mix(in srgb, var(--rule) 50%, transparent);
  cursor: default;
  user-select: none;
}
.row:hover {
  background: var(--surface);
}
.row.selected {
  background: var(--acting-soft);
}
.row.muted .name,
.row.muted .wave {
  opacity: 0.5;
}
.rate {
  margin-left: 6px;
}
.hue {
  height: 26px;
  border-radius: 2px;
}
.name {
  font-weight: 500;
}
.family {
  display: flex;
  gap: 6px;
  align-items: center;
}
.family .el-select {
  width: 112px;
}
.wave {
  height: 28px;
}
</style>
