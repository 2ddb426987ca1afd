import { z } from 'zod'
import { peekRows } from '../session/draft'
import { rowOf, type Session } from '../session/session'
import { addMainFeed } from './addMainFeed'
import { defineEdit, need, put } from './edit'
import { routeMain } from './setMainFeed'

const Cell = z.object({
  from: z.string(),
  /** A bus, a key input or a port out. */
  to: z.union([z.object({ bus: z.string() }), z.object({ slot: z.string() }), z.object({ port: z.string() })]),
  /** `also`: one more main feed beside those that are there. */
  write: z.enum(['main', 'also', 'post', 'pre', 'none']),
  feedId: z.string()
})
type Cell = z.output<typeof Cell>

const NEW_SEND_DB = -12

/** Cells of the grid, written in one gesture. A send that is there already only changes its tap. */
export const writeCrosspoints = defineEdit({
  verb: 'writeCrosspoints',
  args: z.object({ cells: z.array(Cell).min(1) }),
  label: (_, { cells }) =>
    `${cells[0]?.write === 'none' ? 'Remove' : 'Write'} ${cells.length === 1 ? 'a crosspoint' : `${cells.length} crosspoints`}`,
  apply(draft, { cells }) {
    for (const cell of cells) {
      need(draft, 'channel', cell.from)
      write(draft, cell)
    }
  }
})

function write(draft: Session, { from, to, write: kind, feedId }: Cell): void {
  const own = peekRows(draft, 'feed').filter(f => f.from === from)
  const remove = (list: { id: string }[]) =>
    list.forEach(f => {
      delete draft.feed[f.id]
    })
  if ('slot' in to) {
    need(draft, 'slot', to.slot)
    const there = own.filter(f => f.slot === to.slot)
    if (kind === 'none') remove(there)
    else if (!there.length) put(draft, 'feed', { id: feedId, kind: 'key', from, slot: to.slot, tap: 'pre' })
  } else if ('port' in to) {
    need(draft, 'port', to.port)
    const there = own.filter(f => f.kind === 'port' && f.ports.includes(to.port))
    if (kind === 'none') remove(there)
    else if (!there.length)
      put(draft, 'feed', { id: feedId, kind: 'port', from, ports: [to.port], tap: kind === 'pre' ? 'pre' : 'post' })
  } else {
    const sends = own.filter(f => f.kind === 'send' && f.to === to.bus)
    if (kind === 'none') remove(own.filter(f => f.to === to.bus))
    else if (kind === 'main') routeMain(draft, [from], to.bus, [feedId])
    else if (kind === 'also') addMainFeed.apply(draft, { ids: [from], to: to.bus, feedIds: [feedId] })
    else if (sends.length)
      sends.forEach(f => {
        rowOf(draft, 'feed', f.id).tap = kind
      })
    else {
      need(draft, 'channel', to.bus)
      put(draft, 'feed', { id: feedId, kind: 'send', from, to: to.bus, tap: kind, levelDb: NEW_SEND_DB })
    }
  }
}
