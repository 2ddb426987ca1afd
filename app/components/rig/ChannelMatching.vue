<script setup lang="ts">
// How far the channels of a summing unit are apart, and the trims that make them equal.
import { computed } from 'vue'
import { areEven, channelMatches, matchEdit } from '@nullet/core/propose/matchChannels'
import type { Loop } from '@nullet/core/session/rows'
import { dB } from '~/words/format'
import { useNotices } from '~/stores/notices'
import { useSession } from '~/stores/session'

const props = defineProps<{ loop: Loop; stale: boolean }>()
const store = useSession(),
  notices = useNotices()
const channels = computed(() => channelMatches(store.session!, props.loop))
const apart = computed(() => {
  const offs = channels.value.map(c => c.offDb)
  return Math.max(...offs) - Math.min(...offs)
})
function match(): void {
  const edit = matchEdit(props.loop, channels.value)
  if (edit && store.apply(edit.verb, edit.args))
    notices.tell('The outputs are trimmed. Ping the loop again to see that its channels are even.', store.thisUndo())
}
</script>

<template>
  <div v-if="channels.length" data-matching>
    <p v-if="areEven(channels)" class="signal">Its channels are even: no more than {{ dB(apart, 2) }} dB apart.</p>
    <template v-else>
      <p class="caption">Its channels are {{ apart.toFixed(2) }} dB apart. Trims of the outputs make them equal:</p>
      <table>
        <tbody>
          <tr v-for="c in channels" :key="c.port">
            <th scope="row" class="clip">{{ c.name }}</th>
            <td class="num">{{ dB(c.offDb, 2) }} dB</td>
            <td class="num quiet">trim {{ dB(c.trimDb, 2) }} → {{ dB(c.matchedDb, 2) }} dB</td>
          </tr>
        </tbody>
      </table>
      <p v-if="stale" class="mind">The rig has changed since: ping it again before it is matched.</p>
      <el-button v-else size="small" data-match @click="match">Match by trims</el-button>
    </template>
  </div>
</template>

<style scoped>
table {
  width: 100%;
  border-collapse: collapse;
  font-size: 12px;
  margin-bottom: 6px;
}
th {
  text-align: left;
  font-weight: 400;
}
td {
  text-align: right;
  padding-left: 8px;
}
</style>
