// Where the signal of a loop stops, read from its wiring: the first dead point between its ports out and its return.
import { unitSettings } from '../rig/unit'
import { UNITS } from '../rig/units'
import type { EditMessage } from '../session/editMessage'
import type { Cable, Loop, Unit } from '../session/rows'
import { rowOf, rows, settings, type Session } from '../session/session'
import { cableName, cablesByStart, cableTo, endName, plugOver, portNode } from './cables'
import { cableClosed, type Closed } from './closed'

export interface DeadPoint {
  /** A clause without a full stop: “Tube amplifier is off”. */
  reason: string
  /** Rows to go to. */
  about: string[]
  fixes: { label: string; edit: EditMessage }[]
}

/**
 * The first dead point, nearest to the ports out; null where an open way of cables leads to every port of the return.
 */
export function deadPoint(session: Session, loop: Pick<Loop, 'name' | 'outPorts' | 'inPorts'>): DeadPoint | null {
  const byStart = cablesByStart(session, rows(session, 'cable'))
  const reached = new Set(loop.outPorts.map(portNode)),
    open = [...reached]
  let closed: Cable | undefined, opened: Cable | undefined
  let last = loop.outPorts[0] ? (session.port[loop.outPorts[0]]?.name ?? loop.name) : loop.name
  for (let at = open.shift(); at !== undefined; at = open.shift())
    for (const cable of byStart.get(at) ?? []) {
      const why = cableClosed(session, cable)
      if (why) {
        // A plug over a normalled connection is often meant: it is named where nothing else is wrong.
        if (why === 'plugged') opened ??= cable
        else closed ??= cable
        continue
      }
      const to = cableTo(cable)
      if (reached.has(to)) continue
      reached.add(to)
      open.push(to)
      if (cable.toUnit !== null) last = rowOf(session, 'unit', cable.toUnit).name
    }
  const missing = loop.inPorts.find(p => !reached.has(portNode(p)))
  if (missing === undefined && loop.inPorts.length) return null
  const first = closed ?? opened
  if (first) return deadCable(session, first)
  return {
    reason: `no cable leads from ${last} to ${session.port[missing ?? '']?.name ?? 'the return'}`,
    about: loop.outPorts.slice(0, 1),
    fixes: []
  }
}

/** What closes the way along a cable, and what opens it. */
export function deadCable(session: Session, cable: Cable): DeadPoint | null {
  const why = cableClosed(session, cable)
  return (why && SAID[why]?.(session, cable)) ?? null
}

const SAID: Partial<Record<Closed, (session: Session, cable: Cable) => DeadPoint>> = {
  unitOff(session, cable) {
    const unit = rowOf(session, 'unit', cable.fromUnit ?? '')
    return {
      reason: `${unit.name} is off`,
      about: [unit.id],
      fixes: [
        { label: `Switch ${unit.name} on`, edit: { verb: 'setUnit', args: { id: unit.id, fields: { powered: true } } } }
      ]
    }
  },
  switch(session, cable) {
    const unit = rowOf(session, 'unit', cable.toUnit ?? ''),
      model = UNITS[unit.model]
    const jack = (n: number | undefined) => model?.inputs[n ?? -1] ?? 'another jack'
    const listens = model?.listensTo?.(unitSettings(model, unit.settings))[0]
    return {
      reason: `${unit.name} listens to its jack “${jack(listens)}”, and the cable ends at “${jack(cable.toJack)}”`,
      about: [unit.id],
      fixes: turned(unit, cable.toJack)
    }
  },
  noLock(session, cable) {
    const unit = rowOf(session, 'unit', cable.toUnit ?? ''),
      model = UNITS[unit.model]
    const kHz = (hz: number) => `${hz / 1000} kHz`
    return {
      reason:
        `${unit.name} does not lock: its digital input runs at ${kHz(model?.digital?.rate ?? 0)}, the session at ` +
        `${kHz(settings(session).sampleRate)}; use an analog jack, or a session at that rate`,
      about: [unit.id],
      fixes: []
    }
  },
  plugged(session, cable) {
    const plug = plugOver(session, cable)!
    return {
      reason: `${endName(session, cable, 'from')} is normalled to ${endName(session, cable, 'to')}, and the plug of ${cableName(session, plug)} opens that`,
      about: [plug.id],
      fixes: [{ label: `Pull ${cableName(session, plug)}`, edit: { verb: 'removeCable', args: { id: plug.id } } }]
    }
  },
  howls(session, cable) {
    return {
      reason: `the interface sends ${cableName(session, cable)} by itself, and that comes back to where it begins: it would howl, and carries nothing`,
      about: [cable.id],
      fixes: [removed(session, cable)]
    }
  },
  routeLevel: (session, cable) => ({
    reason: `the interface sends ${cableName(session, cable)} at −∞`,
    about: [cable.id],
    fixes: [removed(session, cable)]
  })
}

const removed = (session: Session, cable: Cable) => ({
  label: `Remove the route ${cableName(session, cable)}`,
  edit: { verb: 'removeCable', args: { id: cable.id } }
})

/** The switch settings by which a unit would listen to that jack. */
function turned(unit: Unit, jack: number): DeadPoint['fixes'] {
  const model = UNITS[unit.model]
  if (!model?.listensTo) return []
  const now = unitSettings(model, unit.settings)
  return model.settings.flatMap(s =>
    (s.choices ?? [])
      .filter(choice => model.listensTo?.({ ...now, [s.name]: choice }).includes(jack))
      .filter(choice => choice !== now[s.name])
      .map(choice => ({
        label: `Turn ${s.label.toLowerCase()} of ${unit.name} to ${choice}`,
        edit: { verb: 'setUnit', args: { id: unit.id, fields: { settings: { [s.name]: choice } } } }
      }))
  )
}

/** Why a ping found nothing, in a sentence without its full stop. */
export function whyNothing(session: Session, loop: Loop): string {
  const dead = deadPoint(session, loop)
  return dead
    ? `nothing came back: ${dead.reason}`
    : 'nothing came back, although the cables lead there: check levels and settings on the way'
}
