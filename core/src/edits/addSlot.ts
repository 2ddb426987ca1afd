import { z } from 'zod'
import { checkParams } from '../processors/processor'
import { LOOP, PROCESSORS, slotLabel } from '../processors/table'
import { Refusal } from '../refusal'
import { Params } from '../session/rows'
import { makeRow, rows, type Session } from '../session/session'
import { defineEdit, need } from './edit'

/** A processor or a loop into a channel's order. */
export const addSlot = defineEdit({
  verb: 'addSlot',
  args: z.object({
    id: z.string(), channel: z.string(), processor: z.string(), params: Params.default({}), order: z.string(),
    afterFader: z.boolean().default(false), loop: z.string().nullable().default(null)
  }),
  label: (s, a) => `${a.loop ? `Loop “${s.loop[a.loop]?.name}”` : slotLabel(a.processor)} on “${s.channel[a.channel]?.name}”`,
  apply(draft, args) {
    need(draft, 'channel', args.channel)
    if (args.processor === LOOP) ownLoop(draft, args.loop, args.id)
    const processor = PROCESSORS[args.processor]
    if (processor) checkParams(processor.label, processor.parameters, args.params)
    draft.slot[args.id] = makeRow('slot', args)
  }
})

/** A loop can be in one place at a time, and so can a port. */
function ownLoop(draft: Session, id: string | null, slot: string): void {
  const loop = need(draft, 'loop', id ?? '')
  for (const other of rows(draft, 'slot')) {
    if (other.id === slot || other.processor !== LOOP || !other.loop) continue
    const held = draft.loop[other.loop]
    const shared = other.loop === loop.id ? loop.outPorts[0] : [...loop.outPorts, ...loop.inPorts].find(p => held.outPorts.includes(p) || held.inPorts.includes(p))
    if (shared === undefined && other.loop !== loop.id) continue
    const holder = draft.channel[other.channel].name
    throw new Refusal('portTaken', `“${held.name}” is in use on “${holder}”. A second use means another pass: print there first, or take it out.`,
      [loop.id, other.channel])
  }
}
