<script setup lang="ts">
// Where the pass of a print went wrong, and what can be done about it.
import { computed } from 'vue'
import { faultText, toRunAgain } from '@nullet/core/print/faults'
import { SEAM_S } from '@nullet/core/print/runAgain'
import type { Row } from '@nullet/core/session/rows'
import { plural, shortTime } from '~/words/format'
import { isOpen, useJobs } from '~/stores/jobs'
import { newId } from '~/stores/ids'
import { usePasses } from '~/stores/passes'
import { useSession } from '~/stores/session'
import { useTransport } from '~/stores/transport'

const props = defineProps<{ print: Row<'print'>; stale: boolean }>()
const store = useSession(),
  transport = useTransport(),
  passes = usePasses(),
  jobs = useJobs()
const FEW = 4
const faults = computed(() => props.print.faults)
const name = computed(() => store.session!.channel[props.print.channel]?.name ?? '')
/** What is sent is too loud for the converter: at the same level it clips again. */
const overDb = computed(() => Math.max(0, ...faults.value.map(f => f.overDb ?? 0)))
const others = computed(() => faults.value.filter(f => f.kind !== 'clipped'))
const running = computed(() =>
  jobs.list.find(j => j.kind === 'runAgain' && j.args.print === props.print.id && isOpen(j))
)
function runAgain(): void {
  const { id, startFrame, frames } = props.print
  const parts = toRunAgain(others.value, Math.round(SEAM_S * transport.rate), { from: startFrame, frames })
  void jobs.start('runAgain', `Bars of “${name.value}” again`, { print: id, medium: newId(), parts })
}
/** Room for what is left over when the whole is a little louder. */
const SPARE_DB = 0.5
function lower(): void {
  const { source, tap, share, through } = props.print
  if (!source || !through) return
  const levelDb = Math.round(10 * (through.levelDb - overDb.value - SPARE_DB)) / 10
  passes.add([{ source, tap, share, through: { ...through, levelDb } }])
}
const keep = () => store.apply('acceptFaults', { id: props.print.id })
</script>

<template>
  <div class="faults" role="group" :aria-label="`what went wrong with ${name}`" data-faults>
    <ul>
      <li v-for="(f, i) in faults.slice(0, FEW)" :key="i">
        <button class="plain act num" title="go there" @click="transport.seek(f.from)">
          {{ shortTime(f.from, transport.rate) }}
        </button>
        <span class="clip"
          >{{ faultText(f, transport.rate) }}
          <span v-if="f.kind === 'lost'" class="quiet">for {{ shortTime(f.frames, transport.rate) }}</span></span
        >
      </li>
      <li v-if="faults.length > FEW" class="quiet">
        and {{ plural(faults.length - FEW, 'more place', 'more places') }}
      </li>
    </ul>
    <div class="row">
      <span v-if="running" class="caption"
        >running bars again, {{ Math.round(running.progress * 100) }} %
        <button class="plain act" @click="jobs.stop(running.id)">stop</button></span
      >
      <template v-else>
        <button v-if="others.length && !stale" class="plain act" data-run-again @click="runAgain">
          run {{ others.length === 1 ? 'these bars' : 'those bars' }} again
        </button>
        <button v-if="overDb > 0 && print.through" class="plain act" data-lower @click="lower">
          a pass {{ (overDb + SPARE_DB).toFixed(1) }} dB lower…
        </button>
        <button class="plain act" data-keep-as-it-is @click="keep">keep it as it is</button>
      </template>
    </div>
  </div>
</template>

<style scoped>
.faults {
  border-left: 3px solid var(--wrong);
  padding: 2px 0 2px 10px;
  display: grid;
  gap: 2px;
  font-size: 12px;
}
ul {
  margin: 0;
  padding: 0;
  list-style: none;
  display: grid;
  gap: 1px;
}
li {
  display: flex;
  gap: 10px;
  align-items: baseline;
}
.row {
  display: flex;
  gap: 14px;
}
.act {
  color: var(--acting);
}
</style>
