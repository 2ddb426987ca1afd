<script setup lang="ts">
// The outputs of a rig in pairs: what each carries, and the channel that it is, with its fader, slots and meter.
import { computed } from 'vue'
import {
  makeOutputChannel,
  outputPlaces,
  removeOutputChannel,
  type OutputPlace
} from '@nullet/core/propose/outputChannel'
import { carriedBy } from '@nullet/core/propose/outputs'
import { rows, slotsOf } from '@nullet/core/session/session'
import { FADER } from '~/numbers/quantity'
import { plural } from '~/words/format'
import { newId, orderAtEnd } from '~/stores/ids'
import { useNotices } from '~/stores/notices'
import { useOpenRail } from '~/stores/openRail'
import { useSession } from '~/stores/session'
import { useStrips } from '~/stores/strips'

const props = defineProps<{ rig: string }>()
const emit = defineEmits<{ open: [port: string] }>()
const store = useSession(),
  openRail = useOpenRail(),
  strips = useStrips(),
  notices = useNotices()
const session = computed(() => store.session!)
const places = computed(() => outputPlaces(session.value, props.rig))
/** Of a channel: who feeds it; of plain ports: who ends there. */
function carries({ channel, ports }: OutputPlace): string {
  const names = channel
    ? rows(session.value, 'feed')
        .filter(f => f.to === channel.id)
        .map(f => session.value.channel[f.from ?? '']?.name ?? '')
    : ports.flatMap(p => carriedBy(session.value, p))
  return [...new Set(names)].join(', ') || 'free'
}
const slotsText = (channel: string) => {
  const n = slotsOf(session.value, channel).length
  return n ? plural(n, 'slot', 'slots') : 'no slots'
}
const through = (feeds: number) =>
  feeds ? plural(feeds, 'feed goes through it', 'feeds go through it') : 'send to it in the Network'
function make(place: OutputPlace): void {
  const ids = { channel: newId(), feed: newId }
  const edit = makeOutputChannel(session.value, place.ports, ids, orderAtEnd(rows(session.value, 'channel')))
  if (edit && store.apply(edit.verb, edit.args))
    notices.tell(`${place.name} is a channel now: ${through(place.feeds.length)}.`, store.thisUndo())
}
function unmake(place: OutputPlace): void {
  const edit = removeOutputChannel(session.value, place.channel!.id, newId)
  if (store.apply(edit.verb, edit.args))
    notices.tell(`${place.name} is plain ports again, without the level and the slots it had.`, store.thisUndo())
}
</script>

<template>
  <h2 class="title">Outputs of this rig</h2>
  <p class="quiet">
    A pair can be a channel of its own: what goes there meets in it first, passes its slots and its fader, and it has a
    name in the Network.
  </p>
  <table class="places">
    <tbody>
      <tr v-for="p in places" :key="p.ports.join()" :data-place="p.name">
        <th scope="row">
          <button v-if="p.channel" class="plain clip made" data-open-rail @click="openRail(p.channel.id)">
            {{ p.channel.name }}
          </button>
          <button v-else class="plain clip" @click="emit('open', p.ports[0]!)">{{ p.name }}</button>
        </th>
        <td class="clip" :class="{ quiet: carries(p) === 'free' }" :title="carries(p)">{{ carries(p) }}</td>
        <td class="fader">
          <NumberField
            v-if="p.channel"
            :quantity="{ ...FADER, label: `level of ${p.channel.name}` }"
            :value="p.channel.levelDb"
            @move="levelDb => store.preview('channel', [p.channel!.id], () => ({ levelDb }))"
            @done="db => strips.setLevel(p.channel!.id, [p.channel!.id], p.channel!.levelDb, db)"
          />
        </td>
        <td class="caption slots">
          <button v-if="p.channel" class="plain act" @click="openRail(p.channel.id)">
            {{ slotsText(p.channel.id) }}
          </button>
        </td>
        <td class="meters"><PortMeter v-for="port in p.ports" :key="port" :port="port" /></td>
        <td class="do">
          <button v-if="p.channel" class="plain quiet" data-unmake @click="unmake(p)">plain ports</button>
          <button
            v-else
            class="plain act"
            :disabled="!!p.refused"
            :title="p.refused ?? 'what goes there goes through a bus first'"
            data-make-channel
            @click="make(p)"
          >
            {{ p.refused ? 'taken' : 'make it a channel' }}
          </button>
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
p {
  max-width: 76ch;
  margin: 4px 0 8px;
}
.places {
  width: 100%;
  border-collapse: collapse;
  table-layout: fixed;
  margin-bottom: 18px;
}
th {
  width: 20%;
  text-align: left;
  font-weight: 400;
}
th,
td {
  padding: 3px 12px 3px 0;
  border-top: 1px solid var(--rule);
  height: 30px;
}
.made {
  font-weight: 500;
}
.fader {
  width: 70px;
}
.slots {
  width: 70px;
}
.meters {
  width: 150px;
}
.do {
  width: 120px;
  text-align: right;
}
.act {
  color: var(--acting);
}
.act:disabled {
  color: var(--ink-3);
}
</style>
