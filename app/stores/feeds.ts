// What a hand does to feeds: a level, a tap, a mute; with several channels selected, to the same feed of each.
import { defineStore } from 'pinia'
import type { Feed } from '@nullet/core/session/rows'
import { rows } from '@nullet/core/session/session'
import { useSession } from './session'

/** Where a feed goes, as a name: equal for the sends of several channels to one return. */
const goalOf = (f: Feed): string => `${f.kind} ${f.kind === 'key' ? f.slot : f.kind === 'port' ? f.ports.join() : f.to}`

export const useFeeds = defineStore('feeds', () => {
  const store = useSession()
  const settled = (id: string) => store.settled().feed[id]!.levelDb

  /** The feeds that go where this one goes, from all of these channels; it alone when it comes from another. */
  function sameOf(feed: Feed, channels: readonly string[]): string[] {
    if (!feed.from || !channels.includes(feed.from)) return [feed.id]
    return rows(store.session!, 'feed')
      .filter(f => f.from && channels.includes(f.from) && goalOf(f) === goalOf(feed))
      .map(f => f.id)
  }

  /** One goes where the hand has it; several move by the same number of dB, those at −∞ stay there. */
  function levels(ids: readonly string[], feed: Feed, level: number | null): Map<string, number | null> {
    const start = settled(feed.id)
    return new Map(
      ids.map(id => {
        const from = settled(id)
        if (id === feed.id || level === null || start === null) return [id, level]
        return [id, from === null ? null : Math.min(48, Math.round((from + level - start) * 10) / 10)]
      })
    )
  }
  function preview(ids: readonly string[], feed: Feed, level: number | null): void {
    const to = levels(ids, feed, level)
    store.preview('feed', [...ids], row => ({ levelDb: to.get(row.id as string) }))
  }
  /** @param typed a level that was written counts for all of them */
  function setLevel(ids: readonly string[], feed: Feed, level: number | null, typed: boolean): void {
    if (typed || ids.length === 1) return void store.apply('setFeeds', { ids, fields: { levelDb: level } })
    const to = levels(ids, feed, level)
    store.apply('several', {
      label: `Move ${ids.length} levels`,
      edits: ids.map(id => ({ verb: 'setFeeds', args: { ids: [id], fields: { levelDb: to.get(id) } } }))
    })
  }
  return { sameOf, preview, setLevel }
})
