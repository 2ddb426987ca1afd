<script setup lang="ts">
// What each channel and slot costs to compute, measured while rendering; who uses it, and what parking or sharing
// saves.
import { computed, ref, shallowRef, watch } from 'vue'
import { useVirtualizer } from '@tanstack/vue-virtual'
import type { EditMessage } from '@nullet/core/session/editMessage'
import { slotLabel } from '@nullet/core/processors/table'
import { useShown } from '~/keyboard/shown'
import { useAnalyst } from '~/stores/analyst'
import { useChecks } from '~/stores/checks'
import { useNotices } from '~/stores/notices'
import { useSelection } from '~/stores/selection'
import { useSession } from '~/stores/session'
import type { Answer } from '~/audio/analystMessages'
import { costLines, parkEdit, sorted, type CostLine, type SortBy } from './costLines'

const ROW = 30
const store = useSession(),
  analyst = useAnalyst(),
  checks = useChecks(),
  notices = useNotices(),
  selection = useSelection()
const scroller = ref<HTMLElement>()
const result = shallowRef<Extract<Answer, { kind: 'cost' }> | null>(null)
const measuredOn = shallowRef<unknown>(null)
const by = ref<SortBy>('share')
const sharing = computed(() => checks.findings.filter(f => f.check === 'sameEffect'))

async function measure(): Promise<void> {
  if (!analyst.heard) return notices.tell('Nothing is heard yet: make a main first.')
  checks.look()
  const session = store.session!
  const tries = [
    ...Object.keys(session.channel)
      .filter(id => id !== analyst.heard && !session.channel[id]!.parked)
      .map(id => ({ name: id, edit: parkEdit([id]) })),
    ...sharing.value.map((f, i) => ({ name: `share ${i}`, edit: f.fixes[0]!.edit }))
  ]
  const answer = await analyst.ask({ kind: 'cost', heard: analyst.heard, range: analyst.range, tries })
  if (!answer) return
  result.value = answer
  measuredOn.value = session
}
const stale = computed(() => result.value !== null && measuredOn.value !== store.session)
const saved = computed(() => new Map(result.value?.saved.map(s => [s.name, s.share]) ?? []))
const lines = computed(() =>
  result.value ? sorted(costLines(store.session!, store.network!, result.value.rows, saved.value), by.value) : []
)
useShown(() => [...new Set(lines.value.flatMap(l => l.channel ?? []))])
const most = computed(() => Math.max(0.0001, ...lines.value.map(l => l.share)))
const list = useVirtualizer(
  computed(() => ({
    count: lines.value.length,
    getScrollElement: () => scroller.value ?? null,
    estimateSize: () => ROW,
    overscan: 10
  }))
)
const percent = (x: number) => `${(x * 100).toFixed(x < 0.0995 ? 2 : 1)} %`
const times = computed(() => (result.value ? result.value.audioSeconds / result.value.seconds : 0))
const HEADS: { by: SortBy; label: string; num?: boolean }[] = [
  { by: 'name', label: 'channel or slot' },
  { by: 'share', label: 'share', num: true },
  { by: 'users', label: 'used by', num: true },
  { by: 'saves', label: 'parking saves', num: true }
]
function go(l: CostLine): void {
  if (l.channel) selection.set([l.channel], l.channel)
}
function apply(edit: EditMessage, what: string): void {
  if (store.apply(edit.verb, edit.args)) notices.tell(what, store.thisUndo())
}
watch(
  () => store.id,
  () => {
    result.value = null
  }
)
</script>

