// What a hand does to the rig, as edits.
import { isMonitor } from '@nullet/core/graph/sides'
import { UNITS } from '@nullet/core/rig/units'
import { byOrder, rows, type Session } from '@nullet/core/session/session'
import type { Row } from '@nullet/core/session/rows'
import { useAsk } from '~/stores/ask'
import { useGestures } from '~/stores/gestures'
import { newId, orderAtEnd } from '~/stores/ids'
import { useNotices } from '~/stores/notices'
import { useSession } from '~/stores/session'

/** Ports out that lead straight into a unit, and ports in that it leads to, by jack. */
export function portsAround(session: Session, unit: string): { outs: string[]; ins: string[] } {
  const cables = rows(session, 'cable')
  return {
    outs: cables
      .filter(c => c.toUnit === unit)
      .sort((a, b) => a.toJack - b.toJack)
      .flatMap(c => c.fromPort ?? []),
    ins: cables
      .filter(c => c.fromUnit === unit && !isMonitor(session, c))
      .sort((a, b) => a.fromJack - b.fromJack)
      .flatMap(c => c.toPort ?? [])
  }
}

export type End = { port: string } | { unit: string; jack: number }
/** Where a cable can begin or end. */
export interface Plug {
  side: 'from' | 'to'
  end: End
  name: string
}

export function useRigGestures() {
  const store = useSession(),
    ask = useAsk(),
    gestures = useGestures(),
    notices = useNotices()
  const now = () => store.session!

  /** A loop around a unit: the ports that its cables lead to. */
  async function newLoop(rig: string): Promise<string | null> {
    const units = rows(now(), 'unit')
      .filter(u => u.rig === rig)
      .sort(byOrder)
    const unit = await ask.ask({
      title: 'New loop through…',
      kind: 'choice',
      choices: units.map(u => {
        const { outs, ins } = portsAround(now(), u.id)
        const missing = !outs.length
          ? 'no cable leads into it from a port'
          : !ins.length
            ? 'no cable leads from it to a port'
            : ins.length > 2
              ? 'it returns on more than two ports'
              : undefined
        return { value: u.id, label: u.name, hint: `${outs.length} out, ${ins.length} in`, refused: missing }
      })
    })
    if (!unit) return null
    const name = await ask.ask({
      title: 'Name of the loop',
      kind: 'text',
      act: 'Make the loop',
      initial: `${now().unit[unit]!.name}`
    })
    if (!name) return null
    const { outs, ins } = portsAround(now(), unit)
    const id = newId()
    return store.apply('setLoop', {
      id,
      rig,
      fields: { name, order: orderAtEnd(rows(now(), 'loop')), outPorts: outs, inPorts: ins }
    })
      ? id
      : null
  }

  async function newUnit(rig: string): Promise<string | null> {
    const model = await ask.ask({
      title: 'New unit',
      kind: 'choice',
      choices: Object.values(UNITS).map(u => ({
        value: u.model,
        label: u.label,
        hint: `${u.inputs.length} in, ${u.outputs.length} out`
      }))
    })
    if (!model) return null
    const name = await ask.ask({ title: 'Name of the unit', kind: 'text', initial: UNITS[model]!.label })
    if (!name) return null
    const id = newId()
    return store.apply('setUnit', { id, rig, fields: { name, model, order: orderAtEnd(rows(now(), 'unit')) } })
      ? id
      : null
  }

  /** A cable without dragging: to which jack. */
  async function askCable(rig: string, from: Plug, all: readonly Plug[]): Promise<void> {
    const ends = all.filter(j => j.side !== from.side)
    const edit = (to: Plug) => {
      const [a, b] = from.side === 'from' ? [from, to] : [to, from]
      return { verb: 'addCable', args: { id: newId(), rig, from: a.end, to: b.end } }
    }
    const answer = await ask.ask({
      title: `Cable ${from.side === 'from' ? 'from' : 'to'} ${from.name} ${from.side === 'from' ? 'to' : 'from'}…`,
      kind: 'choice',
      choices: ends.map((j, i) => ({ value: String(i), label: j.name, refused: gestures.refusal(edit(j)) }))
    })
    const end = answer === null ? undefined : ends[Number(answer)]
    if (!end) return
    const [a, b] = from.side === 'from' ? [from, end] : [end, from]
    plug(rig, a.end, b.end)
  }
  function plug(rig: string, from: End, to: End): void {
    store.apply('addCable', { id: newId(), rig, from, to })
  }

  function pull(cable: Row<'cable'>): void {
    if (store.apply('removeCable', { id: cable.id }))
      notices.tell(
        `${cable.inside ? 'Route' : cable.normalled ? 'Normalled connection' : 'Cable'} removed.`,
        store.thisUndo()
      )
  }

  return { newLoop, newUnit, plug, pull, askCable }
}
