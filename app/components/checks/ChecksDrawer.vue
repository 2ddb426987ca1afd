<script setup lang="ts">
// What is probably wrong, why, and what to do about it: fixes are ordinary edits.
import { useAnalyst } from '~/stores/analyst'
import { useNotices } from '~/stores/notices'
import { useSelection } from '~/stores/selection'
import { useChecks } from '~/stores/checks'
import { useSession } from '~/stores/session'
import { useShell } from '~/stores/shell'
import { useTransport } from '~/stores/transport'

const store = useSession(),
  checks = useChecks(),
  shell = useShell(),
  selection = useSelection(),
  notices = useNotices(),
  analyst = useAnalyst(),
  transport = useTransport()
const nameOf = (id: string) =>
  store.session?.channel[id]?.name ??
  store.session?.loop[id]?.name ??
  store.session?.unit[id]?.name ??
  store.session?.port[id]?.name ??
  store.session?.interface[id]?.name ??
  id
function go(id: string): void {
  if (store.session?.channel[id]) selection.set([id], id)
}
function fix(label: string, edit: { verb: string; args: unknown }): void {
  if (store.apply(edit.verb, edit.args)) notices.tell(`${label}: done.`, store.thisUndo())
  checks.look()
}

/** Clipping shows only when sound runs. */
async function listen(): Promise<void> {
  const answer = await analyst.ask({ kind: 'observe', range: analyst.range })
  if (!answer) return
  transport.seen = { peaksDb: new Map(answer.peaksDb) }
  if (!checks.look().some(f => f.check === 'clipping')) notices.tell('No port and no unit clips in that range.')
}
</script>

<template>
  <el-drawer
    v-model="shell.checksOpen"
    title="Checks"
    size="420px"
    :append-to-body="true"
    :modal="false"
    modal-penetrable
  >
    <p v-if="!checks.findings.length" class="quiet">
      Nothing looks wrong: every bus is fed and leads somewhere, no send is left at −∞, no solo is on, every loop is
      measured.
    </p>
    <article v-for="(f, i) in checks.findings" :key="i">
      <p class="what">{{ f.sentence }}</p>
      <p class="caption">{{ f.consequence }}</p>
      <p class="about">
        <button v-for="id in [...new Set(f.about)]" :key="id" class="plain" @click="go(id)">{{ nameOf(id) }}</button>
      </p>
      <el-button v-for="x in f.fixes" :key="x.label" size="small" @click="fix(x.label, x.edit)">{{
        x.label
      }}</el-button>
    </article>
    <div class="listen">
      <el-button size="small" :loading="analyst.busy === 'observe'" data-listen @click="listen"
        >Listen for clipping</el-button
      ><span class="caption">{{
        analyst.busy === 'observe'
          ? `${Math.round(analyst.progress * 100)} %`
          : `ports and units, from ${analyst.rangeText}`
      }}</span>
    </div>
  </el-drawer>
</template>

<style scoped>
article {
  padding: 12px 0;
  border-bottom: 1px solid var(--rule);
}
.what {
  margin: 0 0 2px;
  border-left: 3px solid var(--mind);
  padding-left: 8px;
}
.listen {
  display: flex;
  gap: 10px;
  align-items: center;
  margin-top: 16px;
}
article .caption {
  margin: 0 0 6px 11px;
}
.about {
  margin: 0 0 8px 11px;
  display: flex;
  gap: 12px;
}
.about button {
  color: var(--acting);
}
</style>
