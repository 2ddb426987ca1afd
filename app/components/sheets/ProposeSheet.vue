<script setup lang="ts">
// What could be made of the families that are here: accepted whole or in part, as one edit.
import { computed, ref } from 'vue'
import { acceptProposals, GROUPS, proposeNetwork, type Proposal } from '@nullet/core/propose/propose'
import { newId } from '~/stores/ids'
import { useNotices } from '~/stores/notices'
import { useSession } from '~/stores/session'

const emit = defineEmits<{ close: [] }>()
const store = useSession(),
  notices = useNotices()
const WORDS: Record<Proposal['group'], string> = {
  families: 'Families',
  main: 'Main',
  submixes: 'Submixes',
  stems: 'Stems',
  returns: 'Returns',
  sends: 'Sends',
  colours: 'Colours'
}
const all = proposeNetwork(store.session!, newId)
const chosen = ref(new Set(all.map(p => p.id)))
const groups = computed(() =>
  GROUPS.map(group => ({ group, list: all.filter(p => p.group === group) })).filter(g => g.list.length)
)

function set(ids: string[], on: boolean): void {
  const next = new Set(chosen.value)
  const take = (id: string) => {
    next.add(id)
    all.find(p => p.id === id)!.needs.forEach(take)
  }
  // What is left out takes along what cannot be without it.
  const leave = (id: string) => {
    if (next.delete(id)) all.filter(p => p.needs.includes(id)).forEach(p => leave(p.id))
  }
  ids.forEach(id => (on ? take(id) : leave(id)))
  chosen.value = next
}
function accept(): void {
  const edit = acceptProposals(all, chosen.value)
  if (!edit || !store.apply(edit.verb, edit.args)) return
  notices.tell(`${chosen.value.size} changes made.`, store.thisUndo())
  emit('close')
}
</script>

<template>
  <p v-if="!all.length" class="quiet" data-nothing>
    There is nothing to propose: every family that is known has its buses. Families come from names; where none is
    known, set them in Sources.
  </p>
  <div v-else class="scroll list">
    <section v-for="g in groups" :key="g.group">
      <h3>
        <el-checkbox
          :model-value="g.list.every(p => chosen.has(p.id))"
          :indeterminate="g.list.some(p => chosen.has(p.id)) && !g.list.every(p => chosen.has(p.id))"
          @change="
            v =>
              set(
                g.list.map(p => p.id),
                !!v
              )
          "
          >{{ WORDS[g.group] }} <span class="quiet">{{ g.list.length }}</span></el-checkbox
        >
      </h3>
      <div v-for="p in g.list" :key="p.id" class="line" :data-proposal="p.label">
        <el-checkbox :model-value="chosen.has(p.id)" @change="v => set([p.id], !!v)">{{ p.label }}</el-checkbox><span
          class="caption clip"
          :title="p.reason"
          >{{ p.reason }}</span
        >
      </div>
    </section>
  </div>
  <SheetEnd
    :label="all.length && chosen.size === all.length ? 'Accept all' : `Accept ${chosen.size}`"
    :disabled="!chosen.size"
    note="All of it is one undo."
    @close="emit('close')"
    @done="accept"
  />
</template>

<style scoped>
.list {
  max-height: 56vh;
}
h3 {
  margin: 6px 0 0;
  font-size: 12px;
}
.line {
  display: flex;
  align-items: center;
  gap: 16px;
  padding-left: 20px;
  height: 26px;
}
.line .caption {
  flex: 1;
  text-align: right;
  min-width: 0;
  padding-right: 8px;
}
</style>
