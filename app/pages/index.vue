<script setup lang="ts">
// The first page: sessions that are here, a new one, a package to bring in.
import { computed, onMounted, ref, shallowRef } from 'vue'
import { useVirtualizer } from '@tanstack/vue-virtual'
import { sorted, type Dropped } from '~/session/dropped'
import type { Removed, SessionSummary } from '@nullet/core/session/summary'
import { copyName, listed, ORDERS } from '~/session/sessionList'
import { goTo } from '~/stores/goTo'
import { api } from '~/stores/api'
import { useAsk } from '~/stores/ask'
import { newId } from '~/stores/ids'
import { useNotices } from '~/stores/notices'
import { usePackages } from '~/stores/packages'
import { leftAt } from '~/stores/whereLeft'
import { moment, plural, shortTime, size } from '~/words/format'

const ROW = 64
const notices = useNotices(),
  ask = useAsk(),
  packages = usePackages()
const all = shallowRef<SessionSummary[] | null>(null)
const removed = shallowRef<Removed[]>([])
const away = ref('')
const rate = ref(48000),
  filter = ref(''),
  order = ref(localStorage.getItem('nullet sessions') ?? 'changed')
const picker = ref<HTMLInputElement>(),
  scroller = ref<HTMLElement>()
const list = computed(() => listed(all.value ?? [], filter.value, order.value))
const rowsOf = useVirtualizer(
  computed(() => ({
    count: list.value.length,
    getScrollElement: () => scroller.value ?? null,
    estimateSize: () => ROW,
    overscan: 4
  }))
)
const keepOrder = (o: string) => localStorage.setItem('nullet sessions', o)

async function load(): Promise<void> {
  try {
    ;[all.value, removed.value] = await Promise.all([
      api<SessionSummary[]>('/api/sessions'),
      api<Removed[]>('/api/removed')
    ])
    away.value = ''
  } catch (error) {
    away.value = (error as Error).message
  }
}
onMounted(load)

async function create(): Promise<void> {
  const name = await ask.ask({
    title: `New session at ${rate.value / 1000} kHz`,
    kind: 'text',
    placeholder: 'name of the session',
    act: 'Make the session',
    note: 'The rate follows the first files that you bring in.'
  })
  if (!name) return
  try {
    const { id } = await api<{ id: string }>('/api/sessions', { body: { id: newId(), name, sampleRate: rate.value } })
    await goTo(`/s/${id}/sources`)
  } catch (error) {
    notices.wrong(error)
  }
}

function take({ packages: zips, files }: Dropped): void {
  if (zips[0]) void packages.bring(zips[0])
  else if (files.length) notices.tell('Open a session, or make a new one, and drop audio there.')
}
function chosen(e: Event): void {
  const input = e.target as HTMLInputElement
  take(sorted([...(input.files ?? [])]))
  input.value = ''
}
/** Asks the server for something about a session, then looks again. */
async function change(act: () => Promise<unknown>): Promise<void> {
  try {
    await act()
  } catch (error) {
    notices.wrong(error)
  }
  await load()
}
const address = (id: string) => `/api/sessions/${encodeURIComponent(id)}`
const bringBack = (kind: Removed['kind'], id: string) =>
  change(() => api(`/api/${kind}s/${encodeURIComponent(id)}/restore`, { method: 'POST' }))
