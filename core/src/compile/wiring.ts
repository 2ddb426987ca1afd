// The rig as operations: ports out, cables, units, ports in. What the loop believes about time is in the signals'
// latency; what really happens (converter delay, air) is in the samples.
import { portsReached } from '../graph/cables'
import { cableClosed } from '../graph/closed'
import { portDbu } from '../graph/portDbu'
import { believedDelay } from '../rig/believedDelay'
import { gainOf } from '../foundation/elementary'
import type { PlanBuilder } from '../plan/builder'
import { NOBODY, rowKey, type Signal, type Weighted } from '../plan/operations'
import type { PlanSource } from './plan'
import type { Loop, Row } from '../session/rows'
import { byId, rows, settings, type Session } from '../session/session'
import { COMPENSATION_DELAY, CONVERTER_DELAY, compensationTaps, converterTaps } from '../rig/fractional'
import { sidesOf, unitSettings } from '../rig/unit'
import { UNITS } from '../rig/units'
import { hash32 } from '../foundation/seed'

/** What arrives at a port out, from feeds and loops; asked for once a port. */
export type Arrivals = (port: string) => { signal: Signal; weighted: Weighted[] }[]

export class Wiring {
  private readonly outs = new Map<string, Signal>()
  private readonly sums = new Map<string, Signal>()
  private readonly ins = new Map<string, Signal>()
  private readonly units = new Map<string, Signal[] | null>()
  private readonly reaches = new Map<string, Set<string>>()
  private readonly rate: number

  constructor(
    private readonly session: Session,
    private readonly builder: PlanBuilder,
    private readonly arrivals: Arrivals,
    private readonly seed: number,
    /** Is told of what a player plays. */
    private readonly sources: (source: PlanSource) => void
  ) {
    this.rate = settings(session).sampleRate
  }

  private interfaceOf(port: Row<'port'>) {
    return this.session.interface[port.interface]
  }

  /** Signal in the cable behind a port out, analog. */
  private portOut(id: string): Signal {
    const known = this.outs.get(id)
    return known ?? this.builder.by(NOBODY, () => this.makePortOut(id))
  }

  private makePortOut(id: string): Signal {
    const { builder } = this
    const key = rowKey('port', id)
    const { trimDb } = this.session.port[id]
    const arriving = [...this.arrivals(id), ...this.routedTo(id)]
    const latest = Math.max(0, ...arriving.map(a => a.signal.latency), ...this.companions(id))
    const aligned: Weighted[] = arriving.flatMap((a, i) => {
      const late = builder.delay(`${key}/align/${i}`, a.signal, latest - a.signal.latency)
      return a.weighted.map(w => ({ gain: w.gain * gainOf(trimDb), leg: late.legs[a.signal.legs.indexOf(w.leg)] }))
    })
    const digital: Signal = { legs: [builder.mix(`${key}/sum`, aligned)], layout: ['M'], latency: latest }
    builder.meter(`meter/port/${id}`, digital)
    this.sums.set(id, digital)
    const clipped = builder.clip(`${key}/clip`, digital, 1)
    const device = this.interfaceOf(this.session.port[id])
    const converted = this.drifting(
      key,
      this.converterDelay(key, clipped, device.trueLatencySamples),
      device,
      [...this.reached(id)].map(p => this.session.port[p].interface)
    )
    this.outs.set(id, converted)
    return converted
  }

  /** What the interface's own matrix adds at a port, before any converter; a route has no delay. */
  private routedTo(id: string): { signal: Signal; weighted: Weighted[] }[] {
    return rows(this.session, 'cable')
      .filter(c => c.inside && c.toPort === id && !cableClosed(this.session, c))
      .sort(byId)
      .map(({ fromPort, levelDb }) => {
        const isIn = this.session.port[fromPort!].direction === 'in'
        const signal = isIn ? this.portIn(fromPort!) : this.sentTo(fromPort!)
        return { signal, weighted: [{ leg: signal.legs[0], gain: gainOf(levelDb) }] }
      })
  }

