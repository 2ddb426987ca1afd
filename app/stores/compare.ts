// A slot, or all slots of a channel, compared with themselves bypassed, at equal loudness: only the louder of both is
// lowered. Blind if wanted: then which is which is told at the end.
import { defineStore } from 'pinia'
import { computed, shallowRef, watch } from 'vue'
import { slotsOf } from '@nullet/core/session/session'
import { useAnalyst } from './analyst'
import { useNotices } from './notices'
import { useSession } from './session'
import { useTransport } from './transport'

interface Pair {
  /** Those that are switched. */ slots: string[]
  heard: string
  onLufs: number
  offLufs: number
}
/** Quieter than this there is nothing to make equal. */
const SILENT_LUFS = -70

export const useCompare = defineStore('compare', () => {
  const store = useSession(),
    analyst = useAnalyst(),
    transport = useTransport(),
    notices = useNotices()
  const pair = shallowRef<Pair | null>(null)
  const blind = shallowRef(false)
  /** Blind: does “one” stand for the slot being on? */
  const oneIsOn = shallowRef(true)
  /** What would give away which one is heard is not shown meanwhile. */
  const hides = (slot: string) => blind.value && !!pair.value?.slots.includes(slot)
  const isOn = computed(() => pair.value !== null && store.session?.slot[pair.value.slots[0]!]?.state === 'on')
  const hearsOne = computed(() => isOn.value === oneIsOn.value)
  /** By how many dB the one that is heard is lowered. */
  const trimDb = computed(() => {
    const p = pair.value
    if (!p || p.onLufs < SILENT_LUFS || p.offLufs < SILENT_LUFS) return 0
    return Math.min(0, isOn.value ? p.offLufs - p.onLufs : p.onLufs - p.offLufs)
  })

  const edit = (slots: string[], on: boolean) => ({
    verb: 'several',
    args: {
      label: on ? 'Compare: with' : 'Compare: without',
      edits: slots.map(id => ({ verb: 'setSlot', args: { id, fields: { state: on ? 'on' : 'bypassed' } } }))
    }
  })
  const setState = (slots: string[], on: boolean) => store.apply('several', edit(slots, on).args, { undoable: false })

  /** All slots of a channel that are on. */
  function beginChain(channel: string): Promise<void> {
    const slots = slotsOf(store.session!, channel)
      .filter(s => s.state === 'on')
      .map(s => s.id)
    if (slots.length) return begin(slots)
    notices.tell('No slot is on here: there is nothing to compare.')
    return Promise.resolve()
  }

  async function begin(slots: string[]): Promise<void> {
    const heard = analyst.heard
    if (!heard) return
    end()
    if (slots.some(s => store.session!.slot[s]?.state !== 'on')) setState(slots, true)
    const answer = await analyst.ask({ kind: 'pair', heard, range: analyst.range, edit: edit(slots, false) })
    if (answer) pair.value = { slots, heard, onLufs: answer.lufs[0], offLufs: answer.lufs[1] }
  }

  /** Draws anew which one is which. */
  function setBlind(on: boolean): void {
    blind.value = on
    oneIsOn.value = on ? Math.random() < 0.5 : true
  }
  function hear(one: boolean): void {
    if (pair.value) setState(pair.value.slots, one === oneIsOn.value)
  }
  function end(): void {
    const p = pair.value
    if (!p) return
    if (blind.value)
      notices.tell(oneIsOn.value ? '“One” was with it, “two” without.' : '“One” was without it, “two” with.')
    pair.value = null
    setBlind(false)
    transport.setTrims([])
    const left = p.slots.filter(s => store.session?.slot[s])
    if (left.length) setState(left, true)
  }

  watch([pair, isOn], () => {
    if (pair.value) transport.setTrims([[pair.value.heard, trimDb.value]])
  })
  watch(
    () => store.id,
    () => {
      pair.value = null
      blind.value = false
    }
  )

  return { pair, blind, hides, isOn, hearsOne, trimDb, oneIsOn, begin, beginChain, setBlind, hear, end }
})
