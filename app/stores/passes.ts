// The passes that are planned: what is to be printed, in which passes, what was set for them. Kept in this browser, so
// that it is still there when the page is loaded again in the middle of the work.
import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'
import { z } from 'zod'
import { passCards, passJobs, standing } from '@nullet/core/print/passJobs'
import { mayComeFirst, planPasses, withFirst } from '@nullet/core/print/passPlan'
import { TAPS, Through } from '@nullet/core/session/rows'
import { printOrders, printsPlan, sameTap, type Planned, type WantedPrint, type WantedTap } from '~/session/printsPlan'
import { ALL, printedRange, rollOf, type Extent } from '~/session/extent'
import { newId } from './ids'
import { useJobs } from './jobs'
import { useSession } from './session'
import { useTransport } from './transport'

const Kept = z.object({
  wanted: z
    .array(
      z.object({
        print: z.string(),
        source: z.string(),
        tap: z.enum(TAPS),
        share: z.string().nullable(),
        through: Through.nullable(),
        name: z.string().optional(),
        place: z.enum(['take', 'over', 'beside']).optional()
      })
    )
    .max(1000),
  ticked: z.array(z.string()).max(5000),
  stands: z.record(z.string(), z.string())
})
const keyOf = (session: string) => `nullet passes ${session}`

