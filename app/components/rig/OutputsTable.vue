<script setup lang="ts">
// Stems and their ports, one rig beside the other; what would change by working in another; what each port carries.
import { computed } from 'vue'
import { applyEdit } from '@nullet/core/edits/apply'
import { fingerprint } from '@nullet/core/print/fingerprint'
import {
  carriedBy,
  changeOfRig,
  mapEdit,
  mapRig,
  outsideChannels,
  outsideFeeds,
  ownerOf,
  portsOfRig
} from '@nullet/core/propose/outputs'
import { layoutName } from '@nullet/core/session/layouts'
import { byOrder, rows, settings } from '@nullet/core/session/session'
import type { Channel, Row } from '@nullet/core/session/rows'
import { plural } from '~/words/format'
import { newId } from '~/stores/ids'
import { useNotices } from '~/stores/notices'
import { useSession } from '~/stores/session'

const props = defineProps<{ rig: string }>()
const emit = defineEmits<{ open: [port: string] }>()
const store = useSession(),
  notices = useNotices()
const rigs = computed(() => rows(store.session!, 'rig').sort(byOrder))
const channels = computed(() => outsideChannels(store.session!))
const current = computed(() => settings(store.session!).rig)
const rigName = (id: string | null) => store.session!.rig[id ?? '']?.name ?? 'no rig'
const channelName = (id: string) => store.session!.channel[id]?.name ?? id

type Kind = 'port' | 'input'
/** A channel's feeds in a rig, by kind. */
const feeds = computed(() => {
  const all = new Map<string, string[]>()
  for (const rig of rigs.value)
    for (const f of outsideFeeds(store.session!, rig.id)) {
      const key = `${rig.id} ${f.kind} ${ownerOf(f)}`
      all.set(key, [...(all.get(key) ?? []), f.id])
    }
  return all
})
const feedsAt = (rig: string, kind: Kind, channel: string) => feeds.value.get(`${rig} ${kind} ${channel}`) ?? []
const places = (rig: string, kind: Kind, channel: string) =>
  feedsAt(rig, kind, channel).map(id => store.session!.feed[id]!.ports.join(' '))

interface Option {
  value: string
  label: string
  shared: string
}
/** Ports one by one for a mono channel, in pairs for a stereo one, as many as it has legs for a wider one. */
function options(rig: string, kind: Kind, { id, layout }: Channel): Option[] {
  const ports = portsOfRig(store.session!, rig, kind === 'port' ? 'out' : 'in')
  const size = Math.min(layout.length, ports.length)
  const groups: Row<'port'>[][] = []
  for (let i = 0; i + size <= ports.length && size > 0; i += size) groups.push(ports.slice(i, i + size))
  const offered = groups.map(g => g.map(p => p.id).join(' '))
  const own = places(rig, kind, id).filter(p => !offered.includes(p))
  return [...own, ...offered].map(value => {
    const list = value.split(' ')
    const others = [...new Set(list.flatMap(p => carriedBy(store.session!, p)))].filter(n => n !== channelName(id))
    return { value, label: list.map(p => store.session!.port[p]?.name ?? p).join(', '), shared: others.join(', ') }
  })
}
function setPlace(rig: string, kind: Kind, channel: string, value: string | null): void {
  const [first, ...rest] = feedsAt(rig, kind, channel)
  const edits = [
    ...(rest.length || (first && !value)
      ? [{ verb: 'removeFeeds', args: { ids: [...rest, ...(value ? [] : [first!])] } }]
      : []),
    ...(value
      ? first
        ? [{ verb: 'setFeeds', args: { ids: [first], fields: { ports: value.split(' ') } } }]
        : [
            {
              verb: 'addPortFeed',
              args: { feedId: newId(), channel, ports: value.split(' '), direction: kind === 'port' ? 'out' : 'in' }
            }
          ]
      : [])
  ]
  if (!edits.length) return
  const label = `“${channelName(channel)}” in “${rigName(rig)}”`
  store.apply('several', { label, edits })
}

