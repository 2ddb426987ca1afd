// What a hand does to channels, as edits: ids and order keys are made here, questions are asked here.
import { hintOf } from '~/session/whereTo'
import { defineStore } from 'pinia'
import { goTo } from './goTo'
import { applyEdit } from '@nullet/core/edits/apply'
import { LAYOUTS } from '@nullet/core/session/layouts'
import { LOOP, PROCESSORS, slotLabel } from '@nullet/core/processors/table'
import { byOrder, rows, settings, slotsOf, type Session } from '@nullet/core/session/session'
import type { Channel, Tap } from '@nullet/core/session/rows'
import { useAsk, type Choice } from './ask'
import { newId, newIds, orderAtEnd } from './ids'
import { commonName, namesOf } from './names'
import { useNotices } from './notices'
import { wantedTap } from '~/session/printsPlan'
import { usePasses } from './passes'
import { useSelection } from './selection'
import { useSession } from './session'
import { useShell } from './shell'

export const useGestures = defineStore('gestures', () => {
  const store = useSession(),
    selection = useSelection(),
    ask = useAsk(),
    shell = useShell(),
    notices = useNotices()
  const now = (): Session => store.session!
  const channels = (): Channel[] => rows(now(), 'channel')
  const nextOrder = () => orderAtEnd(channels())
  const names = (ids: string[]) => namesOf(now(), ids)
  const mainBus = () =>
    channels()
      .filter(c => c.role === 'main')
      .sort(byOrder)[0]?.id ?? null

  async function newSubmix(ids: string[]): Promise<void> {
    const id = await makeSubmix(ids)
    if (id) selection.set([id], id)
  }
  /** Many to one: they are gathered in a submix, and its print takes their place. */
  async function premix(ids: string[]): Promise<void> {
    const id = await makeSubmix(ids)
    if (id) printThese([id])
  }
  /** @returns the id of the bus; null where none was made */
  async function makeSubmix(ids: string[]): Promise<string | null> {
    if (!ids.length) {
      notices.tell('Select the channels that the submix should gather first.')
      return null
    }
    const name = await ask.ask({
      title: `New submix of ${names(ids)}`,
      kind: 'text',
      initial: commonName(now(), ids),
      act: 'Make the submix',
      placeholder: 'name of the submix'
    })
    if (!name) return null
    const first = now().channel[ids[0]]
    const id = newId()
    const made = store.apply('createSubmix', {
      id,
      name,
      order: nextOrder(),
      members: ids,
      layout: LAYOUTS.stereo,
      colour: first.colour,
      family: first.family,
      to: mainBus(),
      feedIds: newIds(ids.length + 1)
    })
    return made ? id : null
  }

  async function newBus(role: 'return' | 'stem' | 'main' | 'submix', word: string): Promise<void> {
    const processor = role === 'return' ? await chooseEffect() : null
    if (role === 'return' && !processor) return
    const name = await ask.ask({
      title: `New ${word}`,
      kind: 'text',
      initial: processor ? (EFFECT_NAMES[processor] ?? 'Return') : '',
      act: `Make the ${word}`,
      placeholder: `name of the ${word}`
    })
    if (!name) return
    const id = newId()
    const made = store.apply('createBus', {
      id,
      name,
      role,
      order: nextOrder(),
      colour: role === 'return' ? 7 : 8,
      to: role === 'main' ? null : mainBus(),
      feedId: newId(),
      ...(processor && processor !== 'none' ? { slot: { id: newId(), processor } } : {})
    })
    if (!made) return
    const from = selection.list
    selection.set([id], id)
    if (role === 'return' && from.length)
      notices.tell(`“${name}” is there. Nothing is sent to it yet.`, {
        label: `Send ${names(from)} to it`,
        run: () => void addSend(from, id, 'post')
      })
  }

  const EFFECT_NAMES: Record<string, string> = { reverb: 'Hall', delay: 'Echo' }
  const chooseEffect = () =>
    ask.ask({
      title: 'New return with…',
      kind: 'choice',
      choices: [
        ...Object.values(PROCESSORS)
          .map(p => ({ value: p.id, label: p.label }))
          .sort((a, b) => order(a.value) - order(b.value)),
        { value: 'none', label: 'nothing yet' }
      ]
    })
  const order = (id: string) => ['reverb', 'delay'].indexOf(id) + 1 || 9

  /** Buses as choices; those that an edit would refuse say why. */
  function busChoices(ids: string[], edit: (to: string) => { verb: string; args: unknown }): Choice[] {
    return channels()
      .filter(c => c.kind === 'bus' && !ids.includes(c.id))
      .sort(byOrder)
      .map(c => ({ value: c.id, label: c.name, hint: hintOf(store.network!, c.id), refused: refusal(edit(c.id)) }))
  }

  /** Why an edit would be refused, without doing it. */
  function refusal(edit: { verb: string; args: unknown }): string | undefined {
    try {
      applyEdit(now(), edit)
      return undefined
    } catch (error) {
      return (error as Error).message
    }
  }

  const alsoEdit = (ids: string[], to: string) => ({
    verb: 'addMainFeed',
    args: { ids, to, feedIds: newIds(ids.length) }
  })
  const feedEdit = (ids: string[], to: string | null) => ({
    verb: 'setMainFeed',
    args: { ids, to, feedIds: newIds(ids.length) }
  })
  const sendEdit = (ids: string[], to: string, tap: Tap) => ({
    verb: 'addSend',
    args: { ids, to, tap, feedIds: newIds(ids.length) }
  })
  const keyEdit = (ids: string[], slot: string) => ({
    verb: 'addKey',
    args: { ids, slot, feedIds: newIds(ids.length) }
  })

  const feedTo = (ids: string[], to: string | null) => {
    const e = feedEdit(ids, to)
    return store.apply(e.verb, e.args)
  }
  const alsoTo = (ids: string[], to: string) => {
    const e = alsoEdit(ids, to)
    return store.apply(e.verb, e.args)
  }
  const addSend = (ids: string[], to: string, tap: Tap) => {
    const e = sendEdit(ids, to, tap)
    return store.apply(e.verb, e.args)
  }
  const addKey = (ids: string[], slot: string) => {
    const e = keyEdit(ids, slot)
    return store.apply(e.verb, e.args)
  }

  async function askFeed(ids: string[]): Promise<void> {
    if (!ids.length) return
    const to = await ask.ask({
      title: `Feed ${names(ids)} to…`,
      kind: 'choice',
      choices: [...busChoices(ids, to => feedEdit(ids, to)), { value: '-', label: 'nowhere', hint: 'unassign' }]
    })
    if (to) feedTo(ids, to === '-' ? null : to)
  }

  async function askAlso(ids: string[]): Promise<void> {
    if (!ids.length) return
    const to = await ask.ask({
      title: `Feed ${names(ids)} also to…`,
      kind: 'choice',
      choices: busChoices(ids, to => alsoEdit(ids, to)),
      note: 'One more main feed beside those that are there.'
    })
    if (to) alsoTo(ids, to)
  }

  async function askSend(ids: string[], tap: Tap): Promise<void> {
    if (!ids.length) return
    const to = await ask.ask({
      title: `Send ${names(ids)} ${tap === 'post' ? 'after' : 'before'} the fader to…`,
      kind: 'choice',
      choices: busChoices(ids, to => sendEdit(ids, to, tap))
    })
    if (to) addSend(ids, to, tap)
  }

  function keyTargets(): { slot: string; label: string }[] {
    return rows(now(), 'slot')
      .filter(s => PROCESSORS[s.processor]?.keyed)
      .map(s => ({ slot: s.id, label: `${slotLabel(s.processor)} on ${now().channel[s.channel].name}` }))
  }

  async function askKey(ids: string[]): Promise<void> {
    if (!ids.length) return
    const choices = keyTargets().map(t => ({ value: t.slot, label: t.label, refused: refusal(keyEdit(ids, t.slot)) }))
    if (!choices.length)
      return notices.tell('Nothing here has a key input yet. Put a compressor, gate or ducker on a channel first.')
    const slot = await ask.ask({
      title: `Key from ${names(ids)} to…`,
      kind: 'choice',
      choices,
      note: 'Taken before the fader: the key works with the fader down.'
    })
    if (slot) addKey(ids, slot)
  }

  /** Channels that could steer a slot. */
  async function askKeyOf(slot: string): Promise<void> {
    const s = now().slot[slot]!
    const choices = channels()
      .filter(c => c.id !== s.channel)
      .sort(byOrder)
      .map(c => ({
        value: c.id,
        label: c.name,
        hint: hintOf(store.network!, c.id),
        refused: refusal(keyEdit([c.id], slot))
      }))
    const from = await ask.ask({
      title: `Key of ${slotLabel(s.processor)} on ${now().channel[s.channel]!.name} from…`,
      kind: 'choice',
      choices,
      note: 'Taken before the fader: the key works with the fader down.'
    })
    if (from) addKey([from], slot)
  }

  /** From heard to only steering, in one gesture. */
  async function askSilentTrigger(ids: string[]): Promise<void> {
    if (!ids.length) return
    const edit = (slot: string) => ({ verb: 'silentTrigger', args: { ids, slot, feedIds: newIds(ids.length) } })
    const choices = keyTargets().map(t => ({ value: t.slot, label: t.label, refused: refusal(edit(t.slot)) }))
    if (!choices.length)
      return notices.tell('Nothing here has a key input yet. Put a compressor, gate or ducker on a channel first.')
    const slot = await ask.ask({
      title: `${names(ids)} as silent trigger of…`,
      kind: 'choice',
      choices,
      note: 'It steers, and is not heard: its main feeds and sends go. It works with its fader down.'
    })
    if (slot) store.apply('silentTrigger', edit(slot).args)
  }

  /** Ports of the rig in use, alone and in pairs; those that a plugged loop owns say so. */
  async function askPorts(ids: string[], direction: 'out' | 'in'): Promise<void> {
    if (!ids.length) return
    const s = now(),
      rig = settings(s).rig
    const ports = rows(s, 'port')
      .filter(p => p.direction === direction && s.interface[p.interface]?.rig === rig)
      .sort(byOrder)
    const edit = (channel: string, list: string[]) => ({
      verb: 'addPortFeed',
      args: { feedId: newId(), channel, ports: list, direction }
    })
    const choice = (list: typeof ports, hint: string): Choice => ({
      value: list.map(p => p.id).join(' '),
      label: list.map(p => p.name).join(' and '),
      hint,
      refused: refusal(
        edit(
          ids[0]!,
          list.map(p => p.id)
        )
      )
    })
    const choices = [
      ...ports.map(p => choice([p], 'one port')),
      ...ports.flatMap((p, i) => (i % 2 === 0 && ports[i + 1] ? [choice([p, ports[i + 1]!], 'pair')] : []))
    ]
    if (!choices.length) return notices.tell('The session works in no rig, so there are no ports.')
    const answer = await ask.ask({
      title: direction === 'out' ? `Feed ${names(ids)} to ports…` : `Let ${names(ids)} hear ports…`,
      kind: 'choice',
      choices
    })
    if (!answer) return
    const edits = ids.map(channel => edit(channel, answer.split(' ')))
    if (edits.length === 1) store.apply(edits[0]!.verb, edits[0]!.args)
    else store.apply('several', { label: `${names(ids)} ${direction === 'out' ? 'to' : 'from'} ports`, edits })
  }

  async function addSlot(channel: string, processor?: string, loop?: string): Promise<void> {
    const choice =
      (loop ? LOOP : processor) ??
      (await ask.ask({
        title: `Insert on ${names([channel])}`,
        kind: 'choice',
        choices: [
          ...Object.values(PROCESSORS).map(p => ({ value: p.id, label: p.label })),
          ...rows(now(), 'loop').map(l => ({
            value: `loop ${l.id}`,
            label: `Loop: ${l.name}`,
            hint: 'hardware',
            refused: refusal(slotEdit(channel, LOOP, l.id))
          }))
        ]
      }))
    if (!choice) return
    const loopId = loop ?? (choice.startsWith('loop ') ? choice.slice(5) : undefined)
    const edit = slotEdit(channel, loopId ? LOOP : choice, loopId ?? null)
    if (!store.apply(edit.verb, edit.args)) return
    shell.railOf = channel
    shell.openSlot = (edit.args as { id: string }).id
  }

  const slotEdit = (channel: string, processor: string, loop: string | null) => ({
    verb: 'addSlot',
    args: { id: newId(), channel, processor, loop, order: orderAtEnd(slotsOf(now(), channel)) }
  })

  const moveSlotEdit = (id: string, channel: string, afterFader: boolean, copy: boolean) => ({
    verb: 'moveSlot',
    args: { id, channel, afterFader, order: orderAtEnd(slotsOf(now(), channel)), ...(copy ? { copy: newId() } : {}) }
  })

  async function askMoveSlot(id: string, copy: boolean): Promise<void> {
    const slot = now().slot[id]
    if (!slot) return
    const to = await ask.ask({
      title: `${copy ? 'Copy' : 'Move'} ${slotLabel(slot.processor).toLowerCase()} to…`,
      kind: 'choice',
      choices: channels()
        .filter(c => c.id !== slot.channel)
        .sort(byOrder)
        .map(c => ({
          value: c.id,
          label: c.name,
          hint: hintOf(store.network!, c.id),
          refused: refusal(moveSlotEdit(id, c.id, slot.afterFader, copy))
        }))
    })
    if (!to) return
    const edit = moveSlotEdit(id, to, slot.afterFader, copy)
    if (store.apply(edit.verb, edit.args)) {
      shell.railOf = to
      shell.openSlot = (edit.args as { copy?: string }).copy ?? id
      selection.set([to], to)
    }
  }

  /** A slot dropped on another strip: moved or copied, whichever can be. */
  async function dropSlot(id: string, to: string): Promise<void> {
    const slot = now().slot[id]
    if (!slot) return
    const way = (copy: boolean) => moveSlotEdit(id, to, slot.afterFader, copy)
    const answer = await ask.ask({
      title: `${slotLabel(slot.processor)} of ${names([slot.channel])} on ${names([to])}`,
      kind: 'choice',
      choices: [
        { value: 'move', label: 'Move it here', refused: refusal(way(false)) },
        { value: 'copy', label: 'Copy it here', refused: refusal(way(true)) }
      ]
    })
    if (!answer) return
    const edit = way(answer === 'copy')
    store.apply(edit.verb, edit.args)
  }

  function printThese(ids: string[]): void {
    if (!ids.length) return
    usePasses().only(ids.map(id => wantedTap(id)))
    shell.passesAs = 'prints'
    void goTo({ path: `/s/${store.id}/passes`, query: { sel: ids.join(',') } })
  }

  return {
    newSubmix,
    newBus,
    feedTo,
    alsoTo,
    addSend,
    addKey,
    askFeed,
    askAlso,
    askSend,
    askKey,
    askKeyOf,
    askSilentTrigger,
    keyTargets,
    refusal,
    feedEdit,
    alsoEdit,
    sendEdit,
    keyEdit,
    askPorts,
    addSlot,
    askMoveSlot,
    dropSlot,
    premix,
    printThese
  }
})