const VERBS: Record<string, { label: string; run(s: SessionSummary): unknown }> = {
  rename: {
    label: 'Rename…',
    async run(s) {
      const name = await ask.ask({ title: `Rename “${s.name}”`, kind: 'text', initial: s.name, act: 'Rename' })
      if (name && name !== s.name)
        await change(() =>
          api(`${address(s.id)}/name`, { method: 'PUT', body: { name, gesture: `home/${newId()}`, client: 'home' } })
        )
    }
  },
  copy: {
    label: 'Duplicate…',
    async run(s) {
      const name = await ask.ask({
        title: `Duplicate “${s.name}”`,
        kind: 'text',
        initial: copyName(s.name, all.value ?? []),
        act: 'Duplicate',
        note: 'The copy has the same audio; it takes no more room on the disk.'
      })
      if (name) await change(() => api(`${address(s.id)}/copy`, { body: { id: newId(), name } }))
    }
  },
  package: { label: 'Save as a session package', run: s => (window.location.href = `${address(s.id)}/package`) },
  remove: {
    label: 'Remove',
    run: s =>
      change(async () => {
        await api(address(s.id), { method: 'DELETE' })
        notices.tell(`“${s.name}” is removed. It can be brought back for 30 days.`, {
          label: 'Undo',
          run: () => void bringBack('session', s.id)
        })
      })
  }
}
const facts = (s: SessionSummary) => [
  plural(s.tracks, 'track', 'tracks'),
  plural(s.buses, 'bus', 'buses'),
  s.frames ? shortTime(s.frames, s.sampleRate) : 'no audio',
  `${s.sampleRate / 1000} kHz`,
  size(s.bytes)
]
const IN_ONE_GLANCE = [
  ['Sources', 'Drop a folder of tracks. Families, pairs and rates are sorted out as they come.'],
  ['Network', 'Submixes, returns, keys and stems, drawn as lines that you can follow and change.'],
  ['Rig', 'Send a channel through hardware and back: measured, aligned, recalled.'],
  ['Passes', 'Print any tap back to a track, to the sample, and prove it against the live path.']
] as const
</script>

<template>
  <FileDrop tag="main" class="home" says="Let go: a session package becomes a session" @files="take">
    <header>
      <div>
        <h1>Nullet</h1>
        <p class="quiet">Build the bus network of a session, run it through hardware, print it back to tracks.</p>
      </div>
      <div class="do">
        <el-button type="primary" @click="create">New session</el-button>
        <el-select v-model="rate" style="width: 110px" aria-label="sample rate">
          <el-option v-for="r in [44100, 48000, 88200, 96000]" :key="r" :value="r" :label="`${r / 1000} kHz`" />
        </el-select>
        <el-button :loading="!!packages.coming" @click="picker?.click()">Bring in a session package…</el-button>
        <input ref="picker" type="file" accept=".zip" hidden data-package @change="chosen" />
      </div>
    </header>
    <p v-if="packages.coming" class="quiet" data-coming>{{ packages.words }}</p>
    <p v-if="away" class="away">{{ away }} <button class="plain" @click="load">Try again</button></p>
    <template v-else-if="all?.length">
      <div class="find">
        <el-input v-model="filter" class="filter" placeholder="filter: name" clearable aria-label="filter sessions" />
        <span class="quiet count">{{
          list.length === all.length
            ? plural(all.length, 'session', 'sessions')
            : `${list.length} of ${plural(all.length, 'session', 'sessions')}`
        }}</span>
        <el-select v-model="order" style="width: 180px" aria-label="order of the sessions" @change="keepOrder">
          <el-option v-for="(o, key) in ORDERS" :key="key" :value="key" :label="o.label" />
        </el-select>
      </div>
      <div ref="scroller" class="scroll list">
        <ul :style="{ height: `${rowsOf.getTotalSize()}px` }" aria-label="sessions">
          <li
            v-for="r in rowsOf.getVirtualItems()"
            :key="list[r.index]!.id"
            :style="{ transform: `translateY(${r.start}px)`, height: `${ROW}px` }"
            :data-session="list[r.index]!.name"
          >
            <NuxtLink :to="`/s/${list[r.index]!.id}`" class="open" :title="list[r.index]!.name">
              <NetworkImage :session="list[r.index]!.id" :revision="list[r.index]!.revision" />
              <span class="what"
                ><b class="clip">{{ list[r.index]!.name }}</b
                ><span class="quiet clip"
                  >{{ moment(list[r.index]!.updatedAt)
                  }}{{ leftAt(list[r.index]!.id).view ? ` · left in ${leftAt(list[r.index]!.id).view}` : '' }}</span
                ></span
              >
              <span v-for="f in facts(list[r.index]!)" :key="f" class="num quiet">{{ f }}</span>
            </NuxtLink>
            <el-dropdown trigger="click" :persistent="false" @command="(v: string) => VERBS[v]!.run(list[r.index]!)">
              <button class="plain more" :aria-label="`more for ${list[r.index]!.name}`">…</button>
              <template #dropdown
                ><el-dropdown-menu
                  ><el-dropdown-item v-for="(v, key) in VERBS" :key="key" :command="key">{{
                    v.label
                  }}</el-dropdown-item></el-dropdown-menu
                ></template
              >
            </el-dropdown>
          </li>
        </ul>
        <p v-if="!list.length" class="quiet none">No session has that in its name.</p>
      </div>
    </template>
    <div v-else-if="all" class="glance">
      <p><b>No session yet.</b> Make a new one and drop a folder of tracks on it, or drop a session package here.</p>
      <ol>
        <li v-for="[name, text] in IN_ONE_GLANCE" :key="name">
          <b>{{ name }}</b><span class="quiet">{{ text }}</span>
        </li>
      </ol>
    </div>
    <details v-if="removed.length && !away" class="removed">
      <summary>{{ plural(removed.length, 'thing was', 'things were') }} removed</summary>
      <p v-for="r in removed" :key="`${r.kind} ${r.id}`">
        <span class="clip">{{ r.name }}</span><span class="quiet">{{ r.kind }}</span
        ><span class="num quiet">{{ moment(r.removedAt) }}</span
        ><button class="plain act" @click="bringBack(r.kind, r.id)">bring back</button>
      </p>
    </details>
    <NoticeList />
    <AskBox />
  </FileDrop>
