<script setup lang="ts">
// The session for somebody who has neither the room nor every processor: what is heard as printed, what would be
// missing.
import { computed, ref } from 'vue'
import { receiverSession, type ReceiverForm } from '@nullet/core/formats/receiver'
import { wantedTap } from '~/session/printsPlan'
import { goTo } from '~/stores/goTo'
import { savePackage } from '~/stores/package'
import { usePasses } from '~/stores/passes'
import { useSession } from '~/stores/session'
import { plural } from '~/words/format'

const emit = defineEmits<{ close: [] }>()
const store = useSession(),
  passes = usePasses()
const form = ref<ReceiverForm>('instead')
const FORMS: [ReceiverForm, string, string][] = [
  ['instead', 'prints instead', 'what they were made from, and the room, are left out'],
  ['beside', 'prints beside', 'what they were made from is parked and can be brought back']
]
const made = computed(() => receiverSession(store.session!, form.value))
const heard = computed(() => made.value.heard.map(id => store.session!.channel[id]!.name))
const lacking = computed(() => [...new Set(made.value.lacks.map(l => l.channel))])
async function printFirst(): Promise<void> {
  passes.add(lacking.value.map(id => wantedTap(id)))
  emit('close')
  await goTo(`/s/${store.id}/passes`)
}
function save(): void {
  void savePackage(form.value)
  emit('close')
}
</script>

<template>
  <div class="forms" role="radiogroup" aria-label="prints">
    <label v-for="[value, label, about] in FORMS" :key="value">
      <input v-model="form" type="radio" name="form" :value="value" /><span
        ><b>{{ label }}</b
        ><br /><span class="quiet">{{ about }}</span></span
      >
    </label>
  </div>
  <p v-if="heard.length" data-replaced>
    {{ plural(heard.length, 'print is', 'prints are') }} heard in the place of what was printed: {{ heard.join(', ') }}.
  </p>
  <p v-else class="mind" data-replaced>Nothing is printed yet that could be heard in the place of anything.</p>
  <template v-if="made.lacks.length">
    <p class="mind">
      The receiver would not hear this as you do:
      <button class="plain act" data-print-first @click="printFirst">
        print {{ plural(lacking.length, 'channel', 'channels') }} first…
      </button>
    </p>
    <ul class="lacks">
      <li v-for="l in made.lacks" :key="l.text">{{ l.text }}</li>
    </ul>
  </template>
  <p v-else class="good">Everything in it plays without this room.</p>
  <SheetEnd label="Save the package" @close="emit('close')" @done="save" />
</template>

<style scoped>
.forms {
  display: grid;
  gap: 8px;
}
.forms label {
  display: flex;
  gap: 10px;
  align-items: baseline;
}
.forms input {
  accent-color: var(--acting);
}
.lacks {
  margin: 0;
  padding-left: 18px;
  max-height: 260px;
  overflow: auto;
}
.mind {
  color: var(--mind);
}
.good {
  color: var(--signal);
}
.act {
  color: var(--acting);
}
</style>
