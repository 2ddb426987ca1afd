<script setup lang="ts">
// The takes of one track: which is heard, what each is called and worth, how loud it is, and where it came from.
import { computed, ref } from 'vue'
import { partName, staleParts } from '@nullet/core/print/stale'
import { RATINGS, type Take } from '@nullet/core/session/rows'
import { byOrder, clipLength, rows, takesOf } from '@nullet/core/session/session'
import { dB, shortTime, whenText } from '~/words/format'
import { useCompare } from '~/stores/compare'
import { useSession } from '~/stores/session'
import { useTakes } from '~/stores/takes'
import { useTransport } from '~/stores/transport'

const props = defineProps<{ channel: string }>()
const store = useSession(),
  takes = useTakes(),
  transport = useTransport(),
  compare = useCompare()
const track = computed(() => store.session!.channel[props.channel]!)
const list = computed(() =>
  takesOf(store.session!, props.channel).map(take => {
    const clips = rows(store.session!, 'clip').filter(c => c.take === take.id)
    const media = clips.flatMap(c => store.session!.medium[c.medium] ?? [])
    const print = rows(store.session!, 'print').find(p => clips.some(c => c.id === p.clip))
    const loudest = Math.max(...media.map(m => m.loudnessLufs ?? -Infinity))
    return {
      take,
      lufs: Number.isFinite(loudest) ? loudest : null,
      length: shortTime(
        clips.reduce((n, c) => n + clipLength(store.session!, c), 0),
        transport.rate
      ),
      from: print ? `printed ${whenText(print.printedAt)}` : (media[0]?.name ?? 'empty'),
      differs: print?.verified === 'differs',
      stale: print?.source ? staleParts(store.session!, print.id).map(p => partName(store.session!, p)) : []
    }
  })
)
const references = computed(() =>
  rows(store.session!, 'channel')
    .filter(c => c.kind === 'track' && c.id !== props.channel)
    .sort(byOrder)
)
const hidden = computed(() => compare.hides(props.channel))
/** What is typed, until it is a name. */
const typed = ref<Record<string, string>>({})
function rename(take: Take): void {
  const name = typed.value[take.id]?.trim()
  const { [take.id]: _, ...left } = typed.value
  typed.value = left
  if (name && name !== take.name) takes.set(take.id, { name })
}
</script>

<template>
  <div class="takes" :data-takes="channel">
    <CompareSides :ids="[channel]" keeps />
    <table v-if="!hidden">
      <thead>
        <tr class="caption">
          <th>heard</th>
          <th>take</th>
          <th>worth</th>
          <th class="num">LUFS</th>
          <th class="num">length</th>
          <th>from</th>
          <td />
        </tr>
      </thead>
      <tbody>
        <tr v-for="t in list" :key="t.take.id" :class="{ on: t.take.id === track.take }" :data-take="t.take.id">
          <td>
            <input
              type="radio"
              :name="`take-of-${channel}`"
              :checked="t.take.id === track.take"
              :aria-label="`hear ${t.take.name}`"
              @change="takes.hear(channel, t.take.id)"
            />
          </td>
          <td>
            <el-input
              :model-value="typed[t.take.id] ?? t.take.name"
              size="small"
              maxlength="300"
              :aria-label="`name of ${t.take.name}`"
              @update:model-value="(v: string) => (typed[t.take.id] = v)"
              @keydown.enter="($event.target as HTMLInputElement).blur()"
              @blur="rename(t.take)"
            />
          </td>
          <td>
            <el-select
              :model-value="t.take.rating"
              size="small"
              style="width: 96px"
              :aria-label="`worth of ${t.take.name}`"
              @change="(rating: Take['rating']) => takes.set(t.take.id, { rating })"
              ><el-option v-for="r in RATINGS" :key="r" :value="r" :label="r === 'unrated' ? '–' : r"
            /></el-select>
          </td>
          <td class="num">{{ t.lufs === null ? '–' : dB(t.lufs) }}</td>
          <td class="num">{{ t.length }}</td>
          <td class="clip" :title="t.from">
            {{ t.from }}<span v-if="t.differs" class="wrong"> · differs from the live path</span
            ><span v-if="t.stale.length" class="mind" :title="`changed since: ${t.stale.join(', ')}`"> · stale</span>
          </td>
          <td>
            <span class="deeds">
              <button
                v-if="transport.repeat && t.take.id !== track.take"
                class="plain act"
                :aria-label="`the marked range of ${t.take.name} into the take that is heard`"
                title="a take of both: the one that is heard, with the marked range of this one"
                @click="takes.splice(t.take)"
              >
                use its marked range
              </button>
              <button class="plain quiet" :aria-label="`remove ${t.take.name}`" @click="takes.remove(t.take)">×</button>
            </span>
          </td>
        </tr>
      </tbody>
    </table>
    <div class="below">
      <button v-if="!compare.isOf([channel])" class="plain act" data-compare-takes @click="compare.beginTakes(channel)">
        compare them at equal loudness
      </button>
      <label class="caption reference"
        >compared with
        <el-select
          :model-value="track.reference ?? ''"
          size="small"
          filterable
          placeholder="no reference"
          :aria-label="`reference of ${track.name}`"
          @change="(v: string) => store.apply('setChannels', { ids: [channel], fields: { reference: v || null } })"
          ><el-option value="" label="no reference" /><el-option
            v-for="t in references"
            :key="t.id"
            :value="t.id"
            :label="t.name" /></el-select
      ></label>
      <ClipTools v-if="!hidden" :channel="channel" />
    </div>
  </div>
</template>

<style scoped>
.takes {
  min-width: 0;
}
table {
  width: 100%;
  border-collapse: collapse;
  font-size: 12px;
}
th {
  text-align: left;
  font-weight: 400;
}
td,
th {
  padding: 2px 14px 2px 0;
}
tbody td {
  border-top: 1px solid var(--rule);
}
td.clip {
  max-width: 280px;
}
.num {
  text-align: right;
}
.on {
  background: var(--acting-soft);
}
input[type='radio'] {
  accent-color: var(--acting);
  margin: 0 0 0 8px;
  vertical-align: middle;
}
.deeds {
  white-space: nowrap;
  display: flex;
  gap: 12px;
  justify-content: end;
}
.reference {
  display: flex;
  gap: 6px;
  align-items: center;
}
.reference .el-select {
  width: 150px;
}
.below {
  display: flex;
  gap: 22px;
  align-items: center;
  margin-top: 4px;
}
.act {
  color: var(--acting);
  font-size: 12px;
}
.mind {
  color: var(--mind);
}
.wrong {
  color: var(--wrong);
}
</style>
