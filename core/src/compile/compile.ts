// From rows to a plan. Works backwards from the wanted taps, so that only what they need is computed.
// The order inside a channel, the gates and the junctions are those of docs/engine.md.
import { gainOf } from '../foundation/elementary'
import { placement } from '../session/placement'
import { LAYOUTS } from '../session/layouts'
import { listening } from '../graph/listening'
import { Network } from '../graph/network'
import { LOOP, PROCESSORS, settingsOf } from '../processors/table'
import { cut } from '../processors/biquad'
import { Refusal } from '../foundation/refusal'
import { loopReturningAt } from '../rig/believedDelay'
import { Wiring } from './wiring'
import type { Channel, Envelope, Feed, Slot, Tap } from '../session/rows'
import { rows, settings, type Session } from '../session/session'
import { phrasesOf } from '../notes/phrases'
import { beatMs } from '../notes/tempo'
import { envelopesOf } from '../movement/targets'
import { PlanBuilder } from '../plan/builder'
import { rowKey, type Signal, type Weighted } from '../plan/operations'
import { probe, toEars } from './ears'
import { Gates } from './gates'
import { junction, placed, type Part } from './junction'
import { notesPlayed } from './notesPlayed'
import { clipsKey, tapKey, type CompileOptions, type Plan, type PlanSink, type PlanSource } from './plan'
import { slotMove, type SlotMove } from './moves'
import { responseFrames } from '../processors/responses'

export function compile(session: Session, options: CompileOptions): Plan {
  return new Compiler(session, options).plan()
}

/** What ports carry together: one leg, a pair, or the legs of who sends or hears. */
const layoutAt = (ports: readonly string[], leg: (index: number) => string | undefined): string[] =>
  [LAYOUTS.mono, LAYOUTS.stereo][ports.length - 1] ?? ports.flatMap((_, i) => leg(i) ?? [])

/** What can be made anew, by the row whose values it holds. */
export interface Remaking {
  network: Network
  /** Level and mute of a channel. */
  fader(channel: string): void
  /** What arrives at a channel: its clips or feeds with their gains, its trim and legs. */
  arriving(channel: string): void
  /** A slot with its keys and its mix. */
  slot(slot: string): void
  /** What goes to the ears. */
  ears(): void
  /** A port or a unit of the rig, with what leads to it; nothing where the plan does without it. */
  rig(table: 'port' | 'unit', id: string): void
}

/** Thrown by what cannot be made anew in a plan that runs (values.ts). */
const OTHER_SHAPE = Symbol('other shape')

export class Compiler {
  private builder: PlanBuilder
  private network: Network
  private wires: Wiring
  private readonly rate: number
  private sources: PlanSource[] = []
  private readonly signals = new Map<string, Signal>()
  private readonly open = new Set<string>()
  private readonly keySignals = new Map<string, Signal>()
  private portArrivals = new Map<string, { signal: Signal; weighted: Weighted[] }[]>()
  private gates: Gates
  private envelopes: ReadonlyMap<string, Envelope>
  private moves: SlotMove[] = []
  private firstNote = Infinity
  private probes = new Map<string, PlanSink>()
  private isRemaking = false

  constructor(
    private session: Session,
    private readonly options: CompileOptions
  ) {
    this.network = new Network(session)
    this.envelopes = envelopesOf(session)
    this.rate = settings(session).sampleRate
    this.builder = new PlanBuilder(0, !options.live)
    this.wires = this.newWiring()
    this.gates = new Gates(this.network, options)
  }

  private newWiring(): Wiring {
    const seed = this.options.seed ?? settings(this.session).seed
    return new Wiring(
      this.session,
      this.builder,
      port => this.arrivalsAt(port),
      seed,
      source => this.sources.push(source)
    )
  }