export const usePasses = defineStore('passes', () => {
  const store = useSession(),
    transport = useTransport(),
    jobs = useJobs()
  const wanted = shallowRef<WantedPrint[]>([])
  /** Lines of the run card that are done, each with its pass. */
  const ticked = ref<string[]>([])

  /** What passes have left standing otherwise than the session says, until it is put back. */
  const stands = shallowRef<Record<string, string>>({})

  watch(
    () => store.id,
    id => {
      try {
        const kept = Kept.parse(JSON.parse(localStorage.getItem(keyOf(id)) ?? ''))
        wanted.value = kept.wanted
        ticked.value = kept.ticked
        stands.value = kept.stands
      } catch {
        wanted.value = []
        ticked.value = []
        stands.value = {}
      }
    },
    { immediate: true }
  )
  watch([wanted, ticked, stands], () => {
    if (!store.id) return
    const kept = { wanted: wanted.value, ticked: ticked.value, stands: stands.value }
    localStorage.setItem(keyOf(store.id), JSON.stringify(kept))
  })

  /** A print whose pass was asked to be the next. */
  const first = ref<string | null>(null)
  const planned = computed<Planned[]>(() => (store.session ? printsPlan(store.session, wanted.value) : []))
  /** Passes in order, with what has to be set; the reasons why some cannot be, by their print. */
  const plan = computed(() => {
    const session = store.session!
    const items = planned.value.map(p => ({ ...p, takesOver: p.place === 'over', take: takeOf(p) }))
    const { jobs: list, refused } = passJobs(session, items)
    const now = new Map([...standing(session), ...Object.entries(stands.value)])
    const found = planPasses(list, now)
    const next = found.passes.findIndex(pass => pass.some(i => items[i]!.print === first.value))
    const made = withFirst(found, list, now, next)
    const mayBeNext = made.passes.map((_, n) => n > 0 && mayComeFirst(made, list, n))
    const why = new Map(refused.flatMap((reason, i) => (reason ? [[items[i]!.print, reason] as const] : [])))
    return { ...made, ...passCards(session, items, list, made, now), mayBeNext, refused: why }
  })

  const takeOf = (p: Planned) =>
    p.place === 'take' ? { id: p.print, name: p.name, former: { id: p.print, name: p.name } } : null

  /** Each tap once; another way is another one. */
  function add(taps: readonly WantedTap[]): void {
    const fresh = taps.filter(
      t => !wanted.value.some(w => sameTap(w, t) && JSON.stringify(w.through) === JSON.stringify(t.through))
    )
    wanted.value = [...wanted.value, ...fresh.map(t => ({ ...t, print: newId() }))]
  }
  const only = (taps: readonly WantedTap[]) => {
    wanted.value = []
    add(taps)
  }
  const remove = (prints: readonly string[]) => {
    wanted.value = wanted.value.filter(w => !prints.includes(w.print))
  }
  function set(print: string, fields: Partial<Omit<WantedPrint, 'print'>>): void {
    wanted.value = wanted.value.map(w => (w.print === print ? { ...w, ...fields } : w))
  }
  /** The same once more, to be set differently: it becomes another take of the same track. */
  function tryAgain(print: string): void {
    const at = wanted.value.findIndex(w => w.print === print),
      one = wanted.value[at]
    if (!one) return
    const { name: _name, place: _place, ...rest } = one
    wanted.value = wanted.value.toSpliced(at + 1, 0, { ...structuredClone(rest), print: newId() })
  }

  /** Everything is back where it was. */
  function allBack(): void {
    stands.value = {}
    ticked.value = []
  }
  const isTicked = (line: string) => ticked.value.includes(line)
  function tick(line: string, on: boolean): void {
    ticked.value = on ? [...ticked.value, line] : ticked.value.filter(t => t !== line)
  }

  /** From where to where. */
  const extent = shallowRef<Extent>(ALL)
  const range = computed(() => printedRange(store.session!, extent.value, transport.repeat))

  /** @param passes by their places in the plan */
  async function run(passes: readonly number[]): Promise<void> {
    const chosen = passes.flatMap((pass, n) => plan.value.passes[pass]!.map(i => ({ p: planned.value[i]!, pass: n })))
    const orders = printOrders(
      store.session!,
      chosen.map(c => c.p.source)
    )
    const head = (print: string) => planned.value.find(p => p.print === print)
    const tracks = new Map<string, string>()
    const made = new Map<string, string>()
    const items = chosen.map(({ p, pass }, n) => {
      const group = p.with ?? p.print
      const known = p.onto && p.place === 'take' ? p.onto.track : tracks.get(group)
      const track = known ?? newId()
      tracks.set(group, track)
      const first = made.get(track)
      made.set(track, first ?? p.name)
      const isTake = known !== undefined
      return {
        ...{ source: p.source, tap: p.tap, share: p.share, through: p.through, pass, print: p.print, track },
        ...{ clip: newId(), medium: newId(), order: orders[n] },
        // Whichever of some tries comes first makes the track, by the name that was meant for it.
        name: isTake && p.onto ? `${p.onto.name}, ${p.name}` : isTake ? p.name : (head(group)?.name ?? p.name),
        takesOver: p.place === 'take' ? (p.onto?.takesOver ?? p.share === null) : p.place === 'over',
        take: isTake ? { id: newId(), name: p.name, former: { id: newId(), name: p.onto ? 'Take 1' : first! } } : null
      }
    })
    const args = {
      from: range.value.from,
      frames: range.value.frames,
      tail: range.value.tail,
      roll: rollOf(extent.value, transport.rate),
      seed: Math.floor(Math.random() * 2 ** 31),
      items
    }
    const label = items.length === 1 ? `Print of ${whatOf(chosen[0]!.p)}` : `Print of ${items.length} taps`
    const left = passes.flatMap(n => [...plan.value.changes[n]!])
    if (!(await jobs.start('print', label, args))) return
    stands.value = { ...stands.value, ...Object.fromEntries(left) }
    remove(items.map(i => i.print))
  }

  const nameOf = (id: string) => store.session?.channel[id]?.name ?? ''
  const whatOf = ({ source, share }: WantedTap): string =>
    share === null ? nameOf(source) : `${nameOf(share)}’s share of ${nameOf(source)}`

  return {
    wanted,
    first,
    planned,
    plan,
    ticked,
    extent,
    range,
    allBack,
    add,
    only,
    remove,
    set,
    tryAgain,
    isTicked,
    tick,
    run,
    whatOf
  }
})
