// Takes that came as files of their own: tracks whose names differ in a number after “take” alone.
import { byOrder, rows, type Session } from '../session/session'

export interface Stack {
  /** What all are called without their number. */
  name: string
  /** In the order of their numbers. */
  tracks: { track: string; number: number }[]
}

/** “Vox take 2”, “vox_tk02”, “Vox (Take 2)”, “Kora-T3”. */
const NUMBERED = /^(.*?)[\s._\-([]*\b(?:take|tk|t)[\s._-]*0*(\d{1,3})[)\]]?$/iu

/** The name without its take, and which it was; null where it says none. */
export function takeNumber(name: string): { name: string; number: number } | null {
  const found = NUMBERED.exec(name.replaceAll('_', ' ').trim())
  const base = found?.[1]?.replace(/[\s.\-([]+$/u, '')
  return found && base ? { name: base, number: Number(found[2]) } : null
}

/** Why tracks cannot be takes of one, in a sentence; null where they can. Edits and offers ask the same. */
export function mayStack(session: Session, onto: string, others: readonly string[]): string | null {
  const first = session.channel[onto]
  const all = [onto, ...others].map(id => session.channel[id])
  if (!first || all.some(c => !c)) return 'one of the tracks is not in this session any more'
  if (new Set([onto, ...others]).size < all.length) return `“${first.name}” cannot be a take of itself`
  for (const c of all) {
    if (c!.kind !== 'track') return `“${c!.name}” is a bus`
    if (c!.layout.length !== first.layout.length)
      return `“${c!.name}” has ${c!.layout.length} legs and “${first.name}” ${first.layout.length}`
  }
  if (rows(session, 'phrase').some(p => p.channel === onto)) return `“${first.name}” plays notes`
  for (const id of others) {
    const { name } = session.channel[id]!
    if (!rows(session, 'clip').some(c => c.channel === id)) return `“${name}” has no audio`
    if (rows(session, 'phrase').some(p => p.channel === id)) return `“${name}” plays notes`
    if (rows(session, 'take').some(t => t.channel === id)) return `“${name}” has takes of its own`
    if (rows(session, 'print').some(p => p.channel === id || p.source === id)) return `“${name}” has a print`
    if (rows(session, 'slot').some(s => s.channel === id)) return `“${name}” has processors of its own`
    if (rows(session, 'envelope').some(e => e.channel === id)) return `“${name}” has movement of its own`
    if (rows(session, 'feed').some(f => f.from === id && f.kind !== 'main'))
      return `“${name}” has sends, keys or ports of its own`
    if (rows(session, 'feed').some(f => f.to === id)) return `“${name}” listens to a port`
  }
  return null
}

/** Takes of one source among tracks, where nothing stands against stacking them. */
export function stacksIn(session: Session): Stack[] {
  const found = new Map<string, Stack>()
  for (const track of rows(session, 'channel')
    .filter(c => c.kind === 'track')
    .sort(byOrder)) {
    const said = takeNumber(track.name)
    if (!said) continue
    const key = `${said.name.toLowerCase()}/${track.layout.length}`
    const stack = found.get(key) ?? { name: said.name, tracks: [] }
    stack.tracks.push({ track: track.id, number: said.number })
    found.set(key, stack)
  }
  return [...found.values()]
    .map(s => ({ ...s, tracks: s.tracks.sort((a, b) => a.number - b.number) }))
    .filter(({ tracks: [first, ...others] }) => {
      const ids = others.map(o => o.track)
      return first && ids.length > 0 && mayStack(session, first.track, ids) === null
    })
}
