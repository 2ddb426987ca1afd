import { z } from 'zod'
import type { Law } from '../movement/envelope'
import { channelOf, movingOf, targetLabel, targetName, targetOf, type Moving, type Target } from '../movement/targets'
import { Refusal } from '../refusal'
import { EnvelopeRow, Point } from '../session/rows'
import { rows, type Session } from '../session/session'
import { defineEdit } from './edit'

export const TargetArgs = z.object({ owner: z.enum(['channel', 'feed', 'slot']), row: z.string(), field: z.string() })

export const envelopeOn = (session: Session, target: Target) => rows(session, 'envelope').find(e => targetName(targetOf(e)) === targetName(target))

/** A point's value that the target cannot take, or null. −∞ is for levels alone. */
export const beyond = ({ min, max, law }: Pick<Moving, 'min' | 'max'> & { law: Law }, [, value]: Point) =>
  value === null ? law !== 'db' : value < min - 1e-9 || value > max + 1e-9

/** Points of an envelope, or whether it is on. A target has one envelope: `id` counts where there is none yet. */
export const setEnvelope = defineEdit({
  verb: 'setEnvelope',
  args: z.object({ id: z.string(), target: TargetArgs, points: z.array(Point).optional(), on: z.boolean().optional() }),
  label: (s, { target }) => `${targetLabel(s, target)} of “${s.channel[channelOf(s, target) ?? '']?.name ?? target.row}”`,
  apply(draft, { id, target, points, on }) {
    const moving = movingOf(draft, target)
    if (!moving) throw new Refusal('badArguments', `“${target.field}” of the ${target.owner} “${target.row}” cannot follow an envelope`, [target.row])
    const wrong = points?.find(p => beyond(moving, p))
    if (wrong) throw new Refusal('badArguments', `${moving.label} cannot be ${wrong[1] ?? '−∞'} at frame ${wrong[0]}; it takes ${moving.min} to ${moving.max}${moving.unit ? ` ${moving.unit}` : ''}`, [target.row])
    const known = envelopeOn(draft, target)
    const row = EnvelopeRow.parse({ ...known ?? { id, [target.owner]: target.row, field: target.field }, ...points && { points }, ...on !== undefined && { on } })
    draft.envelope[row.id] = row
  }
})
