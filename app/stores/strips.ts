// What a hand does to strips: mute, solo, level, pan, colour, name, links. A linked strip takes the others along.
import { defineStore } from 'pinia'
import { LAYOUTS, layoutName } from '@nullet/core/session/layouts'
import { linkedWith, linkOf, type Linked } from '@nullet/core/session/linked'
import { seriesNames } from '@nullet/core/session/series'
import { byOrder, rows, type Session } from '@nullet/core/session/session'
import type { Channel } from '@nullet/core/session/rows'
import { FADER, PAN } from '~/numbers/quantity'
import { askNumber } from './askNumber'
import { hintOf } from '~/session/whereTo'
import { useAsk } from './ask'
import { useGestures } from './gestures'
import { newId, orderAtEnd } from './ids'
import { commonName, HUES, namesOf } from './names'
import { useNotices } from './notices'
import { useSelection } from './selection'
import { useSession } from './session'
import { useShell } from './shell'

type Switch = 'muted' | 'soloed' | 'safe' | 'parked' | 'ready'
const LINKED: Linked[] = ['levels', 'mutes', 'solos']
const LINKED_BY: Partial<Record<Switch, Linked>> = { muted: 'mutes', soloed: 'solos' }

export const useStrips = defineStore('strips', () => {
  const store = useSession(),
    selection = useSelection(),
    ask = useAsk(),
    shell = useShell(),
    notices = useNotices(),
    gestures = useGestures()
  const now = (): Session => store.session!
  const channels = (): Channel[] => rows(now(), 'channel')
  const names = (ids: string[]) => namesOf(now(), ids)

  /** What moves when these are moved: with their links, unless links are lifted. */
  const along = (ids: string[], what: Linked): string[] => (shell.linksLifted ? ids : linkedWith(now(), ids, what))

  function toggle(ids: string[], field: Switch): void {
    if (!ids.length) return
    const what = LINKED_BY[field],
      all = what ? along(ids, what) : ids
    store.apply('setChannels', { ids: all, fields: { [field]: !ids.every(id => now().channel[id]![field]) } })
  }

  function clearSolo(): void {
    const ids = channels()
      .filter(c => c.soloed)
      .map(c => c.id)
    if (ids.length) store.apply('setChannels', { ids, fields: { soloed: false } })
  }

  /** A level where the hand put it: alone exactly there, several by the same number of dB. */
  function setLevel(id: string, ids: string[], start: number | null, db: number | null): void {
    const all = along(ids, 'levels')
    if (all.length === 1) store.apply('setChannels', { ids: all, fields: { levelDb: db } })
    else if (db !== null && start !== null)
      store.apply('moveLevels', { ids: all, byDb: Math.round((db - start) * 10) / 10 })
    else store.apply('setChannels', { ids: [id], fields: { levelDb: db } })
  }

  /** Up or down by so many dB. */
  function nudge(ids: string[], byDb: number): void {
    if (ids.length) store.apply('moveLevels', { ids: along(ids, 'levels'), byDb })
  }

  // ── asked for ──

  async function askLevel(ids: string[]): Promise<void> {
    if (!ids.length) return
    const levelDb = await askNumber({
      ...FADER,
      label: `Level of ${names(ids)}`,
      value: ids.length === 1 ? now().channel[ids[0]!]!.levelDb : undefined
    })
    if (levelDb === undefined) return
    // Several that are given one level are given it; linked ones beside them keep their distance.
    if (ids.length === 1) setLevel(ids[0]!, ids, now().channel[ids[0]!]!.levelDb, levelDb)
    else store.apply('setChannels', { ids, fields: { levelDb } })
  }

  async function askLevelBy(ids: string[]): Promise<void> {
    if (!ids.length) return
    const byDb = await askNumber({
      label: `Move the level of ${names(ids)} by`,
      unit: 'dB',
      min: -60,
      max: 60,
      act: 'Move'
    })
    if (typeof byDb === 'number') store.apply('moveLevels', { ids: along(ids, 'levels'), byDb })
  }

  async function askPan(ids: string[]): Promise<void> {
    if (!ids.length) return
    const pan = await askNumber({
      ...PAN,
      label: `Pan of ${names(ids)}`,
      placeholder: 'L100 … C … R100',
      value: ids.length === 1 ? now().channel[ids[0]!]!.pan : undefined
    })
    if (typeof pan === 'number') store.apply('setChannels', { ids, fields: { pan } })
  }

  async function askColour(ids: string[]): Promise<void> {
    if (!ids.length) return
    const value = await ask.ask({
      title: `Colour of ${names(ids)}`,
      kind: 'choice',
      choices: HUES.map((label, i) => ({ value: String(i), label, hue: i }))
    })
    if (value !== null) store.apply('setChannels', { ids, fields: { colour: Number(value) } })
  }

  async function askLayout(ids: string[]): Promise<void> {
    if (!ids.length) return
    const here = new Set(ids.map(id => layoutName(now().channel[id]!.layout)))
    const name = await ask.ask({
      title: `Layout of ${names(ids)}`,
      kind: 'choice',
      choices: Object.keys(LAYOUTS).map(l => ({
        value: l,
        label: l,
        hint: here.size === 1 && here.has(l) ? 'as it is' : `${LAYOUTS[l]!.join(' ')}`
      }))
    })
    if (!name) return
    const args = { ids, layout: LAYOUTS[name]! }
    const lost = gestures.refusal({ verb: 'setLayout', args })
    if (!lost) {
      store.apply('setLayout', args)
      return
    }
    const answer = await ask.ask({
      title: lost,
      kind: 'choice',
      choices: [
        { value: 'leave', label: 'Leave it as it is' },
        { value: 'drop', label: `Change to ${name} all the same` }
      ]
    })
    if (answer === 'drop') store.apply('setLayout', { ...args, dropping: true })
  }

  async function rename(id: string): Promise<void> {
    const name = await ask.ask({ title: 'Rename', kind: 'text', act: 'Rename', initial: now().channel[id]!.name })
    if (name) store.apply('setChannels', { ids: [id], fields: { name } })
  }

  async function renameSeries(ids: string[]): Promise<void> {
    if (!ids.length) return
    const shown = (pattern: string) => {
      const all = seriesNames(pattern, ids.length)
      return all.length > 4 ? `${all.slice(0, 3).join(', ')} … ${all.at(-1)}` : all.join(', ')
    }
    const pattern = await ask.ask({
      title: `Rename ${names(ids)} in series`,
      kind: 'text',
      initial: `${commonName(now(), ids)} #`,
      act: 'Rename',
      note: '# stands for the number, ## for two digits.',
      preview: shown
    })
    if (!pattern) return
    const ordered = ids.map(id => now().channel[id]!).sort(byOrder)
    store.apply('renameChannels', {
      names: seriesNames(pattern, ordered.length).map((name, i) => ({ id: ordered[i]!.id, name }))
    })
  }

  // ── links ──

  async function link(ids: string[]): Promise<void> {
    if (ids.length < 2) return notices.tell('Select two strips or more to link them.')
    const name = await ask.ask({
      title: `Link ${ids.length} strips`,
      kind: 'text',
      initial: commonName(now(), ids),
      act: 'Link',
      placeholder: 'name of the link',
      note: 'Their levels, mutes and solos move together; no audio flows between them.'
    })
    if (name)
      store.apply('setLink', { id: newId(), fields: { name, order: orderAtEnd(rows(now(), 'link')), members: ids } })
  }

  /** Which of levels, mutes and solos go along: one is turned at a time. */
  async function askLinked(ids: string[]): Promise<void> {
    const found = ids.map(id => linkOf(now(), id)).find(l => l !== undefined)
    if (!found) return notices.tell('Nothing that is selected is linked.')
    const answer = await ask.ask({
      title: `What “${found.name}” moves`,
      kind: 'choice',
      choices: LINKED.map(what => ({
        value: what,
        label: what,
        hint: found[what]
          ? 'move together; choose to let each move alone'
          : 'each moves alone; choose to move them together'
      }))
    })
    if (answer) store.apply('setLink', { id: found.id, fields: { [answer]: !found[answer as Linked] } })
  }

  function unlink(ids: string[]): void {
    const found = [...new Set(ids.map(id => linkOf(now(), id)?.id).filter(l => l !== undefined))]
    if (!found.length) return notices.tell('Nothing that is selected is linked.')
    store.apply('several', {
      label: found.length === 1 ? `Unlink “${now().link[found[0]!]!.name}”` : `Unlink ${found.length} links`,
      edits: found.map(id => ({ verb: 'removeLink', args: { id } }))
    })
  }

  // ── away ──

  /** A bus that others feed asks where they should go. */
  async function remove(ids: string[]): Promise<void> {
    if (!ids.length) return
    const gone = new Set(ids),
      label = names(ids)
    const feeders = rows(now(), 'feed').filter(
      f => f.kind === 'main' && gone.has(f.to ?? '') && !gone.has(f.from ?? '')
    )
    let to: { to?: string | null } = {}
    if (feeders.length) {
      const onward = rows(now(), 'feed').find(
        f => f.kind === 'main' && gone.has(f.from ?? '') && f.to && !gone.has(f.to)
      )?.to
      const buses = channels()
        .filter(c => c.kind === 'bus' && !gone.has(c.id))
        .sort((a, b) => Number(b.id === onward) - Number(a.id === onward) || byOrder(a, b))
      const answer = await ask.ask({
        title: `${feeders.length === 1 ? `“${now().channel[feeders[0]!.from ?? '']!.name}” feeds` : `${feeders.length} channels feed`} ${ids.length === 1 ? `“${label}”` : 'what is removed'}. Where should ${feeders.length === 1 ? 'it' : 'they'} go?`,
        kind: 'choice',
        choices: [
          ...(ids.length > 1 ? [{ value: 'each', label: 'Each where its bus went' }] : []),
          ...buses.map(c => ({
            value: c.id,
            label: c.name,
            hint: c.id === onward ? 'where it went' : hintOf(store.network!, c.id),
            refused: gestures.refusal({ verb: 'removeChannels', args: { ids, to: c.id } })
          })),
          { value: '-', label: 'nowhere', hint: 'unassign' }
        ]
      })
      if (!answer) return
      to = answer === 'each' ? {} : { to: answer === '-' ? null : answer }
    }
    if (store.apply('removeChannels', { ids, ...to })) {
      selection.clear()
      notices.tell(`${label} removed.`, store.thisUndo())
    }
  }

  const hear = (id: string) => store.apply('setSession', { heardChannel: id })
  const shownLink = (id: string) => {
    const l = linkOf(now(), id)
    return l && `linked: ${l.name} (${l.members.length})`
  }

  return {
    along,
    toggle,
    clearSolo,
    setLevel,
    nudge,
    askLevel,
    askLevelBy,
    askPan,
    askColour,
    askLayout,
    rename,
    renameSeries,
    link,
    askLinked,
    unlink,
    shownLink,
    remove,
    hear
  }
})