  /** Is it part of the plan? */
  has(table: 'port' | 'unit', id: string): boolean {
    return table === 'unit' ? this.units.has(id) : this.outs.has(id) || this.ins.has(id)
  }

  /** Makes it, and what leads to it. */
  make(table: 'port' | 'unit', id: string): void {
    if (table === 'unit') this.unitOut(id)
    else if (this.session.port[id].direction === 'out') this.portOut(id)
    else this.portIn(id)
  }

  /** What the session sends to a port out, before the converter. */
  sentTo(id: string): Signal {
    this.portOut(id)
    return this.sums.get(id)!
  }

  /**
   * Latencies at the ports out that meet this one in some unit: they leave together, or they could not be added there.
   */
  private companions(id: string): number[] {
    const here = this.reached(id)
    return rows(this.session, 'port')
      .filter(p => p.direction === 'out' && p.id !== id && [...this.reached(p.id)].some(x => here.has(x)))
      .flatMap(p => this.arrivals(p.id).map(a => a.signal.latency))
  }

  private reached(port: string): Set<string> {
    const known = this.reaches.get(port) ?? portsReached(this.session, [port])
    this.reaches.set(port, known)
    return known
  }

  private sendersTo(portIn: string): string[] {
    return rows(this.session, 'port')
      .filter(p => p.direction === 'out' && this.reached(p.id).has(portIn))
      .map(p => p.id)
  }

  /** Converters' true delay, fraction and all. It does not count as latency: the session does not know it yet. */
  private converterDelay(key: string, signal: Signal, samples: number): Signal {
    if (samples === Math.round(samples)) return samples ? this.builder.shift(`${key}/true`, signal, samples) : signal
    const whole = Math.floor(samples),
      before = Math.max(0, whole - CONVERTER_DELAY)
    const shifted = before ? this.builder.shift(`${key}/true`, signal, before) : signal
    return this.builder.fir(`${key}/converter`, shifted, converterTaps(whole - before, samples - whole))
  }

  /** Between a free-running clock and another one time drifts; out and back by the same device it does not. */
  private drifting(key: string, signal: Signal, device: Row<'interface'>, others: string[]): Signal {
    const leaves = device.clock === 'free' && others.some(o => o !== device.id)
    return leaves ? this.builder.drift(`${key}/drift`, signal, device.driftPpm) : signal
  }

  private unitOut(id: string): Signal[] | null {
    if (this.units.has(id)) return this.units.get(id)!
    this.units.set(id, null) // a circle of cables finds silence here: signal is held
    const unit = this.session.unit[id]
    const model = UNITS[unit.model]
    if (!model || !(unit.powered || model.passive)) return null
    const arriving = model.inputs.map((_, jack) =>
      this.cablesInto(`${rowKey('unit', id)}/in${jack}`, c => c.toUnit === id && c.toJack === jack, 0)
    )
    const latency = Math.max(0, ...arriving.map(i => i.latency))
    if (arriving.length)
      this.builder.meter(`meter/unit/${id}`, { legs: arriving.flatMap(a => a.legs), layout: model.inputs, latency })
    const inputs =
      model.clipDbu === Infinity
        ? arriving
        : arriving.map((a, jack) => this.builder.clip(`${rowKey('unit', id)}/clip${jack}`, a, gainOf(model.clipDbu)))
    const outs = model
      .build(
        model.plays
          ? this.played(id, model.outputs)
          : this.builder.align(i => `${rowKey('unit', id)}/align/${i}`, inputs),
        {
          builder: this.builder,
          key: rowKey('unit', id),
          settings: unitSettings(model, unit.settings),
          sampleRate: this.rate,
          seed: this.seed
        }
      )
      .map((out, jack) =>
        model.noiseDbu === -Infinity
          ? out
          : this.builder.noise(
              `${rowKey('unit', id)}/noise${jack}`,
              out,
              gainOf(model.noiseDbu) * Math.SQRT1_2,
              hash32(`${this.seed}/${id}/${jack}`)
            )
      )
    outs.forEach((out, jack) => this.builder.meter(`meter/jack/${id}/${jack}`, out))
    this.units.set(id, outs)
    return outs
  }

