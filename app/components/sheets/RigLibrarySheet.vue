<script setup lang="ts">
// The rig library of the installation: rooms are copied from it into sessions, and kept in it. Where a session's rig
// and its entry have drifted apart, either can be made as the other is.
import { computed, ref, shallowRef, watch } from 'vue'
import { readRig, takeRig } from '@nullet/core/formats/rig'
import { layRig, rigDifference, type RigDifference } from '@nullet/core/formats/rigLibrary'
import type { RigDocument } from '@nullet/core/session/rigDocument'
import type { RigSummary } from '@nullet/core/session/summary'
import { byOrder, rows } from '@nullet/core/session/session'
import { useAsk } from '~/stores/ask'
import { newId, orderAtEnd } from '~/stores/ids'
import { useNotices } from '~/stores/notices'
import { useSession } from '~/stores/session'
import { plural } from '~/words/format'
import { useShelf } from './shelf'

const emit = defineEmits<{ close: [] }>()
const store = useSession(),
  ask = useAsk(),
  notices = useNotices()
const shelf = useShelf<RigSummary, RigDocument>({ path: 'rigs', word: 'the rig', ending: 'rig', read: readRig })
const { list, remove, out, bring } = shelf
const picker = ref<HTMLInputElement>()
const rigs = computed(() => rows(store.session!, 'rig').sort(byOrder))
/** Entries that rigs of this session were copied from, as they are now. */
const entries = shallowRef(new Map<string, RigDocument>())
const opened = ref<string | null>(null)

watch(
  () => [list.value, rigs.value.map(r => r.entry).join()],
  async () => {
    const known = new Set(list.value?.map(e => e.id))
    const wanted = [...new Set(rigs.value.flatMap(r => (r.entry && known.has(r.entry) ? [r.entry] : [])))]
    const read = await Promise.all(wanted.map(async id => [id, await shelf.open(id)] as const))
    entries.value = new Map(read.flatMap(([id, d]) => (d ? [[id, d] as const] : [])))
  },
  { immediate: true }
)

type State = { entry: RigDocument | null; difference: RigDifference | null; refused: string }
const states = computed(
  () =>
    new Map(
      rigs.value.map((rig): [string, State] => {
        const entry = entries.value.get(rig.entry ?? '') ?? null
        if (!entry) return [rig.id, { entry: null, difference: null, refused: '' }]
        try {
          return [rig.id, { entry, difference: rigDifference(entry, store.session!, rig.id), refused: '' }]
        } catch (error) {
          return [rig.id, { entry, difference: null, refused: (error as Error).message }]
        }
      })
    )
)
function says({ entry, difference, refused }: State): string {
  if (!entry) return 'in this session only'
  if (refused) return `cannot be as “${entry.name}” is: ${refused}`
  const count = difference!.lines.length
  return count ? `${plural(count, 'row differs', 'rows differ')} from “${entry.name}”` : `as “${entry.name}” is`
}

async function keep(rig: string): Promise<void> {
  const name = await ask.ask({
    title: 'Keep this rig in the library as…',
    kind: 'text',
    act: 'Keep it',
    initial: store.session!.rig[rig]!.name
  })
  if (!name) return
  const entry = await shelf.keep(takeRig(store.session!, rig, name))
  store.apply('setRig', { id: rig, fields: { entry } })
}
function takeOver(rig: string): void {
  const { entry, difference } = states.value.get(rig)!
  if (!difference || !store.apply(difference.takeOver.verb, difference.takeOver.args)) return
  const kept = difference.kept.length ? ` Kept, because channels use them: ${difference.kept.join(', ')}.` : ''
  notices.tell(`“${store.session!.rig[rig]!.name}” is as “${entry!.name}” is.${kept}`, store.thisUndo())
}
async function writeBack(rig: string): Promise<void> {
  const { entry } = states.value.get(rig)!
  await shelf.replace(store.session!.rig[rig]!.entry!, takeRig(store.session!, rig, entry!.name), entry!)
}
async function copyIn(id: string): Promise<void> {
  const document = await shelf.open(id)
  if (!document) return
  const edit = layRig(document, id, store.session!, newId('rig'), orderAtEnd(rigs.value))
  if (!store.apply(edit.verb, edit.args)) return
  notices.tell(`Rig “${document.name}” is in this session.`, store.thisUndo())
  emit('close')
}
async function duplicate(entry: RigSummary): Promise<void> {
  const document = await shelf.open(entry.id)
  if (document) await shelf.keep({ ...document, name: `${document.name}, copy` })
}
</script>