/** Rigs that have places which this one could take over. */
const sources = computed(() =>
  rigs.value
    .filter(r => r.id !== props.rig)
    .map(r => ({ rig: r, coming: mapRig(store.session!, r.id, props.rig).filter(m => !m.isThere) }))
    .filter(s => s.coming.length)
)
function takeOver(from: string): void {
  const lacking = mapRig(store.session!, from, props.rig).filter(m => !m.ports && !m.isThere)
  const edit = mapEdit(store.session!, from, props.rig, newId)
  const left = lacking.length
    ? ` No ports for ${lacking.map(m => `“${channelName(m.channel)}”`).join(', ')}: choose them here.`
    : ''
  if (!edit) notices.tell(`Nothing could be taken over.${left}`)
  else if (store.apply(edit.verb, edit.args))
    notices.tell(`Taken over from “${rigName(from)}”.${left}`, store.thisUndo())
}

const change = computed(() =>
  current.value && current.value !== props.rig ? changeOfRig(store.session!, props.rig) : []
)
/** The proof: what goes out is the same, only where it goes is not. */
const stems = computed(() => {
  if (!current.value || current.value === props.rig) return null
  const after = applyEdit(store.session!, { verb: 'setSession', args: { rig: props.rig } }).session
  const print = (session: typeof after, id: string) =>
    fingerprint(session, id, 'post', { seed: 0, from: 0, frames: 0 }).hash
  const ids = channels.value.filter(c => c.role === 'stem').map(c => c.id)
  return { all: ids.length, differ: ids.filter(id => print(store.session!, id) !== print(after, id)) }
})
const list = (names: string[]) => names.join(', ') || 'no ports'
function work(): void {
  const before = rigName(current.value)
  if (store.apply('setSession', { rig: props.rig }))
    notices.tell(
      `This session works in “${rigName(props.rig)}” now; the ports in “${before}” are kept.`,
      store.thisUndo()
    )
}
const portRows = computed(() =>
  (['out', 'in'] as const).flatMap(direction =>
    portsOfRig(store.session!, props.rig, direction).map(p => ({ p, carries: carriedBy(store.session!, p.id) }))
  )
)
const KINDS: readonly Kind[] = ['port', 'input']
const lines = computed(() =>
  channels.value.flatMap(channel =>
    KINDS.filter(
      kind =>
        rigs.value.some(r => feedsAt(r.id, kind, channel.id).length) ||
        (kind === 'port' && !rigs.value.some(r => feedsAt(r.id, 'input', channel.id).length))
    ).map(kind => ({ channel, kind }))
  )
)
</script>

