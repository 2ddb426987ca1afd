<script setup lang="ts">
// Everything that was done in this session, the newest first: what, when, by whom. One's own steps can be taken back,
// several at once; before that it says what would change.
import { computed, ref, shallowRef, watch } from 'vue'
import { changeWords } from '@nullet/core/edits/changeWords'
import { inverse } from '@nullet/core/session/session'
import type { Step } from '~/session/history'
import type { LogEntry } from '@nullet/core/session/log'
import type { Removed } from '@nullet/core/session/summary'
import { moment } from '~/words/format'
import { api } from '~/stores/api'
import { useNotices } from '~/stores/notices'
import { useSession } from '~/stores/session'
import { useShell } from '~/stores/shell'

const store = useSession(),
  shell = useShell(),
  notices = useNotices()
const entries = shallowRef<LogEntry[]>([])
const removed = shallowRef<Removed[]>([])
const hasOlder = ref(false)
const PAGE = 100
async function load(before?: number): Promise<void> {
  try {
    const page = (await store.readLog(before)).entries
    entries.value = before === undefined ? page : [...entries.value, ...page]
    hasOlder.value = page.length === PAGE
    if (before === undefined) removed.value = (await api<Removed[]>('/api/removed')).filter(r => r.kind !== 'session')
  } catch (error) {
    notices.wrong(error)
  }
}
watch(
  [() => shell.historyOpen, () => store.status, () => store.session],
  ([open, status]) => {
    if (open && status === 'saved') void load()
  },
  { immediate: true }
)

const waiting = computed(() => {
  const stored = new Set(entries.value.map(e => e.gesture))
  return store.undos
    .filter(s => !s.beside && s.gesture.startsWith(`${store.client}/`) && !stored.has(s.gesture))
    .toReversed()
})
const undoable = computed(() => new Map(store.undos.map((s, i) => [s.gesture, store.undos.length - i])))
const takenBack = computed(() => new Set(entries.value.flatMap(e => e.reverts ?? [])))
/** What took something back is shown by what it took back. */
const shown = computed<Line[]>(() => {
  const oldest = hasOlder.value ? entries.value.at(-1)!.madeAt : ''
  const stored = entries.value
    .filter(e => !e.reverts)
    .map(e => ({ key: String(e.revision), gesture: e.gesture, label: e.label, at: e.madeAt, who: who(e) }))
  const beside = store.undos.flatMap(({ gesture, label, beside: b }) =>
    b ? [{ key: gesture, gesture, label, at: b.at, who: 'you' }] : []
  )
  const known = new Set([...store.undos, ...store.redos].map(s => s.beside?.about))
  const gone = removed.value
    .filter(r => !known.has(r.id) && r.removedAt >= oldest)
    .map(r => ({
      key: `removed ${r.id}`,
      gesture: '',
      label: `Remove the ${r.kind === 'rig' ? 'library’s rig' : r.kind} “${r.name}”`,
      at: r.removedAt,
      who: '',
      gone: r
    }))
  return [...stored, ...beside, ...gone].sort((a, b) => (a.at < b.at ? 1 : a.at > b.at ? -1 : 0))
})

/** What stands in the list: a step as it is stored, one beside the session’s rows, or what was removed before. */
interface Line {
  key: string
  gesture: string
  label: string
  /** ISO 8601. */ at: string
  who: string
  gone?: Removed
}
async function bringBack({ kind, id }: Removed): Promise<void> {
  try {
    await api(`/api/${kind}s/${id}/restore`, { method: 'POST' })
    await load()
  } catch (error) {
    notices.wrong(error)
  }
}

function who({ client }: LogEntry): string {
  if (client === store.client) return 'you'
  if (client.startsWith(`${store.hand}-`)) return 'you, on another page'
  return client === '' ? 'Nullet' : 'somebody else'
}

const MOST_LINES = 12
const pointed = ref('')
/** What would change: of all steps from the newest to the one that is pointed at. */
const preview = computed(() => {
  const way = store.undos.some(s => s.gesture === pointed.value) ? store.undos : store.redos
  const at = way.findIndex(s => s.gesture === pointed.value)
  if (at < 0 || !store.session) return null
  const steps: Step[] = way.slice(at).toReversed()
  const lines = steps.flatMap(s => (s.beside ? [s.label] : changeWords(store.session!, inverse(s.changes))))
  return { count: steps.length, lines: lines.slice(0, MOST_LINES), more: Math.max(0, lines.length - MOST_LINES) }
})
const stepsText = (n: number) => (n === 1 ? 'take back' : `take back ${n} steps`)
</script>

<template>
  <el-drawer
    v-model="shell.historyOpen"
    title="What was done"
    size="420px"
    :append-to-body="true"
    :modal="false"
    modal-penetrable
    @mouseleave="pointed = ''"
  >
    <ol class="done" aria-label="what was done, the newest first">
      <li v-for="(s, i) in store.redos" :key="s.gesture" class="back" @mouseenter="pointed = s.gesture">
        <span class="clip" :title="s.label">{{ s.label }}</span><span class="caption">taken back</span
        ><button class="plain act" data-again @focus="pointed = s.gesture" @click="store.redoTo(s.gesture)">
          {{ store.redos.length - i === 1 ? 'make again' : `make ${store.redos.length - i} again` }}
        </button>
      </li>
      <li v-for="s in waiting" :key="s.gesture">
        <span class="clip" :title="s.label">{{ s.label }}</span><span class="caption">waits to be stored</span>
      </li>
      <li
        v-for="e in shown"
        :key="e.key"
        :class="{ back: takenBack.has(e.gesture) && !undoable.has(e.gesture) }"
        :data-step="e.gesture"
        @mouseenter="pointed = e.gesture"
      >
        <span class="clip" :title="e.label">{{ e.label }}</span><span class="caption"
          >{{ moment(e.at) }}{{ e.who && `, ${e.who}` }}</span
        ><button v-if="e.gone" class="plain act" data-bring-back @click="bringBack(e.gone)">bring back</button
        ><button
          v-else-if="undoable.has(e.gesture)"
          class="plain act"
          data-take-back
          @focus="pointed = e.gesture"
          @click="store.undoTo(e.gesture)"
        >
          {{ stepsText(undoable.get(e.gesture)!) }}
        </button>
      </li>
    </ol>
    <p v-if="!shown.length && !waiting.length" class="quiet">
      Nothing yet. Whatever is done here stands in this list and can be taken back from it.
    </p>
    <button v-if="hasOlder" class="plain act" @click="load(entries.at(-1)!.revision)">older…</button>
    <template v-if="preview" #footer>
      <div class="preview" data-preview role="status">
        <strong>{{ preview.count === 1 ? 'This would change' : `These ${preview.count} steps would change` }}</strong>
        <p v-for="(l, i) in preview.lines" :key="i">{{ l }}</p>
        <p v-if="preview.more" class="quiet">and {{ preview.more }} more</p>
      </div>
    </template>
  </el-drawer>
</template>

<style scoped>
.done {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 0 10px;
  padding: 6px 4px;
  border-bottom: 1px solid var(--rule);
}
li:hover {
  background: var(--ground);
}
li .caption {
  grid-row: 2;
}
li .act {
  grid-row: 1 / 3;
  grid-column: 2;
}
.back .clip {
  color: var(--ink-2);
  text-decoration: line-through;
}
.act {
  color: var(--acting);
}
.preview {
  text-align: left;
  font-size: 12px;
  max-height: 200px;
  overflow: auto;
}
.preview p {
  margin: 2px 0;
}
</style>
