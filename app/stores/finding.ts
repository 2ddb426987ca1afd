// Finding and selecting: by family, by what feeds what, by name.
import { defineStore } from 'pinia'
import { familyTable, familyWhole } from '@nullet/core/session/families'
import { byOrder, rows, type Session } from '@nullet/core/session/session'
import { matching } from '~/session/matching'
import { hintOf } from '~/session/whereTo'
import { useAsk } from './ask'
import { useNotices } from './notices'
import { useSelection } from './selection'
import { useSession } from './session'

export const useFinding = defineStore('finding', () => {
  const store = useSession(),
    selection = useSelection(),
    ask = useAsk(),
    notices = useNotices()
  const now = (): Session => store.session!

  function selectFeeders(): void {
    const id = selection.focused
    if (!id) return
    const ids = [...new Set((store.network!.feedsTo.get(id) ?? []).flatMap(f => (f.from ? [f.from] : [])))]
    if (ids.length) selection.set(ids, ids[0]!)
    else notices.tell(`Nothing feeds “${now().channel[id]!.name}”.`)
  }

  /** Who uses it: everything that reaches it in any number of steps. */
  function selectUpstream(): void {
    const id = selection.focused
    if (!id) return
    const ids = [...store.network!.reach([id], at => store.network!.upstream(at))].filter(x => x !== id)
    if (ids.length) selection.set(ids, id)
    else notices.tell(`Nothing reaches “${now().channel[id]!.name}”.`)
  }

  function selectFamily(): void {
    const family = selection.focused && now().channel[selection.focused]!.family
    if (!family) return notices.tell('It belongs to no family yet.')
    const table = familyTable(now()),
      whole = familyWhole(family, table)
    selection.set(
      rows(now(), 'channel')
        .filter(c => familyWhole(c.family, table) === whole && c.kind === 'track')
        .map(c => c.id),
      selection.focused
    )
  }

  function selectFound(): void {
    const found = matching(now(), selection.filter)
    if (!found) return notices.tell('Type a filter first.')
    const ids = [...found]
    selection.set(ids, ids.at(-1) ?? null)
  }

  async function goTo(): Promise<void> {
    const id = await ask.ask({
      title: 'Go to…',
      kind: 'choice',
      choices: rows(now(), 'channel')
        .sort(byOrder)
        .map(c => ({ value: c.id, label: c.name, hint: hintOf(store.network!, c.id) }))
    })
    if (id) selection.set([id], id)
  }

  return { selectFeeders, selectUpstream, selectFamily, selectFound, goTo }
})