<template>
  <div class="cost">
    <div class="bar">
      <el-button size="small" type="primary" :loading="analyst.busy === 'cost'" data-measure @click="measure">{{
        result ? 'Measure again' : 'Measure'
      }}</el-button>
      <template v-if="analyst.busy === 'cost'"
        ><span class="num">{{ Math.round(analyst.progress * 100) }} %</span
        ><button class="plain act" @click="analyst.stop">stop</button></template
      >
      <span v-else-if="result" class="quiet" data-total
        >{{ times.toFixed(1) }} × real time on this machine<template v-if="stale"
          >, before the last changes</template
        ></span
      >
      <span v-else class="quiet">over {{ analyst.rangeText }}</span>
    </div>
    <div v-if="!result" class="empty">
      <h2>What does it cost?</h2>
      The session is rendered, and the time of every step is taken. Then each channel and slot shows its share, who uses
      it, and what parking it would save.
    </div>
    <template v-else>
      <div v-for="(f, i) in sharing" :key="i" class="offer">
        <span>{{ f.sentence }} One return saves {{ percent(saved.get(`share ${i}`) ?? 0) }}.</span
        ><el-button size="small" @click="apply(f.fixes[0]!.edit, 'One return made of many.')">{{
          f.fixes[0]!.label
        }}</el-button>
      </div>
      <div class="grid head caption">
        <button
          v-for="h in HEADS"
          :key="h.by"
          class="plain"
          :class="{ num: h.num, on: by === h.by }"
          :aria-pressed="by === h.by"
          @click="by = h.by"
        >
          {{ h.label }}{{ by === h.by ? ' ↓' : '' }}</button
        ><span />
      </div>
      <div ref="scroller" class="scroll rows">
        <div :style="{ height: `${list.getTotalSize()}px`, position: 'relative' }">
          <div
            v-for="r in list.getVirtualItems()"
            :key="lines[r.index]!.key"
            class="grid line"
            :class="{ selected: selection.ids.has(lines[r.index]!.channel ?? '') }"
            :style="{ transform: `translateY(${r.start}px)`, height: `${ROW}px` }"
            :data-cost="lines[r.index]!.key"
          >
            <button
              class="plain clip who"
              :style="{
                borderColor: lines[r.index]!.channel
                  ? `var(--hue-${store.session!.channel[lines[r.index]!.channel!]?.colour ?? 8})`
                  : 'transparent'
              }"
              @click="go(lines[r.index]!)"
            >
              {{ lines[r.index]!.name
              }}<span v-if="lines[r.index]!.slot" class="quiet">
                · {{ slotLabel(store.session!.slot[lines[r.index]!.slot!]?.processor ?? '') }}</span
              >
            </button>
            <span class="share"
              ><i :style="{ width: `${(lines[r.index]!.share / most) * 100}%` }" /><span class="num">{{
                percent(lines[r.index]!.share)
              }}</span></span
            >
            <span class="num" :class="{ quiet: !lines[r.index]!.users }">{{
              lines[r.index]!.users === null ? '' : lines[r.index]!.users || 'nobody'
            }}</span>
            <span class="num">{{ lines[r.index]!.saves === null ? '' : percent(lines[r.index]!.saves!) }}</span>
            <button
              v-if="lines[r.index]!.saves !== null && !stale"
              class="plain act"
              @click="apply(parkEdit([lines[r.index]!.channel!]), `“${lines[r.index]!.name}” is parked.`)"
            >
              park</button
            ><span v-else />
          </div>
        </div>
      </div>
    </template>
  </div>
</template>

<style scoped>
.cost {
  display: flex;
  flex-direction: column;
  flex: 1;
  min-height: 0;
}
.bar {
  display: flex;
  gap: 12px;
  align-items: center;
  padding: 6px 16px;
  border-bottom: 1px solid var(--rule);
  min-height: 38px;
}
.act {
  color: var(--acting);
}
.offer {
  display: flex;
  gap: 16px;
  align-items: center;
  justify-content: space-between;
  padding: 6px 16px;
  border-bottom: 1px solid var(--rule);
  border-left: 3px solid var(--mind);
}
.grid {
  display: grid;
  grid-template-columns: minmax(160px, 1.4fr) minmax(160px, 2fr) 80px 100px 44px;
  gap: 16px;
  align-items: center;
  padding: 0 16px;
}
.head {
  height: 28px;
  border-bottom: 1px solid var(--rule);
}
.head button {
  font-size: 11px;
  font-family: var(--sans);
}
.head .num {
  text-align: right;
}
.head .on {
  color: var(--ink);
  font-weight: 500;
}
.rows {
  flex: 1;
}
.line {
  position: absolute;
  left: 0;
  right: 0;
  border-bottom: 1px solid color-mix(in srgb, var(--rule) 50%, transparent);
}
.line:hover {
  background: var(--surface);
}
.line.selected {
  background: var(--acting-soft);
}
.who {
  border-left: 4px solid;
  padding-left: 8px;
  height: 20px;
}
.share {
  display: grid;
  grid-template-columns: 1fr 62px;
  gap: 10px;
  align-items: center;
}
.share i {
  height: 6px;
  background: var(--signal);
  border-radius: 1px;
  min-width: 1px;
}
</style>
