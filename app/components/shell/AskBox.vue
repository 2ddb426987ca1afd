<script setup lang="ts">
// One question in the middle of the page, answered by typing.
import { computed, nextTick, ref, watch } from 'vue'
import { found as finding } from '~/words/find'
import { useAsk } from '~/stores/ask'

const ask = useAsk()
const text = ref('')
const at = ref(0)
/** Shown from the first try on, and gone as soon as the text is right. */
const tried = ref(false)
const field = ref<HTMLInputElement>()
watch(
  () => ask.question,
  async q => {
    if (!q) return
    text.value = q.kind === 'text' ? (q.initial ?? '') : ''
    at.value = 0
    tried.value = false
    await nextTick()
    field.value?.focus()
    field.value?.select()
  }
)
const found = computed(() => finding(text.value, ask.question?.choices ?? []))
const fault = computed(() => (ask.question?.kind === 'text' && ask.question.fault?.(text.value)) || null)
const act = computed(() => {
  if (ask.question?.kind === 'text') return ask.question.act ?? 'Set'
  return found.value[at.value]?.label ?? 'Nothing of that name'
})
watch(text, () => {
  at.value = 0
})

function enter(): void {
  if (ask.question?.kind === 'text') {
    tried.value = true
    if (text.value.trim() && !fault.value) ask.close(text.value.trim())
    return
  }
  const choice = found.value[at.value]
  if (choice && !choice.refused) ask.close(choice.value)
}
function move(by: number): void {
  at.value = Math.max(0, Math.min(found.value.length - 1, at.value + by))
  void nextTick(() => document.querySelector('.ask [aria-selected="true"]')?.scrollIntoView({ block: 'nearest' }))
}
</script>

<template>
  <div
    v-if="ask.question"
    class="veil"
    role="dialog"
    aria-modal="true"
    :aria-label="ask.question.title"
    @pointerdown.self="ask.close(null)"
  >
    <form class="ask" :aria-label="ask.question.title" @submit.prevent="enter">
      <label class="caption" for="ask-field">{{ ask.question.title }}</label>
      <input
        id="ask-field"
        ref="field"
        v-model="text"
        :placeholder="ask.question.kind === 'choice' ? 'type to find' : ask.question.placeholder"
        autocomplete="off"
        v-bind="
          ask.question.kind === 'choice'
            ? {
                'role': 'combobox',
                'aria-expanded': true,
                'aria-controls': 'ask-list',
                'aria-activedescendant': found.length ? `ask-${at}` : undefined
              }
            : {}
        "
        maxlength="300"
        :aria-invalid="tried && !!fault"
        :aria-describedby="tried && fault ? 'ask-fault' : undefined"
        @keydown.esc.stop.prevent="ask.close(null)"
        @keydown.down.prevent="move(1)"
        @keydown.up.prevent="move(-1)"
      />
      <p v-if="tried && fault" id="ask-fault" class="fault" role="alert">{{ fault }}</p>
      <ul
        v-if="ask.question.kind === 'choice'"
        id="ask-list"
        class="scroll"
        role="listbox"
        :aria-label="ask.question.title"
      >
        <li
          v-for="(c, i) in found"
          :id="`ask-${i}`"
          :key="c.value"
          role="option"
          :aria-selected="i === at"
          :aria-disabled="!!c.refused"
          @pointerenter="at = i"
          @click="c.refused || ask.close(c.value)"
        >
          <i v-if="c.hue !== undefined" class="hue" :style="{ background: `var(--hue-${c.hue})` }" /><span
            class="clip label"
            >{{ c.label }}</span
          ><span class="caption clip">{{ c.refused ?? c.hint }}</span>
        </li>
        <li v-if="!found.length" role="option" aria-disabled="true" aria-selected="false">nothing of that name</li>
      </ul>
      <p v-if="ask.question.preview" class="preview clip" data-preview>{{ ask.question.preview(text) }}</p>
      <p v-if="ask.question.note" class="caption">{{ ask.question.note }}</p>
      <div class="end">
        <el-button size="small" @click="ask.close(null)">Cancel <kbd>Esc</kbd></el-button>
        <el-button
          size="small"
          type="primary"
          native-type="submit"
          class="act"
          :disabled="act === 'Nothing of that name'"
          ><span class="clip">{{ act }}</span></el-button
        >
      </div>
    </form>
  </div>
</template>

<style scoped>
.veil {
  position: fixed;
  inset: 0;
  /* Above every sheet, however many were opened before. */
  z-index: 90000;
  background: color-mix(in srgb, var(--ground) 40%, transparent);
}
.ask {
  position: absolute;
  left: 50%;
  top: 18vh;
  transform: translateX(-50%);
  width: 420px;
  padding: 16px;
  background: var(--raised);
  border: 1px solid var(--rule);
  border-radius: var(--radius);
  box-shadow: var(--shadow);
}
input {
  width: 100%;
  margin-top: 6px;
  padding: 8px 2px;
  border: 0;
  border-bottom: 2px solid var(--acting);
  background: none;
  color: var(--ink);
  font: 16px var(--sans);
  outline: none;
}
ul {
  list-style: none;
  margin: 8px 0 0;
  padding: 0;
  max-height: 300px;
}
li {
  display: flex;
  justify-content: space-between;
  gap: 16px;
  padding: 5px 8px;
  border-radius: 2px;
  cursor: pointer;
}
li[aria-selected='true'] {
  background: var(--acting-soft);
}
li[aria-disabled='true'] {
  color: var(--ink-3);
  cursor: default;
}
.hue {
  width: 12px;
  height: 12px;
  border-radius: 2px;
  flex: none;
  align-self: center;
}
.label {
  flex: 1;
}
.fault {
  margin: 6px 0 0;
  color: var(--wrong);
}
.act {
  max-width: 260px;
}
.preview {
  margin: 8px 0 0;
  color: var(--signal);
}
li .caption {
  max-width: 60%;
}
.end {
  display: flex;
  justify-content: flex-end;
  margin-top: 12px;
}
.end kbd {
  margin-left: 4px;
}
</style>
