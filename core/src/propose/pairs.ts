// Pairs: mono tracks whose names differ in a side alone, which can be one stereo track.
import { rows, byOrder, type Session } from '../session/session'

export interface Pair {
  left: string
  right: string
  /** What both are called without their side. */ name: string
  /** Frames of both; what differs is said before they are joined. */ frames: [number, number]
}

/** How sides are written, left then right. */
const SIDES: readonly (readonly [string, string])[] = [
  ['l', 'r'],
  ['left', 'right'],
  ['lf', 'rt'],
  ['lft', 'rgt'],
  ['lt', 'rt']
]
const leftWord = new Map(SIDES.map(([l, r]) => [r, l]))

/** A name in parts: what separates them, and “KickL”, “Gtr1L” and “OHL” in two. */
const partsOf = (name: string): string[] =>
  name.split(/([^\p{L}\d]+|(?<=[\p{Ll}\d])(?=[LR](?![\p{L}])|Left|Right)|(?<=^\p{Lu}{2})(?=[LR]$))/u).filter(Boolean)

/** The name with its side left out, and which it was; null where it has none. */
export function sideOf(name: string): { key: string; left: boolean; name: string; word: string } | null {
  const parts = partsOf(name)
  for (let i = parts.length - 1; i >= 0; i--) {
    const word = parts[i]?.toLowerCase() ?? ''
    const left = SIDES.some(([l]) => l === word)
    if (!left && !leftWord.has(word)) continue
    const rest = [...parts.slice(0, i), '|', ...parts.slice(i + 1)]
    return {
      key: rest.join('').toLowerCase(),
      left,
      name: tidy(parts.slice(0, i).join(''), parts.slice(i + 1).join('')),
      word: left ? word : (leftWord.get(word) ?? word)
    }
  }
  return null
}

/** Both ends without what only separated the side from them. */
function tidy(before: string, after: string): string {
  const head = before.replace(/[\s._\-([]+$/u, ''),
    tail = after.replace(/^[)\]]/u, '')
  return (head && tail.trim() ? head + (/^[\s._\-(]/u.test(tail) ? tail : ` ${tail}`) : head || tail)
    .replace(/^[\s._\-)\]]+/u, '')
    .trim()
}

/** Why two tracks cannot be the legs of one, in a sentence; null where they can. Edits and offers ask the same. */
export function mayJoin(session: Session, left: string, right: string): string | null {
  const [l, r] = [session.channel[left], session.channel[right]]
  if (!l || !r) return 'one of the tracks is not in this session any more'
  if (left === right) return `“${l.name}” cannot be both sides`
  for (const c of [l, r]) {
    if (c.kind !== 'track') return `“${c.name}” is a bus`
    if (c.layout.length !== 1) return `“${c.name}” is not mono`
  }
  const own = (table: 'phrase' | 'print' | 'envelope' | 'take', id: string) =>
    rows(session, table).some(x => x.channel === id || ('source' in x && x.source === id))
  for (const c of [l, r]) {
    if (own('phrase', c.id)) return `“${c.name}” plays notes`
    if (own('take', c.id)) return `“${c.name}” has takes`
    if (own('print', c.id)) return `“${c.name}” has a print`
  }
  // The left one keeps what it has; of the right one only the audio stays.
  if (rows(session, 'slot').some(s => s.channel === right)) return `“${r.name}” has processors of its own`
  if (own('envelope', right)) return `“${r.name}” has movement of its own`
  if (rows(session, 'feed').some(f => (f.from === right && f.kind !== 'main') || f.to === right))
    return `“${r.name}” has sends, keys or ports of its own`
  const goals = (id: string) =>
    rows(session, 'feed')
      .filter(f => f.from === id && f.kind === 'main')
      .map(f => f.to)
      .sort()
      .join()
  if (l.lowCutHz !== r.lowCutHz || l.highCutHz !== r.highCutHz) return 'their cuts differ'
  if (goals(left) !== goals(right)) return `“${l.name}” and “${r.name}” go to different places`
  return null
}

/** Pairs among mono tracks that nothing stands against joining, in the order of the session. */
export function pairsIn(session: Session): Pair[] {
  const tracks = rows(session, 'channel')
    .filter(c => c.kind === 'track' && c.layout.length === 1)
    .sort(byOrder)
  const waiting = new Map<string, string[]>()
  const found: Pair[] = []
  const frames = (id: string) =>
    rows(session, 'clip')
      .filter(c => c.channel === id)
      .reduce((end, c) => {
        const length = c.frames ?? (session.medium[c.medium]?.frames ?? 0) - c.offsetFrames
        return Math.max(end, c.startFrame + length)
      }, 0)
  for (const track of tracks) {
    const side = sideOf(track.name)
    if (!side) continue
    const mine = `${side.key}/${side.word}/${side.left}`,
      other = `${side.key}/${side.word}/${!side.left}`
    const [partner, ...more] = waiting.get(other) ?? []
    if (partner === undefined) {
      waiting.set(mine, [...(waiting.get(mine) ?? []), track.id])
      continue
    }
    waiting.set(other, more)
    const [left, right] = side.left ? [track.id, partner] : [partner, track.id]
    if (!mayJoin(session, left, right))
      found.push({ left, right, name: side.name || 'Stereo', frames: [frames(left), frames(right)] })
  }
  return found
}