  /** What a player plays, a signal a jack; it has no latency. */
  private played(id: string, outputs: readonly string[]): Signal[] {
    const key = `clips/${rowKey('unit', id)}`,
      layout = [...outputs]
    this.sources({ key, channel: null, unit: id, layout })
    return sidesOf(
      this.builder.source(
        key,
        layout,
        layout.map(() => 1)
      )
    )
  }

  /**
   * Sum of the cables that end in one jack. `referenceDb` is taken off: 0 inside the rig, the port's reference at a
   * converter.
   */
  private cablesInto(key: string, ends: (c: Row<'cable'>) => boolean, referenceDb: number): Signal {
    const weighted: Weighted[] = []
    let latency = 0
    for (const cable of rows(this.session, 'cable').filter(ends).sort(byId)) {
      if (cableClosed(this.session, cable)) continue
      const from =
        cable.fromPort !== null
          ? { signal: this.portOut(cable.fromPort), db: portDbu(this.session, cable.fromPort) }
          : { signal: this.unitOut(cable.fromUnit)?.[cable.fromJack], db: 0 }
      if (!from.signal) continue
      const turned = cable.inverts !== !!this.session.unit[cable.fromUnit ?? '']?.inverts
      weighted.push({ leg: from.signal.legs[0], gain: gainOf(from.db - referenceDb) * (turned ? -1 : 1) })
      latency = Math.max(latency, from.signal.latency)
    }
    return { legs: [this.builder.mix(key, weighted)], layout: ['M'], latency }
  }

  /** What the session receives at a port in, before any compensation. */
  portIn(id: string): Signal {
    const known = this.ins.get(id)
    return known ?? this.builder.by(NOBODY, () => this.makePortIn(id))
  }

  private makePortIn(id: string): Signal {
    const port = this.session.port[id],
      device = this.interfaceOf(port)
    const key = rowKey('port', id)
    let signal = this.cablesInto(`${key}/arrive`, c => c.toPort === id && !c.inside, portDbu(this.session, id))
    if (port.signal === 'analog') {
      // dBFS is an RMS of 1 here; dBu is that of a sine whose peak is 1 (see unitOut).
      if (device.noiseDbfs !== null) {
        signal = this.builder.noise(`${key}/noise`, signal, gainOf(device.noiseDbfs), hash32(`${this.seed}/${id}`))
      }
      if (device.dcCornerHz !== null)
        signal = this.builder.filter(`${key}/dc`, signal, [dcBlock(device.dcCornerHz, this.rate)])
    }
    signal = this.drifting(
      key,
      signal,
      { ...device, driftPpm: -device.driftPpm },
      this.sendersTo(id).map(p => this.session.port[p].interface)
    )
    // What arrives is shown, also what is too much for the converter.
    this.builder.meter(`meter/port/${id}`, signal)
    signal = this.builder.clip(`${key}/clip`, signal, 1)
    const routed = this.routedTo(id)
    if (routed.length) {
      const latency = Math.max(signal.latency, ...routed.map(r => r.signal.latency))
      const weighted = [{ leg: signal.legs[0], gain: 1 }, ...routed.flatMap(r => r.weighted)]
      signal = { legs: [this.builder.mix(`${key}/matrix`, weighted)], layout: ['M'], latency }
    }
    this.ins.set(id, signal)
    return signal
  }

  /** A return made whole again: the believed delay is completed to full samples and counted as latency. */
  compensated(key: string, signal: Signal, loop: Loop): Signal {
    if (!loop.compensated) return signal
    const believed = believedDelay(this.session, loop)
    const total = Math.ceil(believed) + COMPENSATION_DELAY
    const fraction = Math.ceil(believed) - believed
    return {
      ...this.builder.fir(`${key}/compensation`, signal, compensationTaps(fraction)),
      latency: signal.latency + total
    }
  }
}

/** First-order high-pass of a converter's coupling: corner at −3 dB. */
function dcBlock(hz: number, rate: number): [number, number, number, number, number] {
  const k = (Math.PI * hz) / rate
  return [1 / (1 + k), -1 / (1 + k), 0, (k - 1) / (k + 1), 0]
}