<template>
  <div class="scroll outputs" data-outputs>
    <section v-if="current !== rig" class="change" data-change-of-rig>
      <h2 class="title">
        {{ current ? `Working in “${rigName(rig)}” instead of “${rigName(current)}”` : `No rig is worked in yet` }}
      </h2>
      <ul v-if="change.length">
        <li v-for="c in change" :key="`${c.kind} ${c.channel}`" :class="{ mind: !c.then.length }">
          “{{ channelName(c.channel) }}”{{ c.kind === 'input' ? ' from' : '' }}: {{ list(c.now) }} → {{ list(c.then) }}
        </li>
      </ul>
      <p v-else class="quiet">No channel has ports in either of them.</p>
      <p v-if="stems?.all" :class="stems.differ.length ? 'mind' : 'signal'" data-proof>
        <template v-if="stems.differ.length"
          >{{ stems.differ.map(channelName).join(', ') }} would sound different: a loop or a return of the rig lies
          before it.</template
        ><template v-else
          >{{ plural(stems.all, 'stem', 'stems') }}: the same to the bit in both; only where they go differs.</template
        >
      </p>
      <div class="do">
        <el-button size="small" type="primary" data-work-here @click="work">Work in “{{ rigName(rig) }}”</el-button>
        <el-button v-for="s in sources" :key="s.rig.id" size="small" data-take-over @click="takeOver(s.rig.id)"
          >Take over {{ plural(s.coming.length, 'place', 'places') }} from “{{ s.rig.name }}”</el-button
        >
      </div>
    </section>
    <section v-else-if="sources.length" class="do">
      <el-button v-for="s in sources" :key="s.rig.id" size="small" data-take-over @click="takeOver(s.rig.id)"
        >Take over {{ plural(s.coming.length, 'place', 'places') }} from “{{ s.rig.name }}”</el-button
      >
    </section>

    <table class="map">
      <thead>
        <tr>
          <th scope="col">stems, mains and what goes outside</th>
          <th v-for="r in rigs" :key="r.id" scope="col" :class="{ here: r.id === current }">
            {{ r.name }}{{ r.id === current ? ', worked in' : '' }}
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="l in lines" :key="`${l.kind} ${l.channel.id}`" :data-outside="l.channel.name">
          <th scope="row" class="clip">
            {{ l.channel.name }}
            <span class="caption"
              >{{ layoutName(l.channel.layout) }}{{ l.kind === 'input' ? ', from ports in' : '' }}</span
            >
          </th>
          <td v-for="r in rigs" :key="r.id">
            <el-select
              :model-value="places(r.id, l.kind, l.channel.id)[0] ?? ''"
              placeholder="no ports"
              size="small"
              :aria-label="`ports of ${l.channel.name} in ${r.name}`"
              @change="(v: string) => setPlace(r.id, l.kind, l.channel.id, v || null)"
              ><el-option value="" label="no ports" /><el-option
                v-for="o in options(r.id, l.kind, l.channel)"
                :key="o.value"
                :value="o.value"
                :label="o.label"
                >{{ o.label }}<span v-if="o.shared" class="caption shared"> with {{ o.shared }}</span></el-option
              ></el-select
            >
          </td>
        </tr>
      </tbody>
    </table>
    <p v-if="!lines.length" class="quiet">
      No stem and no main yet. Stem buses stand between the mix and the outputs: make them in the Network, and give them
      ports here.
    </p>

    <OutputPlaces :rig="rig" @open="id => emit('open', id)" />

    <h2 class="title">What each port of “{{ rigName(rig) }}” carries</h2>
    <table class="ports">
      <tbody>
        <tr v-for="{ p, carries } in portRows" :key="p.id" :data-port="p.name">
          <th scope="row">
            <button class="plain" @click="emit('open', p.id)">{{ p.name }}</button>
          </th>
          <td class="clip" :class="{ quiet: !carries.length }">{{ carries.join(', ') || 'free' }}</td>
          <td class="meter"><PortMeter :port="p.id" /></td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.outputs {
  flex: 1;
  min-width: 0;
  padding: 14px 16px;
}
.change {
  padding: 12px 14px;
  margin-bottom: 16px;
  background: var(--surface);
  border: 1px solid var(--rule);
  border-radius: var(--radius);
}
ul {
  margin: 8px 0;
  padding-left: 18px;
}
.do {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin: 8px 0;
}
table {
  width: 100%;
  border-collapse: collapse;
  table-layout: fixed;
  margin-bottom: 18px;
}
th {
  text-align: left;
  font-weight: 400;
}
thead th {
  font-size: 12px;
  color: var(--ink-2);
  padding-bottom: 4px;
}
thead .here {
  color: var(--signal);
}
td,
tbody th {
  padding: 3px 12px 3px 0;
  border-top: 1px solid var(--rule);
  height: 30px;
}
.ports {
  max-width: 640px;
}
.ports th {
  width: 34%;
}
.meter {
  width: 160px;
}
.shared {
  margin-left: 6px;
}
.mind {
  color: var(--mind);
}
.signal {
  color: var(--signal);
}
</style>
