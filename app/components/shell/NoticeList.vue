<script setup lang="ts">
import { useNotices } from '~/stores/notices'

const notices = useNotices()
</script>

<template>
  <div class="notices" role="status" aria-live="polite">
    <div v-for="n in notices.list" :key="n.id" class="notice" :class="n.tone">
      <div>
        <p>
          {{ n.message }}<span v-if="n.times > 1" class="caption">&ensp;{{ n.times }} times</span>
        </p>
        <p v-if="n.kept" class="caption">{{ n.kept }}</p>
      </div>
      <button
        v-if="n.action"
        class="plain act"
        @click="
          () => {
            n.action!.run()
            notices.dismiss(n.id)
          }
        "
      >
        {{ n.action.label }}
      </button>
      <button class="plain" aria-label="dismiss" @click="notices.dismiss(n.id)">×</button>
    </div>
  </div>
</template>

<style scoped>
.notices {
  position: fixed;
  left: 16px;
  bottom: 112px;
  z-index: 3500;
  display: grid;
  gap: 8px;
  max-width: 460px;
}
.notice {
  display: flex;
  gap: 12px;
  align-items: flex-start;
  padding: 10px 12px;
  background: var(--raised);
  border: 1px solid var(--rule);
  border-left: 3px solid var(--signal);
  border-radius: var(--radius);
  box-shadow: var(--shadow);
  overflow-wrap: anywhere;
}
.notice.wrong {
  border-left-color: var(--wrong);
}
p {
  margin: 0;
}
.act {
  color: var(--acting);
  white-space: nowrap;
  font-weight: 500;
}
</style>
