<script setup lang="ts">
// Networks kept for other sessions: save this one, lay another over it with a preview, take out and bring in as files.
import { computed, ref, shallowRef } from 'vue'
import { readTemplate, takeTemplate } from '@nullet/core/formats/template'
import { planTemplate } from '@nullet/core/propose/layTemplate'
import type { TemplateDocument } from '@nullet/core/session/templateDocument'
import { settings } from '@nullet/core/session/session'
import { useAsk } from '~/stores/ask'
import { useGestures } from '~/stores/gestures'
import { newId } from '~/stores/ids'
import { useNotices } from '~/stores/notices'
import { useSession } from '~/stores/session'
import { plural } from '~/words/format'
import { useShelf } from './shelf'

interface Summary {
  id: string
  name: string
  buses: number
  tracks: number
  madeAt: string
}
const emit = defineEmits<{ close: [] }>()
const store = useSession(),
  notices = useNotices(),
  ask = useAsk(),
  gestures = useGestures()
const shelf = useShelf<Summary, TemplateDocument>({
  path: 'templates',
  word: 'the template',
  ending: 'template',
  read: readTemplate
})
const { list, remove, out, bring } = shelf
const open = shallowRef<TemplateDocument | null>(null)
const left = ref(new Set<string>()),
  targets = shallowRef<ReadonlyMap<string, string>>(new Map()),
  picker = ref<HTMLInputElement>()

const tracks = computed(() => Object.values(store.session!.channel).filter(c => c.kind === 'track'))
const plan = computed(
  () =>
    open.value &&
    planTemplate(
      open.value,
      store.session!,
      newId,
      new Set(tracks.value.map(t => t.id).filter(id => !left.value.has(id))),
      targets.value
    )
)
const refused = computed(() => (plan.value ? gestures.refusal(plan.value.edit) : undefined))
const matched = computed(() => plan.value?.matches.filter(m => m.target && !left.value.has(m.track)).length ?? 0)
const fresh = computed(() => plan.value?.buses.filter(b => b.what === 'new') ?? [])
const aim = (track: string, bus: string) => (targets.value = new Map(targets.value).set(track, bus))
function toggle(id: string): void {
  const next = new Set(left.value)
  if (!next.delete(id)) next.add(id)
  left.value = next
}

async function save(): Promise<void> {
  const name = await ask.ask({
    title: 'Keep the network of this session as a template',
    kind: 'text',
    initial: settings(store.session!).name
  })
  if (name) await shelf.keep(takeTemplate(store.session!, name))
}
async function show(id: string): Promise<void> {
  open.value = await shelf.open(id)
  left.value = new Set()
  targets.value = new Map()
}
function lay(): void {
  if (!plan.value || !store.apply(plan.value.edit.verb, plan.value.edit.args)) return
  notices.tell(
    `“${open.value!.name}” laid over this session: ${fresh.value.length} new buses, ${matched.value} tracks matched.`,
    store.thisUndo()
  )
  emit('close')
}
</script>

<template>
  <template v-if="!plan">
    <div class="do">
      <el-button data-save-template @click="save">Keep this session’s network…</el-button
      ><el-button @click="picker?.click()">Bring in a file…</el-button
      ><input ref="picker" type="file" accept=".json,application/json" hidden data-template @change="bring" />
    </div>
    <p v-if="list && !list.length" class="quiet">
      No templates yet. A template holds buses, returns, stems, slots, loops, colours and words for families, without
      the tracks; it finds tracks of another session by name and by family.
    </p>
    <div v-for="t in list ?? []" :key="t.id" class="line" :data-kept="t.name">
      <button class="plain clip name" @click="show(t.id)">{{ t.name }}</button><span class="num quiet"
        >{{ t.buses }} buses</span
      ><span class="num quiet">{{ t.tracks }} tracks</span><span class="num quiet">{{ t.madeAt.slice(0, 10) }}</span>
      <el-button size="small" @click="show(t.id)">Lay over…</el-button
      ><button class="plain quiet" @click="out(t.id)">save as a file</button
      ><button class="plain quiet" @click="remove(t)">remove</button>
    </div>
  </template>
  <template v-else>
    <p class="quiet what">
      <strong>{{ open!.name }}</strong> brings {{ plural(fresh.length, 'new bus', 'new buses')
      }}<template v-if="plan.buses.length > fresh.length"
        >, {{ plan.buses.length - fresh.length }} are there already</template
      >, and matches {{ matched }} of {{ tracks.length }} tracks.
    </p>
    <p v-for="n in plan.notes" :key="n" class="mind">{{ n }}</p>
    <p v-if="refused" class="wrong" role="alert">{{ refused }}</p>
    <p class="caption">{{ plan.buses.map(b => `${b.name}${b.what === 'new' ? '' : ' (there)'}`).join(' · ') }}</p>
    <div class="scroll matches">
      <div
        v-for="m in plan.matches"
        :key="m.track"
        class="match"
        :class="{ none: !m.target }"
        :data-match="store.session!.channel[m.track]?.name"
      >
        <el-checkbox
          :model-value="!!m.target && !left.has(m.track)"
          :disabled="!m.target"
          :aria-label="`connect ${store.session!.channel[m.track]?.name}`"
          @change="toggle(m.track)"
        />
        <span class="clip">{{ store.session!.channel[m.track]?.name }}</span><span class="caption clip">{{
          m.by === 'name' ? `like “${m.like}”` : m.by === 'family' ? `family ${m.like}` : 'stays as it is'
        }}</span>
        <el-select
          :model-value="m.target ?? undefined"
          size="small"
          placeholder="choose a bus"
          :title="m.to.join(', ')"
          :aria-label="`where ${store.session!.channel[m.track]?.name} goes`"
          @change="(bus: string) => aim(m.track, bus)"
          ><el-option v-for="b in plan.buses" :key="b.id" :value="b.id" :label="b.name" /></el-select
        ><span class="caption">{{ m.sends ? plural(m.sends, 'send', 'sends') : '' }}</span>
      </div>
    </div>
    <SheetEnd
      label="Lay the template over"
      :disabled="!!refused"
      note="All of it is one undo."
      @close="open = null"
      @done="lay"
    />
  </template>
</template>

<style scoped>
.do {
  margin-bottom: 12px;
}
.line {
  display: grid;
  grid-template-columns: 1fr 70px 76px 84px auto auto auto;
  gap: 12px;
  align-items: center;
  padding: 6px 0;
  border-top: 1px solid var(--rule);
}
.name {
  font-weight: 500;
}
p {
  margin: 0 0 8px;
}
.what {
  color: var(--ink);
}
.mind {
  color: var(--mind);
}
.wrong {
  color: var(--wrong);
}
.matches {
  max-height: 40vh;
  border-top: 1px solid var(--rule);
}
.match {
  display: grid;
  grid-template-columns: 18px 1.2fr 1fr 1.3fr 60px;
  gap: 10px;
  align-items: center;
  height: 27px;
  cursor: pointer;
}
.match.none {
  color: var(--ink-3);
  cursor: default;
}
</style>