  /**
   * Makes parts of a plan that runs anew, from the rows as they are now and the signals that are there. What they need
   * besides, ports for example, would be another plan.
   * @param from a number that no leg of the plan has
   * @returns their operations, and how those of slots follow envelopes; null where values alone cannot be told from
   * another shape
   */
  remade(session: Session, from: number, make: (parts: Remaking) => void): Pick<Plan, 'ops' | 'moves'> | null {
    const { builder, sources, moves, probes, wires, portArrivals } = this
    this.session = session
    this.network = new Network(session)
    this.gates = new Gates(this.network, this.options)
    this.envelopes = envelopesOf(session)
    this.builder = new PlanBuilder(from, !this.options.live)
    this.sources = []
    this.moves = []
    this.probes = new Map()
    this.portArrivals = new Map()
    this.wires = this.newWiring()
    this.isRemaking = true
    try {
      make({
        network: this.network,
        fader: id => this.asLate(`${id}@fader`, this.fader(this.need(id))),
        arriving: id => this.asLate(`${id}@input`, this.arriving(this.need(id))),
        slot: id => this.asLate(`behind ${id}`, this.slotAgain(this.session.slot[id])),
        ears: () => void (this.options.heard && this.ears(this.options.heard)),
        rig: (table, id) => wires.has(table, id) && this.wires.make(table, id)
      })
      return { ops: this.builder.ops, moves: this.moves }
    } catch (error) {
      if (error === OTHER_SHAPE) return null
      throw error
    } finally {
      this.isRemaking = false
      Object.assign(this, { builder, sources, moves, probes, wires, portArrivals })
    }
  }
  private slotAgain(slot: Slot): Signal {
    const channel = this.need(slot.channel),
      slots = this.slotsBefore(channel, slot.afterFader ? 'post' : 'pre')
    return this.through(slot, channel, this.behind(channel, slots, slots.indexOf(slot) - 1))
  }
  /** Others were aligned with it: later or earlier, it belongs to another plan. */
  private asLate(name: string, signal: Signal): void {
    if (this.signals.get(name)?.latency !== signal.latency) throw OTHER_SHAPE
  }
  plan(): Plan {
    const { builder, options } = this
    const sinks = new Map<string, PlanSink>()
    for (const tap of options.taps) {
      const key = tapKey(tap)
      if (sinks.has(key)) continue
      this.sinkOf(sinks, key, this.tap(this.need(tap.channel), tap.tap))
    }
    for (const slot of options.keys ?? []) this.sinkOf(sinks, `key/${slot}`, this.keyOf(this.session.slot[slot]))
    for (const port of options.ports ?? []) this.sinkOf(sinks, `port/${port}`, this.wires.sentTo(port))
    if (options.live) {
      for (const channel of rows(this.session, 'channel')) {
        if (!channel.parked) builder.meter(`meter/channel/${channel.id}`, this.tap(channel, 'post'))
      }
    }
    if (options.heard) sinks.set('ears', this.ears(options.heard))
    for (const [name, sink] of this.probes) sinks.set(name, sink)
    return {
      ops: builder.ops,
      sources: this.sources,
      sinks,
      moves: this.moves,
      firstNote: this.firstNote,
      noisy: builder.ops.some(o => o.kind === 'noise')
    }
  }

  private sinkOf(sinks: Map<string, PlanSink>, name: string, signal: Signal): void {
    this.builder.sink(`sink/${name}`, signal)
    sinks.set(name, { key: `sink/${name}`, layout: signal.layout, latency: signal.latency })
  }

  /** What steers a slot: its keys, after their cuts, or the channel itself. */
  private keyOf(slot: Slot): Signal {
    const channel = this.need(slot.channel)
    this.tap(channel, slot.afterFader ? 'post' : 'pre')
    return this.keySignals.get(slot.id) ?? this.builder.silence(`${rowKey('slot', slot.id)}/noKey`, channel.layout)
  }

  private ears({ channel, latency, trimDb = 0, keyOf }: NonNullable<CompileOptions['heard']>): PlanSink {
    const slot = keyOf ? this.session.slot[keyOf] : undefined
    const tap = slot ? this.keyOf(slot) : this.tap(this.need(channel), 'post')
    return toEars(this.builder, settings(this.session), tap, latency, trimDb)
  }

  private need(id: string): Channel {
    const channel = this.session.channel[id]
    if (!channel) throw new Refusal('notFound', `There is no channel “${id}” in this session`)
    return channel
  }

  /** Remembers a signal under a name, and refuses to need it while making it. */
  private once(name: string, channel: Channel, make: () => Signal): Signal {
    const known = this.signals.get(name)
    if (known) return known
    if (this.isRemaking) throw OTHER_SHAPE
    if (this.open.has(name))
      throw new Refusal('circle', `The signal of “${channel.name}” runs in a circle`, [channel.id])
    this.open.add(name)
    const signal = make()
    this.open.delete(name)
    this.signals.set(name, signal)
    return signal
  }

