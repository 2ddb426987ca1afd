<script setup lang="ts">
// The first page: sessions that are here, a new one, a package to bring in.
import { onMounted, ref, shallowRef } from 'vue'
import { goTo } from '~/stores/goTo'
import { api } from '~/stores/api'
import { useAsk } from '~/stores/ask'
import { newId } from '~/stores/ids'
import { useNotices } from '~/stores/notices'
import { moment } from '~/words/format'
import { upload } from '~/stores/upload'

interface Summary {
  id: string
  name: string
  tracks: number
  buses: number
  updatedAt: string
}
const notices = useNotices(),
  ask = useAsk()
const list = shallowRef<Summary[] | null>(null)
const removed = shallowRef<{ id: string; name: string; removedAt: string }[]>([])
const away = ref('')
const busy = ref(false),
  share = ref(0),
  cut = ref(false)
const rate = ref(48000)
const picker = ref<HTMLInputElement>()

async function load(): Promise<void> {
  try {
    ;[list.value, removed.value] = await Promise.all([
      api<Summary[]>('/api/sessions'),
      api<{ id: string; name: string; removedAt: string }[]>('/api/removed')
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
    placeholder: 'name of the session'
  })
  if (!name) return
  try {
    const { id } = await api<{ id: string }>('/api/sessions', { body: { id: newId(), name, sampleRate: rate.value } })
    await goTo(`/s/${id}/sources`)
  } catch (error) {
    notices.wrong(error)
  }
}

async function bring(event: Event): Promise<void> {
  const file = (event.target as HTMLInputElement).files?.[0]
  if (!file) return
  busy.value = true
  share.value = 0
  try {
    const id = newId()
    const said = await upload<{ notes: string[] }>({
      path: '/api/packages',
      query: { id },
      file,
      session: id,
      progress: n => {
        share.value = n
      },
      cut: isCut => {
        cut.value = isCut
      }
    })
    said?.notes.slice(0, 3).forEach(n => notices.tell(n))
    await goTo(`/s/${id}/network`)
  } catch (error) {
    notices.wrong(error)
  } finally {
    busy.value = cut.value = false
    ;(event.target as HTMLInputElement).value = ''
  }
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
const bringBack = (id: string) => change(() => api(`${address(id)}/restore`, { method: 'POST' }))
const remove = (s: Summary) =>
  change(async () => {
    await api(address(s.id), { method: 'DELETE' })
    notices.tell(`“${s.name}” is removed. It can be brought back for 30 days.`, {
      label: 'Undo',
      run: () => void bringBack(s.id)
    })
  })
</script>

<template>
  <main class="home scroll">
    <h1>Nullet</h1>
    <p class="quiet">Build the bus network of a session, run it through hardware, print it back to tracks.</p>
    <div class="do">
      <el-button type="primary" @click="create">New session</el-button>
      <el-select v-model="rate" size="default" style="width: 110px" aria-label="sample rate">
        <el-option v-for="r in [44100, 48000, 88200, 96000]" :key="r" :value="r" :label="`${r / 1000} kHz`" />
      </el-select>
      <el-button :loading="busy" @click="picker?.click()">Bring in a session package…</el-button>
      <input ref="picker" type="file" accept=".zip" hidden data-package @change="bring" />
    </div>
    <p v-if="busy" class="quiet" data-coming>
      {{
        cut
          ? 'The line was cut; it goes on by itself where it stopped.'
          : share < 1
            ? `sending the package, ${Math.round(share * 100)} %`
            : 'reading the package…'
      }}
    </p>
    <p v-if="away" class="away">{{ away }} <button class="plain" @click="load">Try again</button></p>
    <ul v-else-if="list?.length">
      <li v-for="s in list" :key="s.id">
        <NuxtLink :to="`/s/${s.id}/network`" class="clip">{{ s.name }}</NuxtLink>
        <span class="num">{{ s.tracks }} tracks</span><span class="num">{{ s.buses }} buses</span>
        <span class="num quiet">{{ s.updatedAt.slice(0, 16).replace('T', ' ') }}</span>
        <button class="plain quiet" @click="remove(s)">remove</button>
      </li>
    </ul>
    <details v-if="removed.length" class="removed">
      <summary>
        {{ removed.length === 1 ? '1 session was removed' : `${removed.length} sessions were removed` }}
      </summary>
      <p v-for="r in removed" :key="r.id">
        <span class="clip">{{ r.name }}</span><span class="num quiet">{{ moment(r.removedAt) }}</span
        ><button class="plain act" @click="bringBack(r.id)">bring back</button>
      </p>
    </details>
    <div v-if="list && !list.length && !away" class="empty">
      <h2>No session yet</h2>
      Make a new one and drop audio files on it, or bring in a package.
    </div>
    <ShellExtras />
  </main>
</template>

<style scoped>
.home {
  max-width: 860px;
  margin: 0 auto;
  padding: 72px 24px;
  height: 100%;
}
h1 {
  font-size: 28px;
  margin: 0;
}
.do {
  display: flex;
  gap: 8px;
  margin: 24px 0;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  border-top: 1px solid var(--rule);
}
li {
  display: grid;
  grid-template-columns: 1fr 90px 90px 140px 60px;
  gap: 16px;
  padding: 10px 4px;
  border-bottom: 1px solid var(--rule);
  align-items: baseline;
}
li a {
  color: var(--ink);
  font-weight: 500;
  text-decoration: none;
}
li a:hover {
  color: var(--acting);
}
.removed {
  margin-top: 24px;
  color: var(--ink-2);
}
.removed p {
  display: grid;
  grid-template-columns: 1fr 140px 80px;
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
