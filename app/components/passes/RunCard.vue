<script setup lang="ts">
// The passes of a plan as they are worked through in a room: what to patch and set before each, ticked off, why each is
// one of its own, and what is put back at the end. It can be printed on paper.
import { computed } from 'vue'
import { usePasses } from '~/stores/passes'
import { useSession } from '~/stores/session'

defineProps<{ can: boolean }>()
const emit = defineEmits<{ run: [pass: number] }>()
const store = useSession(),
  passes = usePasses()
const cards = computed(() =>
  passes.plan.cards.map((card, n) => ({
    ...card,
    n,
    prints: card.jobs.map(i => passes.planned[i]!),
    lines: card.todo.map(t => ({ ...t, id: `${passes.planned[card.jobs[0]!]!.print} ${t.what}` }))
  }))
)
const back = computed(() => passes.plan.back.map(t => ({ ...t, id: `back ${t.what}` })))
/** Power is a thing of the room itself: ticked off, the session knows it. */
function done(line: { id: string; what: string }, on: boolean): void {
  const [kind, unit] = line.what.split(' ')
  if (kind === 'power' && unit && on && !line.id.startsWith('back'))
    store.apply('setUnit', { id: unit, fields: { powered: true } })
  else passes.tick(line.id, on)
  if (!cards.value.length && back.value.every(l => passes.isTicked(l.id))) passes.allBack()
}
const toPaper = () => window.print()
</script>

<template>
  <div class="card" data-run-card>
    <div class="top">
      <span class="caption">run card</span>
      <button class="plain act" @click="toPaper">on paper…</button>
    </div>
    <ol>
      <li v-for="c in cards" :key="c.n" :data-pass="c.n + 1">
        <div class="what">
          <b>Pass {{ c.n + 1 }}</b>
          <span>{{
            c.prints.map(p => (p.place === 'take' ? `${passes.whatOf(p)}: ${p.name}` : p.name)).join(', ')
          }}</span>
          <span v-if="c.why" class="quiet">because {{ c.why }}</span>
        </div>
        <TodoLines :lines="c.lines" @done="done"
          ><span v-if="!c.lines.length" class="quiet">everything stands as it has to</span></TodoLines
        >
        <div class="run">
          <el-button
            v-if="cards.length > 1"
            size="small"
            :disabled="!can || c.n > 0"
            :title="c.n > 0 ? 'the passes before it come first' : undefined"
            :data-run-pass="c.n + 1"
            @click="emit('run', c.n)"
            >Run this one</el-button
          >
          <button
            v-if="passes.plan.mayBeNext[c.n]"
            class="plain act next"
            :data-next-pass="c.n + 1"
            title="before the others, which stay in their order"
            @click="passes.first = c.prints[0]!.print"
          >
            do this one next
          </button>
        </div>
      </li>
      <li v-if="back.length" data-put-back>
        <div class="what"><b>Afterwards</b><span class="quiet">as it stood before</span></div>
        <TodoLines :lines="back" @done="done" />
      </li>
    </ol>
  </div>
</template>

<style scoped>
.card {
  margin: 10px 0;
}
.top {
  display: flex;
  gap: 14px;
  align-items: baseline;
}
.act {
  color: var(--acting);
  font-size: 12px;
}
ol {
  list-style: none;
  margin: 2px 0 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 300px minmax(0, 1fr) auto;
  gap: 6px 16px;
  align-items: start;
  padding: 6px 0;
  border-top: 1px solid var(--rule);
}
.run {
  display: grid;
  gap: 4px;
  justify-items: end;
}
.what {
  display: grid;
  gap: 1px;
}
</style>
<style>
@media print {
  body:has([data-run-card]) * {
    visibility: hidden;
  }
  [data-run-card],
  [data-run-card] * {
    visibility: visible !important;
    color: black !important;
  }
  [data-run-card] {
    position: absolute;
    inset: 0 auto auto 0;
    width: 100%;
  }
  [data-run-card] button {
    display: none;
  }
}
</style>