  private tap(channel: Channel, tap: Tap): Signal {
    return this.once(`${channel.id}@${tap}`, channel, () =>
      this.builder.by({ channel: channel.id, slot: null }, () => {
        if (channel.parked) return this.builder.silence(`${rowKey('channel', channel.id)}/${tap}`, channel.layout)
        if (tap === 'input') return this.input(channel)
        const slots = this.slotsBefore(channel, tap),
          from = this.beforeSlots(channel, tap)
        const signal = slots.length ? this.behind(channel, slots, slots.length - 1) : from
        // What is no number goes no further than this: a mix stops it.
        return signal === from ? from : this.builder.gain(`${rowKey('channel', channel.id)}/${tap}/out`, signal, 1)
      })
    )
  }

  private slotsBefore(channel: Channel, tap: Tap): Slot[] {
    return (this.network.slots.get(channel.id) ?? []).filter(s => s.afterFader === (tap === 'post'))
  }

  /** What enters the slots before a tap: the input, or what the fader lets through. */
  private beforeSlots(channel: Channel, tap: Tap): Signal {
    if (tap === 'pre') return this.tap(channel, 'input')
    return this.once(`${channel.id}@fader`, channel, () =>
      this.builder.by({ channel: channel.id, slot: null }, () => this.fader(channel))
    )
  }

  private fader(channel: Channel): Signal {
    const gain = channel.muted ? 0 : gainOf(channel.levelDb)
    return this.ridden(
      'channel',
      channel.id,
      this.builder.gain(`${rowKey('channel', channel.id)}/fader`, this.tap(channel, 'pre'), gain)
    )
  }

  /** What comes out of one of these slots: each is made once, whoever needs it first. */
  private behind(channel: Channel, slots: Slot[], at: number): Signal {
    if (at < 0) return this.beforeSlots(channel, slots[0].afterFader ? 'post' : 'pre')
    const slot = slots[at]
    return this.once(`behind ${slot.id}`, channel, () => {
      const before = this.behind(channel, slots, at - 1)
      return this.builder.by({ channel: channel.id, slot: slot.id }, () => this.through(slot, channel, before))
    })
  }

  /** A level's envelope on top of where the fader stands. */
  private ridden(owner: 'channel' | 'feed', id: string, signal: Signal): Signal {
    const ride = this.envelopes.get(`${owner}/${id}/levelDb`)
    return ride
      ? this.builder.multiply(
          `${rowKey(owner, id)}/ride`,
          signal,
          this.builder.envelope(`${rowKey(owner, id)}/ride`, ride.points, true, signal.latency)
        )
      : signal
  }

  /** What moves a feed's placement: its own envelope, or its channel's where it has no place of its own. */
  private panOf(feed: Feed): Part['pan'] {
    const moves =
      this.envelopes.get(`feed/${feed.id}/pan`) ??
      (feed.pan === null && feed.from ? this.envelopes.get(`channel/${feed.from}/pan`) : undefined)
    return moves && { key: `${rowKey('feed', feed.id)}/pan`, points: moves.points }
  }

  // ── in ──

  /** Trim, polarity and muted legs as one gain a leg. */
  private legGains(channel: Channel): number[] {
    const trim = gainOf(channel.trimDb)
    return channel.layout.map((_, leg) =>
      channel.mutedLegs.includes(leg) ? 0 : channel.flippedLegs.includes(leg) ? -trim : trim
    )
  }

  private input(channel: Channel): Signal {
    const cuts = [
      ...(channel.lowCutHz === null ? [] : cut('low', channel.lowCutHz, 12, this.rate)),
      ...(channel.highCutHz === null ? [] : cut('high', channel.highCutHz, 12, this.rate))
    ]
    return this.builder.filter(`${rowKey('channel', channel.id)}/cuts`, this.arriving(channel), cuts)
  }