</template>

<style scoped>
.home {
  display: flex;
  flex-direction: column;
  max-width: 1060px;
  margin: 0 auto;
  padding: 48px 24px 16px;
  height: 100%;
}
header {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  align-items: flex-end;
  gap: 12px 24px;
  margin-bottom: 28px;
}
h1 {
  font-size: 28px;
  margin: 0;
}
header p {
  margin: 2px 0 0;
}
.do,
.find {
  display: flex;
  gap: 8px;
  align-items: center;
}
.do .el-button + .el-button {
  margin-left: 0;
}
.find {
  padding-bottom: 8px;
  border-bottom: 1px solid var(--rule);
}
.filter {
  width: 220px;
}
.count {
  flex: 1;
  padding-left: 8px;
}
.list {
  flex: 1;
  min-height: 0;
}
ul {
  position: relative;
  list-style: none;
  margin: 0;
  padding: 0;
}
ul > li {
  position: absolute;
  left: 0;
  right: 0;
  display: flex;
  align-items: center;
  border-bottom: 1px solid color-mix(in srgb, var(--rule) 60%, transparent);
}
ul > li:hover {
  background: var(--surface);
}
.open {
  flex: 1;
  min-width: 0;
  display: grid;
  grid-template-columns: 132px minmax(120px, 1fr) 84px 70px 66px 72px 64px;
  gap: 16px;
  align-items: center;
  height: 100%;
  padding: 0 8px;
  color: var(--ink);
  text-decoration: none;
}
.open:hover b {
  color: var(--acting);
}
.what {
  display: grid;
  min-width: 0;
}
.what b {
  font-weight: 500;
}
.num {
  text-align: right;
  white-space: nowrap;
}
.more {
  padding: 6px 12px;
  font-weight: 600;
}
.none {
  padding: 24px 8px;
}
.glance {
  border-top: 1px solid var(--rule);
  padding-top: 20px;
}
.glance ol {
  display: grid;
  grid-template-columns: repeat(4, 1fr);
  gap: 24px;
  margin: 28px 0 0;
  padding: 0;
  list-style: none;
  counter-reset: step;
}
.glance li {
  display: grid;
  gap: 4px;
  align-content: start;
  border-top: 2px solid var(--signal);
  padding-top: 10px;
}
.removed {
  flex: none;
  max-height: 30vh;
  overflow: auto;
  padding-top: 12px;
  color: var(--ink-2);
}
.removed p {
  display: grid;
  grid-template-columns: 1fr 80px 140px 80px;
  gap: 16px;
  margin: 6px 4px;
}
.act {
  color: var(--acting);
}
.away {
  color: var(--wrong);
}
</style>
