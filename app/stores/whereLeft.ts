// Where one left a session, in this browser: view, selection, rail, scroll, the stretch of time that was seen.
import { defineStore } from 'pinia'
import { watch } from 'vue'
import { z } from 'zod'
import { rows } from '@nullet/core/session/session'
import { useMovement } from './movement'
import { useSelection } from './selection'
import { useSession } from './session'
import { useShell } from './shell'

const Left = z
  .object({
    view: z.enum(['sources', 'network', 'rig', 'passes']),
    networkAs: z.enum(['map', 'crosspoints', 'cost']),
    passesAs: z.enum(['prints', 'time']),
    selected: z.array(z.string()).max(500),
    railOf: z.string().nullable(),
    seen: z.object({ from: z.number(), to: z.number() }),
    scroll: z.record(z.string(), z.tuple([z.number(), z.number()]))
  })
  .partial()
type Left = z.infer<typeof Left>
export type View = NonNullable<Left['view']>

/** A hand that scrolls is written down when it rests. */
const REST_MS = 250
const key = (session: string) => `nullet left ${session}`

export function leftAt(session: string): Left {
  try {
    return Left.parse(JSON.parse(localStorage.getItem(key(session)) ?? '{}'))
  } catch {
    return {}
  }
}

export const useWhereLeft = defineStore('where left', () => {
  const store = useSession(),
    selection = useSelection(),
    shell = useShell(),
    movement = useMovement()
  let left: Left = {},
    of = '',
    resting: ReturnType<typeof setTimeout> | undefined

  /** A session was opened. @returns where it goes on, if the address does not say */
  function begin(session: string): { view: View; selected: string[] } {
    of = session
    left = leftAt(session)
    shell.networkAs = left.networkAs ?? 'map'
    shell.passesAs = left.passesAs ?? 'prints'
    const s = store.session!
    shell.railOf = left.railOf && s.channel[left.railOf] ? left.railOf : null
    if (left.seen) movement.view = left.seen
    const begun = rows(s, 'channel').some(c => c.kind === 'track')
    return {
      view: left.view ?? (begun ? 'network' : 'sources'),
      selected: (left.selected ?? []).filter(id => s.channel[id])
    }
  }
  function note(fields: Left): void {
    if (!store.session || of !== store.id) return
    left = { ...left, ...fields }
    clearTimeout(resting)
    resting = setTimeout(() => localStorage.setItem(key(of), JSON.stringify(left)), REST_MS)
  }
  /** Scrolls an element to where it was, and remembers where it goes from now on. */
  function keepScroll(name: string, el: HTMLElement): void {
    const [x, y] = left.scroll?.[name] ?? [0, 0]
    if (x || y) el.scrollTo(x, y)
    // Captured: asked before others have changed the page for it, which would be laid out for the answer.
    el.addEventListener('scroll', () => note({ scroll: { ...left.scroll, [name]: [el.scrollLeft, el.scrollTop] } }), {
      passive: true,
      capture: true
    })
  }
  watch(
    () => [shell.networkAs, shell.passesAs, shell.railOf, selection.list, movement.view] as const,
    ([networkAs, passesAs, railOf, list, seen]) =>
      note({ networkAs, passesAs, railOf, selected: list.slice(0, 500), seen })
  )
  return { begin, note, keepScroll }
})