  private arriving(channel: Channel): Signal {
    const legs = this.legGains(channel)
    const feeds = (this.network.feedsTo.get(channel.id) ?? []).filter(f => this.gates.matters(f))
    if (channel.kind === 'bus')
      return junction(
        this.builder,
        rowKey('channel', channel.id),
        feeds.map(f => this.carried(f, channel)),
        channel.layout,
        legs
      )

    const inputs = feeds.filter(f => f.kind === 'input')
    const hears = listening(this.network, channel, inputs)
    // Live, a print and its feed both run, so that listening to one or the other switches at once.
    const print = this.options.live || hears.hearsPrint ? hears.print : null
    if (!print && !inputs.length) return this.clips(channel, legs)

    const parts: Part[] = []
    const unity = channel.layout.map((_, i) => channel.layout.map((_, k) => (i === k ? 1 : 0)))
    if (hears.hasClips && (this.options.live || hears.clips))
      parts.push({
        signal: this.clips(
          channel,
          channel.layout.map(() => 1)
        ),
        matrix: unity,
        gain: hears.clips ? 1 : 0
      })
    if (print) {
      const signal = this.tap(this.session.channel[print.source], print.tap)
      parts.push({ signal, matrix: placement(signal.layout, channel.layout, 0), gain: hears.hearsPrint ? 1 : 0 })
    }
    for (const feed of inputs) {
      const carried = this.carried(feed, channel)
      parts.push({ ...carried, gain: hears.hearsInputs ? carried.gain : 0 })
    }
    return junction(this.builder, rowKey('channel', channel.id), parts, channel.layout, legs)
  }

  private clips(channel: Channel, legs: number[]): Signal {
    const key = clipsKey(channel)
    const phrases = phrasesOf(this.session, channel.id)
    if (!phrases.length) {
      this.sources.push({ key, channel: channel.id, layout: channel.layout })
      return this.builder.source(key, channel.layout, legs)
    }
    const hasClips = this.network.clips.has(channel.id)
    if (hasClips) this.sources.push({ key, channel: channel.id, layout: channel.layout })
    const { signal, firstNote } = notesPlayed(this.builder, this.session, channel, phrases, legs, hasClips)
    this.firstNote = Math.min(this.firstNote, firstNote)
    return signal
  }

  // ── feeds ──

  private carried(feed: Feed, to: Channel): Part {
    if (feed.kind === 'input') {
      const layout = layoutAt(feed.ports, i => to.layout[i])
      const arrived = this.builder.align(
        i => `${rowKey('feed', feed.id)}/ports/${i}`,
        feed.ports.map(p => this.fromPort(feed, p))
      )
      const signal = this.ridden('feed', feed.id, {
        legs: arrived.flatMap(a => a.legs),
        layout,
        latency: Math.max(0, ...arrived.map(a => a.latency))
      })
      return { signal, matrix: placement(layout, to.layout, feed.pan ?? 0), gain: this.gates.gain(feed) }
    }
    const from = this.session.channel[feed.from]
    const signal = this.ridden('feed', feed.id, this.tap(from, feed.tap))
    return {
      signal,
      matrix: placement(signal.layout, to.layout, feed.pan ?? from.pan),
      gain: this.gates.gain(feed),
      pan: this.panOf(feed)
    }
  }

  /**
   * A port in as an input feed hears it: compensated like the loop that describes it, if one does and it carries
   * session signal.
   */
  private fromPort(feed: Feed, port: string): Signal {
    const signal = this.wires.portIn(port)
    const loop = loopReturningAt(this.session, port)
    return loop ? this.wires.compensated(`${rowKey('feed', feed.id)}/${port}`, signal, loop) : signal
  }

  // ── slots ──

