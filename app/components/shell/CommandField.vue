<script setup lang="ts">
// Finds channels, units, ports and actions by typing.
import { watch } from 'vue'
import { goTo } from '~/stores/goTo'
import { byOrder, rows } from '@nullet/core/session/session'
import { commands } from '~/commands/table'
import { hintOf } from '~/session/whereTo'
import { useAsk } from '~/stores/ask'
import { useSelection } from '~/stores/selection'
import { useSession } from '~/stores/session'
import { useShell } from '~/stores/shell'

const shell = useShell(),
  ask = useAsk(),
  store = useSession(),
  selection = useSelection()
const all = commands()
watch(
  () => shell.commandsOpen,
  async open => {
    if (!open || !store.session) return
    shell.commandsOpen = false
    const s = store.session
    const answer = await ask.ask({
      title: 'Find anything',
      kind: 'choice',
      choices: [
        ...all.map(c => ({ value: `do ${c.keys}`, label: c.label, hint: c.keys })),
        ...rows(s, 'channel')
          .sort(byOrder)
          .map(c => ({ value: `channel ${c.id}`, label: c.name, hint: hintOf(store.network!, c.id) })),
        ...rows(s, 'unit').map(u => ({ value: `rig ${u.id}`, label: u.name, hint: 'unit' })),
        ...rows(s, 'loop').map(l => ({ value: `rig ${l.id}`, label: l.name, hint: 'loop' })),
        ...rows(s, 'port').map(p => ({ value: `rig ${p.id}`, label: p.name, hint: `port ${p.direction}` }))
      ]
    })
    if (!answer) return
    const [kind, ...rest] = answer.split(' ')
    const what = rest.join(' ')
    if (kind === 'do') await all.find(c => c.keys === what)!.run()
    else if (kind === 'channel') selection.set([what], what)
    else await goTo({ path: `/s/${store.id}/rig`, query: { at: what } })
  }
)
</script>

<template><span hidden /></template>
