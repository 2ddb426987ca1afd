<script setup lang="ts">
// Shares of one tap that are printed: whether they add up to it, proven here and now, and what is to blame if not.
import { computed, shallowRef, watch } from 'vue'
import { proofOf } from '@nullet/core/print/prove'
import { staleParts } from '@nullet/core/print/stale'
import { SUMS_DB, type SumProof } from '@nullet/core/print/sum'
import type { Print } from '@nullet/core/session/rows'
import { dB, shortTime, whenText } from '~/words/format'
import { useAnalyst } from '~/stores/analyst'
import { useSelection } from '~/stores/selection'
import { useSession } from '~/stores/session'
import { useTransport } from '~/stores/transport'

const props = defineProps<{ prints: Print[] }>()
const store = useSession(),
  analyst = useAnalyst(),
  transport = useTransport(),
  selection = useSelection()
/** What was found now; without it, what is kept of the last time. */
const proof = shallowRef<SumProof | null>(null)
const asking = shallowRef(false)
const kept = computed(() => {
  const ids = props.prints.map(p => p.id).sort()
  const all = props.prints.map(p => p.proofs.find(q => q.of === 'sum' && q.prints.toSorted().join() === ids.join()))
  const [first] = all
  return first && all.every(q => q?.at === first.at) ? first : null
})
const isStale = computed(() => props.prints.some(p => staleParts(store.session!, p.id).length > 0))
const nameOf = (id: string | null) => store.session!.channel[id ?? '']?.name ?? ''
const source = computed(() => nameOf(props.prints[0]!.source))
const range = computed(() => ({
  from: Math.min(...props.prints.map(p => p.startFrame)),
  frames: Math.max(...props.prints.map(p => p.frames))
}))
watch(
  () => props.prints.map(p => p.fingerprint + p.id).join(),
  () => {
    proof.value = null
  }
)
async function prove(): Promise<void> {
  asking.value = true
  proof.value = await analyst.ask({ kind: 'sum', prints: props.prints.map(p => p.id), range: range.value })
  asking.value = false
  const found = proof.value
  if (!found) return
  const ids = props.prints.map(p => p.id)
  const reasons = found.culprits.map(c => c.reason)
  store.apply('keepProof', { ids, proof: proofOf('sum', found, ids, reasons) })
}
const result = computed(() => {
  if (proof.value) return proof.value
  const { leftDb, signalDb } = kept.value ?? {}
  if (leftDb === undefined) return null
  const left = (leftDb ?? -Infinity) - (signalDb ?? 0)
  return { rmsDb: leftDb ?? -Infinity, signalDb: signalDb ?? 0, sums: left < SUMS_DB }
})
const says = computed(() => {
  const p = result.value
  if (!p) return ''
  const apart = p.rmsDb === -Infinity ? 'nothing is left' : `${dB(p.rmsDb - p.signalDb)} dB of the mix is left`
  return p.sums ? `They add up to ${source.value}: ${apart}.` : `They do not add up to ${source.value}: ${apart}.`
})
function go(about: string): void {
  const channel = store.session!.slot[about]?.channel ?? about
  if (store.session!.channel[channel]) selection.set([channel], channel)
}
</script>

<template>
  <article class="proof" data-proof>
    <div class="head">
      <span class="name">{{ prints.length }} shares of {{ source }}</span>
      <span v-if="result" data-proven :class="result.sums ? 'identical' : 'differs'">{{ says }}</span>
      <span v-else class="quiet clip">{{ prints.map(p => nameOf(p.share)).join(', ') }}</span>
      <span class="space" />
      <span v-if="asking" class="quiet"
        >adding {{ Math.round(analyst.progress * 100) }} %
        <button class="plain act" @click="analyst.stop">stop</button></span
      >
      <button v-else class="plain act" data-prove @click="prove">
        {{ result ? 'prove it again' : 'prove that they add up' }}
      </button>
    </div>
    <ul v-if="proof?.culprits.length" class="culprits">
      <li v-for="c in proof.culprits" :key="c.kind + c.about">
        <button class="plain" @click="go(c.about)">{{ c.reason }}</button>
      </li>
    </ul>
    <ul v-else-if="kept?.culprits.length" class="culprits">
      <li v-for="reason in kept.culprits" :key="reason">{{ reason }}</li>
    </ul>
    <p v-if="result" class="caption">
      {{ shortTime(range.frames, transport.rate) }}, what is stored against what
      {{ proof || !kept ? 'is live now' : `was live ${whenText(kept.at)}`
      }}<span v-if="!proof && isStale" class="mind"> · something has changed since</span>
    </p>
  </article>
</template>

<style scoped>
.proof {
  padding: 8px 0;
  border-bottom: 1px solid var(--rule);
}
.head {
  display: flex;
  align-items: center;
  gap: 16px;
}
.name {
  font-weight: 600;
  white-space: nowrap;
}
.clip {
  min-width: 0;
}
.identical {
  color: var(--signal);
}
.differs {
  color: var(--wrong);
}
.space {
  flex: 1;
}
.act {
  color: var(--acting);
  white-space: nowrap;
}
.culprits {
  margin: 4px 0 0;
  padding-left: 18px;
}
.caption {
  margin: 4px 0 0;
}
.mind {
  color: var(--mind);
}
</style>