  private through(slot: Slot, channel: Channel, signal: Signal): Signal {
    if (slot.state === 'off') return signal
    const { builder } = this
    const processor = PROCESSORS[slot.processor]
    if (slot.processor !== LOOP && !processor) return signal
    let dry = signal
    let wet: Signal
    let move: SlotMove | null
    if (slot.processor === LOOP) {
      wet = this.loopReturn(slot, signal)
      move = slotMove(slot, null, this.envelopes, signal)
    } else {
      const keys = (this.network.keysTo.get(slot.id) ?? []).filter(f => !this.session.channel[f.from].parked)
      let keySignal = signal
      if (processor.keyed && keys.length) {
        const heard = junction(
          this.builder,
          `${rowKey('slot', slot.id)}/key`,
          keys.filter(f => this.gates.matters(f)).map(f => this.carried(f, channel)),
          channel.layout
        )
        ;[dry, keySignal] = builder.align(
          i => `${rowKey('slot', slot.id)}/${i ? 'keyAlign' : 'align'}`,
          [signal, heard]
        )
      }
      keySignal = builder.filter(`${rowKey('slot', slot.id)}/keyCuts`, keySignal, [
        ...(slot.keyLowCutHz === null ? [] : cut('low', slot.keyLowCutHz, 12, this.rate)),
        ...(slot.keyHighCutHz === null ? [] : cut('high', slot.keyHighCutHz, 12, this.rate))
      ])
      if (!this.isRemaking) this.keySignals.set(slot.id, keySignal)
      const context = {
        key: rowKey('slot', slot.id),
        params: settingsOf(processor, slot.params),
        sampleRate: this.rate,
        beatMs: beatMs(settings(this.session).tempo),
        responseFrames: (id: string) => responseFrames(this.session, id),
        keySignal
      }
      move = slotMove(slot, processor, this.envelopes, dry, context)
      const moving = move?.fields.map(f => f.name) ?? []
      wet = builder.inMotion(moving, () => processor.build(dry, { builder, ...context }))
    }
    if (move) this.moves.push(move)
    if (slot.id === this.options.probe) probe(builder, this.probes, dry, wet, this.keySignals.get(slot.id) ?? dry)
    const amount = slot.state === 'on' ? slot.mix : 0
    if (amount === 1 && !this.options.live && !move?.mix) return wet
    const late = builder.delay(`${rowKey('slot', slot.id)}/dry`, dry, wet.latency - dry.latency)
    return builder.blend(`${rowKey('slot', slot.id)}/mix`, wet, amount, late, 1 - amount)
  }

  private loopReturn(slot: Slot, signal: Signal): Signal {
    const loop = this.session.loop[slot.loop ?? '']
    if (!loop) return signal
    const returned = loop.inPorts.map((p, i) =>
      this.wires.compensated(`${rowKey('slot', slot.id)}/return/${i}`, this.wires.portIn(p), loop)
    )
    const gain = gainOf(loop.returnDb) * (loop.inverted ? -1 : 1)
    const layout = loop.inPorts.length === 1 ? LAYOUTS.mono : LAYOUTS.stereo
    const latency = Math.max(signal.latency, ...returned.map(r => r.latency))
    const parts = [
      {
        signal: { legs: returned.flatMap(r => r.legs), layout, latency },
        matrix: placement(layout, signal.layout, 0),
        gain
      }
    ]
    return junction(this.builder, `${rowKey('slot', slot.id)}/back`, parts, signal.layout)
  }

  // ── ports ──

  private arrivalsAt(port: string): { signal: Signal; weighted: Weighted[] }[] {
    const known = this.portArrivals.get(port)
    if (known) return known
    const arrivals: { signal: Signal; weighted: Weighted[] }[] = []
    const add = (signal: Signal, ports: string[], gain: number, pan = 0) => {
      const layout = layoutAt(ports, i => signal.layout[i] ?? `${i}`)
      const all = placed(signal, placement(signal.layout, layout, pan), layout)[ports.indexOf(port)]
      arrivals.push({ signal, weighted: all.map(w => ({ ...w, gain: w.gain * gain })) })
    }
    for (const feed of this.network.feedsToPort.get(port) ?? []) {
      if (!this.gates.matters(feed)) continue
      add(
        this.ridden('feed', feed.id, this.tap(this.session.channel[feed.from], feed.tap)),
        feed.ports,
        this.gates.gain(feed),
        feed.pan ?? 0
      )
    }
    for (const loop of rows(this.session, 'loop').filter(l => l.outPorts.includes(port))) {
      const slot = rows(this.session, 'slot').find(s => s.loop === loop.id && s.processor === LOOP && s.state !== 'off')
      if (!slot || this.session.channel[slot.channel].parked) continue
      add(this.sentInto(slot), loop.outPorts, gainOf(loop.sendDb))
    }
    this.portArrivals.set(port, arrivals)
    return arrivals
  }

  /** What a loop sends: the signal before its slot, which does not wait for what comes back. */
  private sentInto(slot: Slot): Signal {
    const channel = this.session.channel[slot.channel]
    const slots = this.slotsBefore(channel, slot.afterFader ? 'post' : 'pre')
    return this.behind(channel, slots, slots.findIndex(s => s.id === slot.id) - 1)
  }
}
