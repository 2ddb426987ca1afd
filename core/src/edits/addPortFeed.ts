import { z } from 'zod'
import { TAPS } from '../session/rows'
import { defineEdit, need, put } from './edit'

/** A channel to interface outputs, or interface inputs to a channel. */
export const addPortFeed = defineEdit({
  verb: 'addPortFeed',
  args: z.object({
    feedId: z.string(),
    channel: z.string(),
    ports: z.array(z.string()).min(1),
    direction: z.enum(['out', 'in']),
    tap: z.enum(TAPS).default('post'),
    levelDb: z.number().nullable().default(0)
  }),
  label: (s, a) =>
    `“${s.channel[a.channel]?.name}” ${a.direction === 'out' ? 'to' : 'from'} ${a.ports.map(p => s.port[p]?.name).join(', ')}`,
  apply(draft, { feedId, channel, ports, direction, tap, levelDb }) {
    need(draft, 'channel', channel)
    for (const p of ports) need(draft, 'port', p)
    put(
      draft,
      'feed',
      direction === 'out'
        ? { id: feedId, kind: 'port', from: channel, ports, tap, levelDb }
        : { id: feedId, kind: 'input', to: channel, ports, levelDb }
    )
  }
})
