<script setup lang="ts">
// Questions about one channel: why it is silent, what would change without it, how much of what is heard it is.
import { ref, shallowRef, watch } from 'vue'
import { whySilent, type Cause } from '@nullet/core/graph/whySilent'
import { slotLabel } from '@nullet/core/processors/table'
import type { Contribution, Influence } from '@nullet/core/measure/influence'
import { dB } from '~/words/format'
import { useAnalyst } from '~/stores/analyst'
import { useSession } from '~/stores/session'
import { useShell, type PathQuestion } from '~/stores/shell'

const props = defineProps<{ id: string }>()
const store = useSession(),
  shell = useShell(),
  analyst = useAnalyst()
const asked = ref<PathQuestion | null>(null)
const causes = shallowRef<Cause[]>([])
const places = shallowRef<Influence[] | null>(null)
const share = shallowRef<Contribution | null>(null)
const measured = ref('')

async function ask(which: PathQuestion): Promise<void> {
  asked.value = which
  places.value = share.value = null
  if (which === 'silent') {
    causes.value = whySilent(store.session!, props.id)
    return
  }
  measured.value = analyst.rangeText
  const range = analyst.range
  if (which === 'without')
    places.value = (await analyst.ask({ kind: 'without', channel: props.id, range }))?.places ?? null
  else if (analyst.heard)
    share.value = await analyst.ask({ kind: 'share', channel: props.id, heard: analyst.heard, range })
}
// Asked by keys, from wherever.
watch(
  () => shell.question,
  which => {
    if (which) {
      shell.question = null
      void ask(which)
    }
  },
  { immediate: true }
)
// An answer about a network that has changed says nothing any more.
watch(
  () => store.session,
  () => {
    if (asked.value === 'silent') causes.value = whySilent(store.session!, props.id)
    else if (asked.value && analyst.busy === null) {
      asked.value = null
      places.value = share.value = null
    }
  }
)

function nameOf(p: Influence): string {
  const s = store.session!
  if (p.kind === 'port') return s.port[p.id]?.name ?? p.id
  if (p.kind === 'bus') return s.channel[p.id]?.name ?? p.id
  const slot = s.slot[p.id]
  return slot ? `key of ${slotLabel(slot.processor).toLowerCase()} on ${s.channel[slot.channel]?.name}` : p.id
}
/** How much a place loses, in words that fit a line. */
function loss({ withLufs, withoutLufs }: Influence): string {
  if (withLufs === -Infinity) return 'silent as it is'
  if (withoutLufs === -Infinity) return 'falls silent'
  const lost = withLufs - withoutLufs
  return Math.abs(lost) < 0.05 ? 'stays' : `${dB(-lost)} LU`
}
</script>

<template>
  <div class="ask">
    <el-button size="small" title="w s" @click="ask('silent')">Why is this silent?</el-button>
    <el-button size="small" title="w w" data-without @click="ask('without')">What without it?</el-button>
    <el-button size="small" title="w h" data-share @click="ask('share')">How much of it is heard?</el-button>
  </div>
  <p v-if="(asked === 'without' || asked === 'share') && analyst.busy" class="quiet run">
    listening {{ Math.round(analyst.progress * 100) }} %
    <button
      class="plain act"
      @click="
        () => {
          analyst.stop()
          asked = null
        }
      "
    >
      stop
    </button>
  </p>
  <ul v-if="asked === 'silent'" class="why" data-why>
    <li v-if="!causes.length" class="quiet">Nothing in the network keeps it from being heard.</li>
    <li v-for="(w, i) in causes" :key="i">
      <span :class="{ first: i === 0 }">{{ w.sentence }}</span>
      <button v-if="w.fix" class="plain act" @click="store.apply(w.fix.edit.verb, w.fix.edit.args)">
        {{ w.fix.label }}
      </button>
    </li>
  </ul>
  <template v-if="asked === 'without' && places">
    <p v-if="!places.length" class="quiet">Nothing would change: it reaches no bus, no key and no port.</p>
    <div v-for="p in places" :key="`${p.kind} ${p.id}`" class="place" :data-place="p.id">
      <span class="clip" :title="nameOf(p)">{{ nameOf(p) }}</span><span
        class="num"
        :class="{ quiet: loss(p) === 'stays' }"
        >{{ loss(p) }}</span
      >
    </div>
    <p class="caption">measured from {{ measured }}</p>
  </template>
  <template v-if="asked === 'share' && share">
    <div class="place">
      <span>without it, what is heard is</span
      ><span class="num" data-lu>{{ share.shareLu === Infinity ? 'silent' : `${dB(-share.shareLu)} LU` }}</span>
    </div>
    <div class="place">
      <span>alone</span><span class="num">{{ dB(share.aloneLufs) }} LUFS</span>
    </div>
    <div class="place">
      <span>all that is heard</span><span class="num">{{ dB(share.allLufs) }} LUFS</span>
    </div>
    <p class="caption">measured from {{ measured }}</p>
  </template>
</template>

<style scoped>
.ask {
  display: grid;
  gap: 6px;
  justify-items: start;
}
.ask :deep(.el-button) {
  margin-left: 0;
}
.run {
  margin: 8px 0;
}
.why {
  padding-left: 16px;
  margin: 8px 0;
}
.why .first {
  font-weight: 500;
}
.act {
  color: var(--acting);
}
.place {
  display: flex;
  gap: 8px;
  justify-content: space-between;
  height: 22px;
  align-items: center;
  margin-top: 2px;
}
.place .clip {
  min-width: 0;
}
.caption {
  margin: 4px 0;
}
</style>
