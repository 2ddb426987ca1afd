// What happens in the room while a pass runs: a unit that is switched off, a cable that is pulled, a port that goes.
import type { Fault } from '../session/rows'
import type { Session } from '../session/session'
import { jackName, standing } from './passJobs'
import type { PassJob } from './passPlan'

export const sidesIn = ({ claims }: PassJob): string[] => [...claims.keys()].filter(c => c.startsWith('side '))
export const portsIn = ({ claims }: PassJob): Set<string> =>
  new Set([...claims.keys()].flatMap(c => (c.startsWith('port ') ? [c.slice(5)] : [])))

/** Why nothing comes back for a print any more that did when its pass began, in a sentence; null where it does. */
export function lostSince(then: Session, now: Session, { claims, sets }: PassJob): string | null {
  if (now.session.session?.rig !== then.session.session?.rig) return 'another rig is worked in'
  for (const claim of claims.keys()) {
    const [kind, id = ''] = claim.split(' ')
    const port = kind === 'port' && then.port[id]
    if (port && !now.port[id]) return `“${port.name}” was taken out of the rig`
  }
  const before = standing(then),
    after = standing(now)
  for (const what of sets.keys()) {
    const [kind, id = ''] = what.split(' '),
      was = before.get(what)
    // What a person has patched for this pass by hand, the session does not know of.
    if (was === undefined || after.get(what) === was) continue
    const unit = then.unit[kind === 'into' ? (id.split('|')[1] ?? '') : id]
    if (unit && !now.unit[unit.id]) return `“${unit.name}” was taken out of the rig`
    if (kind === 'power' && was === 'on') return `“${unit?.name ?? id}” was switched off`
    if (kind === 'into') return `the cable into ${jackName(then, id)} was pulled`
  }
  return null
}

/** Units that were set otherwise meanwhile: a pass runs as it began. */
export function setSince(then: Session, now: Session, { sets }: PassJob): string[] {
  const before = standing(then),
    after = standing(now)
  const moved = [...sets.keys()].flatMap(what => {
    const [kind, id = ''] = what.split(' ')
    return kind === 'set' && after.has(what) && after.get(what) !== before.get(what) ? [now.unit[id]!.name] : []
  })
  return [...new Set(moved)]
}

/** What was said of each print, from which frame of source time on. */
export class Losses {
  private readonly said: { from: number; why: (string | null)[] }[] = []

  tell(from: number, why: (string | null)[]): void {
    const last = this.said.at(-1)?.why
    if (last?.every((w, i) => w === why[i])) return
    this.said.push({ from, why })
  }

  /** @param end frame behind the last · @returns the places at which the print in this place of the list is lost */
  of(print: number, end: number): Fault[] {
    const out: Fault[] = []
    this.said.forEach(({ from, why }, i) => {
      const until = Math.min(end, this.said[i + 1]?.from ?? end),
        last = out.at(-1)
      const what = why[print] ?? null
      if (what === null || until <= from) return
      if (last?.what === what && last.from + last.frames === from) last.frames += until - from
      else out.push({ kind: 'lost', from, frames: until - from, what, overDb: null })
    })
    return out
  }
}
