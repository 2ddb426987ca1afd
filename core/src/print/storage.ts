// What audio a session keeps: what each piece is for, how much room it takes, and what may go first.
import { printFile, type PrintItem } from './printRows'
import { isInHeardTake, mediaInUse, rows, type Session } from '../session/session'
import type { Clip, Row } from '../session/rows'
import type { EditMessage } from '../session/editMessage'

type Medium = Row<'medium'>

/** What a piece of audio is for, from what is needed most to what may go first. */
export const USES = ['recorded', 'heard', 'parked', 'take', 'unused'] as const
export type Use = (typeof USES)[number]

export interface HeldAudio {
  medium: Medium
  /** 32-bit float, as it is stored. */
  bytes: number
  use: Use
  /** Names of the tracks that play it. */
  tracks: string[]
  /** When it was printed; empty where it was not. */
  printedAt: string
  /** Unheard takes that play it. */
  takes: string[]
}

export const bytesOf = ({ legs, frames }: Pick<Medium, 'legs' | 'frames'>): number => legs * frames * 4

/** What a print of so many frames takes at most: what comes back, or what its source has. */
export const printBytes = (
  session: Session,
  { source, through }: Pick<PrintItem, 'source' | 'through'>,
  frames: number
): number => bytesOf({ legs: through?.inPorts.length ?? session.channel[source]?.layout.length ?? 1, frames })

/** All audio of a session, the largest first. What was brought in is never what may go: it cannot be printed again. */
export function heldAudio(session: Session): HeldAudio[] {
  const prints = new Map(rows(session, 'print').flatMap(p => (p.clip ? [[p.clip, p] as const] : [])))
  const printed = new Set(rows(session, 'print').map(p => session.clip[p.clip ?? '']?.medium))
  const clipsOf = new Map<string, Clip[]>()
  for (const clip of rows(session, 'clip')) {
    const list = clipsOf.get(clip.medium)
    if (list) list.push(clip)
    else clipsOf.set(clip.medium, [clip])
  }
  /** What a print played before bars of it were run again is called as the print is. */
  const files = new Set(rows(session, 'print').map(p => printFile(p.id)))
  const elsewhere = mediaInUse({ ...session, clip: {} })
  return rows(session, 'medium')
    .map((medium): HeldAudio => {
      const clips = clipsOf.get(medium.id) ?? []
      const made = clips.flatMap(c => prints.get(c.id) ?? [])
      const isPrint = printed.has(medium.id) || (!clips.length && files.has(medium.file))
      const heard = clips.filter(c => isInHeardTake(session, c))
      const use =
        !isPrint || elsewhere.has(medium.id)
          ? 'recorded'
          : !clips.length
            ? 'unused'
            : !heard.length
              ? 'take'
              : heard.every(c => session.channel[c.channel]?.parked)
                ? 'parked'
                : 'heard'
      return {
        medium,
        bytes: bytesOf(medium),
        use,
        tracks: [...new Set(clips.flatMap(c => session.channel[c.channel]?.name ?? []))],
        printedAt:
          made
            .map(p => p.printedAt)
            .toSorted()
            .at(-1) ?? '',
        takes: [...new Set(clips.flatMap(c => (c.take !== null && !isInHeardTake(session, c) ? [c.take] : [])))]
      }
    })
    .toSorted((a, b) => b.bytes - a.bytes)
}

const MAY_GO: readonly Use[] = ['unused', 'take']

/** Prints alone, each piece of audio once. */
export const printedBytes = (held: readonly HeldAudio[]): number => {
  const seen = new Map(
    held.filter(h => h.use !== 'recorded').map(h => [`${h.medium.sha256}/${h.medium.legs}`, h.bytes])
  )
  return [...seen.values()].reduce((sum, n) => sum + n, 0)
}

/**
 * What goes so that prints take no more than a budget: what nothing plays before takes that are not heard, each from
 * the oldest on; takes that are worth keeping never.
 * @param budget bytes · @returns what goes; less than enough where no more may go
 */
export function toGo(session: Session, held: readonly HeldAudio[], budget: number): HeldAudio[] {
  const order = held
    .filter(h => MAY_GO.includes(h.use) && h.takes.every(t => session.take[t]?.rating !== 'best'))
    .toSorted((a, b) => MAY_GO.indexOf(a.use) - MAY_GO.indexOf(b.use) || a.printedAt.localeCompare(b.printedAt))
  const out: HeldAudio[] = []
  let left = held
  for (const h of order) {
    if (printedBytes(left) <= budget) break
    out.push(h)
    left = left.filter(o => o !== h)
  }
  return out
}

/** Takes go with what they play; one step. */
export function goEdit(session: Session, gone: readonly HeldAudio[]): EditMessage {
  const takes = [...new Set(gone.flatMap(h => h.takes))]
  // Another piece of the same take goes with it only where nothing else plays it.
  const clips = rows(session, 'clip').filter(c => c.take === null || !takes.includes(c.take))
  const ids = gone.map(h => h.medium.id).filter(id => !clips.some(c => c.medium === id))
  const label =
    gone.length === 1 ? `Remove “${gone[0]!.medium.name}”` : `Remove ${gone.length} prints that are not heard`
  return {
    verb: 'several',
    args: {
      label,
      edits: [
        ...(takes.length ? [{ verb: 'removeTakes', args: { ids: takes } }] : []),
        ...(ids.length ? [{ verb: 'removeMedia', args: { ids } }] : [])
      ]
    }
  }
}
