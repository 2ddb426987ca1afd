// An envelope moves something that can move, alone, within its range.
import { beyond, movingOf, targetWords, targetName, targetOf } from '../movement/targets'
import type { Envelope, EnvelopePoint } from '../session/rows'
import { byId, rows, type Session } from '../session/session'
import { defineRule, type Breach } from './rule'

interface Fault {
  message: string
  mended: Envelope | null
  note: string
}

function faultOf(session: Session, envelope: Envelope, taken: Set<string>): Fault | null {
  const target = targetOf(envelope),
    moving = movingOf(session, target),
    name = `The envelope “${envelope.id}”`
  if (!moving)
    return {
      message: `${name} moves “${target.field}”, which cannot move`,
      mended: null,
      note: `${name} moves “${target.field}”, which cannot move, and was left out`
    }
  if (taken.has(targetName(target)))
    return {
      message: `${name} moves what another one moves already`,
      mended: null,
      note: `${name} moves what another one moves already, and was left out`
    }
  taken.add(targetName(target))
  const out = envelope.points.filter(p => beyond(moving, p))
  if (!out.length) return null
  const range = `${moving.min} to ${moving.max}${moving.unit && ` ${moving.unit}`}`
  const points = envelope.points.map(([frame, v]): EnvelopePoint => [
    frame,
    v === null ? (moving.law === 'db' ? null : moving.min) : Math.max(moving.min, Math.min(moving.max, v))
  ])
  return {
    message:
      out.length === 1
        ? `${targetWords(session, target)} cannot be ${out[0]![1] ?? '−∞'} at frame ${out[0]![0]}; it takes ${range}`
        : `${targetWords(session, target)}: ${out.length} points are beyond ${range}`,
    mended: { ...envelope, points },
    note: `${name}: ${out.length === 1 ? 'a point was' : `${out.length} points were`} beyond ${range} and ${out.length === 1 ? 'is' : 'are'} at the edge now`
  }
}

function* faults(session: Session): Iterable<{ envelope: Envelope; fault: Fault }> {
  const taken = new Set<string>()
  for (const envelope of rows(session, 'envelope').sort(byId)) {
    const fault = faultOf(session, envelope, taken)
    if (fault) yield { envelope, fault }
  }
}

export const envelopes = defineRule({
  says: 'an envelope moves something that can move, alone and within its range',
  gentle: true,
  depends: { envelope: ['channel', 'feed', 'slot', 'field', 'points'], slot: ['processor'], feed: ['kind'] },
  *find({ session }) {
    for (const { envelope, fault } of faults(session))
      yield { kind: 'badArguments', about: [envelope.id], message: fault.message } satisfies Breach
  },
  mend: session =>
    [...faults(session)].map(({ envelope, fault }) => {
      if (fault.mended) session.envelope[envelope.id] = fault.mended
      else delete session.envelope[envelope.id]
      return fault.note
    })
})
