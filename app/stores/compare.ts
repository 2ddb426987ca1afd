// Several ways in which something can sound, heard one after the other at equal loudness: only the louder ones are
// lowered. A slot or a chain of them with and without, takes of a track with its live path and its reference, presets
// of a unit. Blind if wanted: then which is which is told at the end.
import { defineStore } from 'pinia'
import { computed, shallowRef, watch } from 'vue'
import { capital } from '@nullet/core/invariants/words'
import type { EditMessage } from '@nullet/core/session/editMessage'
import type { Slot } from '@nullet/core/session/rows'
import { slotsOf, type Session } from '@nullet/core/session/session'
import { asItIs, presetSides, settingSide, trackSides, type Side } from '~/session/compareSides'
import { useAnalyst } from './analyst'
import { useNotices } from './notices'
import { useSession } from './session'
import { useTransport } from './transport'

interface Comparison {
  heard: string
  sides: Side[]
  lufs: number[]
  /** How far any two are apart, in dB. */
  apartDb: number[][]
  /** Rows whose state would give away which one is heard. */
  rows: string[]
  /** Others that would, beside those that are compared. */
  besides?: string[]
  /** What is left when it ends. */
  end(session: Session, side: Side | undefined): void
}
/** Quieter than this there is nothing to make equal. */
const SILENT_LUFS = -70
/** How sides are called where it is blind. */
export const BLIND = ['one', 'two', 'three', 'four', 'five', 'six', 'seven', 'eight', 'nine', 'ten'] as const

const shuffled = <T>(list: readonly T[]): T[] =>
  list
    .map(value => ({ value, at: Math.random() }))
    .sort((a, b) => a.at - b.at)
    .map(x => x.value)

