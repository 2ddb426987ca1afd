<script setup lang="ts">
// Every key and what it does, made from the table of commands.
import { computed } from 'vue'
import { commands, grouped, PLAIN_KEYS } from '~/commands/table'
import { useShell } from '~/stores/shell'

const shell = useShell()
const groups = computed(() => grouped(commands()))
</script>

<template>
  <el-dialog v-model="shell.helpOpen" title="Keys" width="860" align-center :close-on-press-escape="false">
    <p class="quiet">
      Two strokes, typed one after the other, act on what is selected. After the first one a strip shows what the second
      can be.
    </p>
    <div class="scroll list" tabindex="0" role="group" aria-label="keys">
      <div class="groups">
        <section>
          <h3>Everywhere</h3>
          <div v-for="[k, what] in PLAIN_KEYS" :key="k" class="line">
            <kbd>{{ k }}</kbd><span>{{ what }}</span>
          </div>
        </section>
        <section v-for="[name, list] in groups" :key="name">
          <h3>{{ name }}</h3>
          <div v-for="c in list" :key="c.keys" class="line">
            <kbd>{{ c.keys }}</kbd><span>{{ c.label }}</span>
          </div>
        </section>
      </div>
    </div>
  </el-dialog>
</template>

<style scoped>
.list {
  max-height: calc(100vh - 230px);
  overscroll-behavior: contain;
}
.groups {
  columns: 3;
  column-gap: 24px;
}
section {
  break-inside: avoid;
  margin-bottom: 12px;
}
h3 {
  font-size: 12px;
  font-weight: 600;
  margin: 0 0 4px;
}
.line {
  display: flex;
  gap: 10px;
  padding: 2px 0;
  font-size: 12px;
}
kbd {
  flex: 0 0 auto;
  min-width: 36px;
  text-align: center;
}
</style>