<template>
  <h3 class="caption">In this session</h3>
  <p v-if="!rigs.length" class="quiet">No rig yet: copy one from the library, or describe one.</p>
  <template v-for="rig in rigs" :key="rig.id">
    <div class="line" :data-rig="rig.name">
      <span class="clip name">{{ rig.name }}</span>
      <button
        v-if="states.get(rig.id)!.difference?.lines.length"
        class="plain says"
        :aria-expanded="opened === rig.id"
        @click="opened = opened === rig.id ? null : rig.id"
      >
        {{ says(states.get(rig.id)!) }}
      </button>
      <span v-else class="quiet says">{{ says(states.get(rig.id)!) }}</span>
      <template v-if="states.get(rig.id)!.difference?.lines.length">
        <el-button size="small" @click="takeOver(rig.id)">Take over</el-button
        ><el-button size="small" @click="writeBack(rig.id)">Write back</el-button>
      </template>
      <button class="plain act" @click="keep(rig.id)">
        {{ rig.entry ? 'keep as another…' : 'keep in the library…' }}
      </button>
    </div>
    <ul v-if="opened === rig.id && states.get(rig.id)!.difference" class="scroll lines">
      <li class="quiet">To be as the library has it:</li>
      <li v-for="l in states.get(rig.id)!.difference!.lines" :key="l">{{ l }}</li>
      <li v-if="states.get(rig.id)!.difference!.kept.length" class="mind">
        Kept here, because channels use them: {{ states.get(rig.id)!.difference!.kept.join(', ') }}
      </li>
    </ul>
  </template>

  <div class="head">
    <h3 class="caption">Library of this installation</h3>
    <el-button size="small" @click="picker?.click()">Bring in a file…</el-button
    ><input ref="picker" type="file" accept=".json,application/json" hidden data-rig-file @change="bring" />
  </div>
  <p v-if="list && !list.length" class="quiet">
    Nothing is kept yet. A rig that is kept here can be copied into any session: its interfaces, ports, units with their
    settings, and cables.
  </p>
  <div class="scroll entries">
    <div v-for="e in list ?? []" :key="e.id" class="line entry" :data-entry="e.name">
      <span class="clip name">{{ e.name }}</span><span class="num quiet">{{ e.outs }} outs, {{ e.ins }} ins</span
      ><span class="clip quiet" :title="e.units.join(', ')">{{ e.units.join(', ') || 'no units' }}</span
      ><el-button size="small" type="primary" @click="copyIn(e.id)">Copy in</el-button
      ><button class="plain quiet" @click="duplicate(e)">duplicate</button
      ><button class="plain quiet" @click="out(e.id)">save as a file</button
      ><button class="plain quiet" @click="remove(e)">remove</button>
    </div>
  </div>
</template>

<style scoped>
h3 {
  margin: 0;
}
.head {
  display: flex;
  gap: 12px;
  align-items: center;
  justify-content: space-between;
  margin-top: 22px;
}
.line {
  display: flex;
  gap: 12px;
  align-items: center;
  min-height: 34px;
  border-bottom: 1px solid var(--rule);
}
.line .name {
  width: 180px;
  flex: none;
  font-weight: 500;
}
.says {
  flex: 1;
  min-width: 0;
  text-align: left;
}
button.says,
.mind {
  color: var(--mind);
}
.entry {
  display: grid;
  grid-template-columns: 150px 128px 1fr auto auto auto auto;
}
.entry .name {
  width: auto;
}
.entries {
  max-height: 38vh;
}
.lines {
  max-height: 24vh;
  margin: 4px 0 10px;
  padding-left: 18px;
  font-size: 12px;
}
.act {
  color: var(--acting);
}
</style>
