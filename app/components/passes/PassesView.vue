<script setup lang="ts">
// Above, the passes that are planned; below, prints under their sources, over time.
import { computed } from 'vue'
import { sameTap, wantedTap } from '~/session/printsPlan'
import { byOrder, isHeardPrint, printOn, rows } from '@nullet/core/session/session'
import { staleParts } from '@nullet/core/print/stale'
import type { Print } from '@nullet/core/session/rows'
import { plural, size } from '~/words/format'
import { goTo } from '~/stores/goTo'
import { usePasses } from '~/stores/passes'
import { useSelection } from '~/stores/selection'
import { useSession } from '~/stores/session'
import { useShell } from '~/stores/shell'
import { useStorage } from '~/stores/storage'

const store = useSession(),
  shell = useShell(),
  storage = useStorage(),
  passes = usePasses(),
  selection = useSelection()
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
  const groups: { key: string; prints: Print[] }[] = []
  for (const p of rows(store.session!, 'print'))
    if (p.share !== null && p.source !== null && isHeardPrint(store.session!, p)) {
      const key = `${p.source} ${p.tap}`,
        group = groups.find(g => g.key === key)
      if (group) group.prints.push(p)
      else groups.push({ key, prints: [p] })
    }
  return groups.filter(g => g.prints.length > 1)
})
/** Taps of prints that are heard and stale. */
const stale = computed(() =>
  rows(store.session!, 'print')
    .filter(p => p.source && isHeardPrint(store.session!, p) && staleParts(store.session!, p.id).length > 0)
    .map(p => ({ ...wantedTap(p.source!, p.tap, p.share), through: p.through }))
    .filter((t, i, all) => all.findIndex(o => sameTap(o, t)) === i)
)
const count = computed(() => held.value.filter(h => h.print).length)
const first = computed(() =>
  rows(store.session!, 'channel').some(c => c.kind === 'track')
    ? []
    : [{ label: 'Bring in audio…', run: () => goTo(`/s/${store.id}/sources`) }]
)
</script>

<template>
  <MovementView v-if="shell.passesAs === 'time'"><PassesSwitch /></MovementView>
  <div v-else class="passes scroll">
    <PassesSwitch class="switch" />
    <NextPasses />
    <section>
      <div class="head">
        <h2 class="title">Prints and takes</h2>
        <button v-if="stale.length" class="plain act" data-print-stale @click="passes.add(stale)">
          print what is stale again ({{ stale.length }})
        </button>
        <span class="quiet">{{ count ? `${plural(count, 'print', 'prints')} on tracks of their own` : '' }}</span>
        <button
          v-if="storage.bytes"
          class="plain storage"
          :class="storage.isOver ? 'mind' : 'quiet'"
          title="what of it is heard, and what may go (p m)"
          data-storage
          @click="shell.sheet = 'storage'"
        >
          {{ size(storage.bytes)
          }}{{ storage.isOver ? `, more than the ${storage.budgetGb} GB that were set` : ' of prints are kept' }}
        </button>
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
.head {
  display: flex;
  align-items: center;
  gap: 14px;
  min-height: 30px;
}
.act {
  color: var(--acting);
}
.storage {
  margin-left: auto;
}
.mind {
  color: var(--mind);
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
</style>