export const useCompare = defineStore('compare', () => {
  const store = useSession(),
    analyst = useAnalyst(),
    transport = useTransport(),
    notices = useNotices()
  const now = shallowRef<Comparison | null>(null)
  const blind = shallowRef(false)
  /** Which side stands at each place: mixed up where it is blind. */
  const places = shallowRef<number[]>([])
  const side = computed(() => (store.session && now.value?.sides.findIndex(s => s.isHeard(store.session!))) ?? -1)
  /** The sides as they are offered. */
  const offered = computed(() =>
    places.value.map((at, place) => ({
      word: blind.value ? BLIND[place]! : now.value!.sides[at]!.word,
      lufs: now.value!.lufs[at]!,
      /** From the one that is heard, in dB of the mix; −∞: the same samples. */
      apartDb: now.value!.apartDb[side.value]?.[at] ?? null,
      on: at === side.value
    }))
  )
  const hides = (row: string) =>
    blind.value && [...(now.value?.rows ?? []), ...(now.value?.besides ?? [])].includes(row)
  const isOf = (rows: readonly string[]) => now.value !== null && now.value.rows.join() === rows.join()
  /** By how many dB the one that is heard is lowered. */
  const trimDb = computed(() => {
    const loud = now.value?.lufs ?? [],
      mine = loud[side.value]
    if (mine === undefined || loud.some(l => l < SILENT_LUFS)) return 0
    return Math.min(0, Math.min(...loud) - mine)
  })

  const carryOut = ({ verb, args }: EditMessage, undoable = false) => store.apply(verb, args, { undoable })

  async function begin(comparison: Omit<Comparison, 'lufs' | 'apartDb' | 'heard'>): Promise<void> {
    const heard = analyst.heard
    if (!heard) return
    end()
    const edits = comparison.sides.map(s => s.edit)
    const answer = await analyst.ask({ kind: 'sides', heard, range: analyst.range, edits })
    if (!answer) return
    places.value = comparison.sides.map((_, i) => i)
    now.value = { ...comparison, heard, lufs: answer.lufs, apartDb: answer.apartDb }
    if (side.value < 0) carryOut(edits[0]!)
  }

  function beginSlots(slots: string[]): Promise<void> {
    const edit = (label: string, ids: readonly string[], state: (id: string) => Slot['state']): EditMessage => ({
      verb: 'several',
      args: { label, edits: ids.map(id => ({ verb: 'setSlot', args: { id, fields: { state: state(id) } } })) }
    })
    const before = new Map(slots.map(id => [id, store.session!.slot[id]!.state]))
    const isOn = (s: Session) => s.slot[slots[0]!]?.state === 'on'
    return begin({
      rows: slots,
      sides: [
        { word: 'with it', edit: edit('Compare: with', slots, () => 'on'), isHeard: isOn },
        { word: 'without it', edit: edit('Compare: without', slots, () => 'bypassed'), isHeard: s => !isOn(s) }
      ],
      end(session) {
        const moved = slots.filter(id => session.slot[id] && session.slot[id].state !== before.get(id))
        if (moved.length) carryOut(edit('Compare: as before', moved, id => before.get(id)!))
      }
    })
  }
  /** All slots of a channel that are on. */
  function beginChain(channel: string): Promise<void> {
    const slots = slotsOf(store.session!, channel)
      .filter(s => s.state === 'on')
      .map(s => s.id)
    if (slots.length) return beginSlots(slots)
    notices.tell('No slot is on here: there is nothing to compare.')
    return Promise.resolve()
  }

  /** Sides of which the one that is heard last stays. What was tried is no step; what is kept is one. */
  function beginKeeping(
    row: string,
    sides: Side[],
    before: Side,
    lacks: string,
    besides: string[] = []
  ): Promise<void> {
    if (sides.length < 2) {
      notices.tell(lacks)
      return Promise.resolve()
    }
    return begin({
      rows: [row],
      besides,
      sides: sides.slice(0, BLIND.length),
      end(s, chosen) {
        if (!chosen || before.isHeard(s)) return
        carryOut(before.edit)
        carryOut(chosen.edit, true)
      }
    })
  }

  /**
   * The takes of a track; live, what it was printed from or what comes in from the rig; the monitor output of the unit
   * it comes from; and its reference in its place.
   */
  function beginTakes(channel: string): Promise<void> {
    const session = store.session!,
      { name, reference } = session.channel[channel]!
    const lacks = `“${name}” has nothing to compare: there is one take of it.`
    const before = asItIs(session, channel)
    return beginKeeping(channel, trackSides(session, channel), before, lacks, reference ? [reference] : [])
  }

  /** The presets of a unit, and how it stands now. */
  function beginPresets(id: string): Promise<void> {
    const session = store.session!
    const lacks = `${session.unit[id]!.name} has no presets to compare: keep its settings under a name first.`
    return beginKeeping(id, presetSides(session, id), settingSide(session, id, 'as it was', {}), lacks)
  }

  /** Mixes them up anew. */
  function setBlind(on: boolean): void {
    blind.value = on
    const plain = now.value?.sides.map((_, i) => i) ?? []
    places.value = on ? shuffled(plain) : plain
  }
  function hear(place: number): void {
    const chosen = now.value?.sides[places.value[place] ?? -1]
    if (chosen && store.session && !chosen.isHeard(store.session)) carryOut(chosen.edit)
  }
  function end(): void {
    const it = now.value
    if (!it) return
    const chosen = it.sides[side.value]
    if (blind.value) {
      const said = places.value.map(
        (at, place) => `“${place ? BLIND[place] : capital(BLIND[0])}” was ${it.sides[at]!.word}`
      )
      notices.tell(`${said.join(', ')}.`)
    }
    now.value = null
    setBlind(false)
    transport.setTrims([])
    if (store.session) it.end(store.session, chosen)
  }

  watch([now, side], () => {
    if (now.value) transport.setTrims([[now.value.heard, trimDb.value]])
  })
  watch(
    () => store.id,
    () => {
      now.value = null
      blind.value = false
    }
  )

  return {
    now,
    blind,
    offered,
    side,
    trimDb,
    hides,
    isOf,
    beginSlots,
    beginChain,
    beginTakes,
    beginPresets,
    setBlind,
    hear,
    end
  }
})
