// A slot compared with itself bypassed, at equal loudness: only the louder of both is lowered. Blind if wanted: then which
// is which is told at the end.
import { defineStore } from 'pinia'
import { computed, shallowRef, watch } from 'vue'
import { useAnalyst } from './analyst'
import { useNotices } from './notices'
import { useSession } from './session'
import { useTransport } from './transport'

interface Pair { slot: string, heard: string, onLufs: number, offLufs: number }
/** Quieter than this there is nothing to make equal. */
const SILENT_LUFS = -70

export const useCompare = defineStore('compare', () => {
  const store = useSession(), analyst = useAnalyst(), transport = useTransport(), notices = useNotices()
  const pair = shallowRef<Pair | null>(null)
  const blind = shallowRef(false)
  /** Blind: does “one” stand for the slot being on? */
  const oneIsOn = shallowRef(true)
  /** What would give away which one is heard is not shown meanwhile. */
  const hides = (slot: string) => blind.value && pair.value?.slot === slot
  const isOn = computed(() => pair.value !== null && store.session?.slot[pair.value.slot]?.state === 'on')
  const hearsOne = computed(() => isOn.value === oneIsOn.value)
  /** By how many dB the one that is heard is lowered. */
  const trimDb = computed(() => {
    const p = pair.value
    if (!p || p.onLufs < SILENT_LUFS || p.offLufs < SILENT_LUFS) return 0
    return Math.min(0, isOn.value ? p.offLufs - p.onLufs : p.onLufs - p.offLufs)
  })

  const setState = (slot: string, on: boolean) => store.apply('setSlot', { id: slot, fields: { state: on ? 'on' : 'bypassed' } }, { undoable: false })

  async function begin(slot: string): Promise<void> {
    const heard = analyst.heard
    if (!heard) return
    end()
    if (store.session!.slot[slot]?.state !== 'on') setState(slot, true)
    const answer = await analyst.ask({ kind: 'pair', heard, range: analyst.range, edit: { verb: 'setSlot', args: { id: slot, fields: { state: 'bypassed' } } } })
    if (answer) pair.value = { slot, heard, onLufs: answer.lufs[0], offLufs: answer.lufs[1] }
  }

  /** Draws anew which one is which. */
  function setBlind(on: boolean): void {
    blind.value = on
    oneIsOn.value = on ? Math.random() < 0.5 : true
  }
  function hear(one: boolean): void { if (pair.value) setState(pair.value.slot, one === oneIsOn.value) }
  function end(): void {
    const p = pair.value
    if (!p) return
    if (blind.value) notices.tell(oneIsOn.value ? '“One” was with it, “two” without.' : '“One” was without it, “two” with.')
    pair.value = null
    setBlind(false)
    transport.setTrims([])
    if (store.session?.slot[p.slot]) setState(p.slot, true)
  }

  watch([pair, isOn], () => { if (pair.value) transport.setTrims([[pair.value.heard, trimDb.value]]) })
  watch(() => store.id, () => { pair.value = null; blind.value = false })

  return { pair, blind, hides, isOn, hearsOne, trimDb, oneIsOn, begin, setBlind, hear, end }
})
