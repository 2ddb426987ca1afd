// The page's side of live sound: starts and stops, says where playing is, reads the meters of what is heard right now.
import type { Heavy } from '@nullet/core/run/weights'
import { type RowChange, type Session, settings } from '@nullet/core/session/session'
import type { Lines, Mark, Probe, Range, ToPage, ToPlanner } from './messages'
import { MeterReading } from './meterReading'
import { METER_SLOTS, WORD, ahead, meterMemory, metersOver, ringMemory, ringOver, BLOCK } from './ring'
import workletUrl from './output.worklet.ts?worker&url'

export interface PlayerEvents {
  ended(): void
  error(message: string): void
  faults(channels: string[]): void
  /** The output runs at another rate than the session. */
  otherRate(hz: number): void
  plan(info: { latency: number; readAhead: number; cores: number; heavy: Heavy[] }): void
}

const helperThread = () => new Worker(new URL('./helper.worker.ts', import.meta.url), { type: 'module' })

export class Player {
  private readonly memory = ringMemory()
  private readonly ring = ringOver(this.memory)
  private readonly planner = new Worker(new URL('./planner.worker.ts', import.meta.url), { type: 'module' })
  private readonly engine = new Worker(new URL('./engine.worker.ts', import.meta.url), { type: 'module' })
  private readonly helper = navigator.hardwareConcurrency > 1 ? helperThread() : null
  private context: AudioContext | null = null
  private node: AudioWorkletNode | null = null
  private marks: Mark[] = []
  private probes: Probe[] = []
  private reading = new MeterReading([], metersOver(meterMemory(2)))
  private endAt: number | null = null
  private lastSlotRead = -1
  private serial = 0
  private readonly renders = new Map<number, (r: { audio: Float32Array[]; sha256: string }) => void>()
  private started: (() => void) | null = null
  /** Time from the click on play until the engine's first frames were ready, in ms. */
  startMs = 0
  /** Where what is heard began to run; null where a hand has moved since. */
  since: number | null = 0
  private clicked = 0
  rate = 48000

  constructor(private readonly events: PlayerEvents) {
    for (const worker of [this.planner, this.engine]) {
      worker.onmessage = ({ data }: MessageEvent<ToPage>) => this.hear(data)
      worker.onerror = e => events.error(e.message)
    }
    const plans = new MessageChannel(),
      help = this.helper && new MessageChannel()
    const lines: Lines = { planner: plans.port2, helper: help?.port1 ?? null }
    this.engine.postMessage(lines, help ? [plans.port2, help.port1] : [plans.port2])
    if (help) this.helper!.postMessage(help.port2, [help.port2])
    const toEngine: ToPlanner = { kind: 'engine', port: plans.port1, cores: navigator.hardwareConcurrency }
    this.planner.postMessage(toEngine, [plans.port1])
    this.send({ kind: 'memory', memory: this.memory })
  }

  private send(m: ToPlanner): void {
    this.planner.postMessage(m)
  }

  private hear(m: ToPage): void {
    switch (m.kind) {
      case 'plan':
        this.reading = new MeterReading(m.meters, metersOver(m.meterMemory))
        this.events.plan(m)
        break
      case 'mark':
        this.since = m.since
        if (m.first) {
          this.marks = [m.mark]
          this.endAt = null
          this.startMs = performance.now() - this.clicked
          this.started?.()
          this.started = null
        } else this.marks.push(m.mark)
        break
      case 'probe':
        this.probes.push(m.probe)
        break
      case 'faults':
        this.events.faults(m.channels)
        break
      case 'ended':
        this.endAt = m.at
        break
      case 'error':
        this.events.error(m.message)
        break
      case 'rendered':
        this.renders.get(m.serial)?.(m)
        this.renders.delete(m.serial)
        break
    }
  }

  setSession(session: Session): void {
    this.rate = settings(session).sampleRate
    // Vue's wrappers cannot be sent; rows are plain data.
    this.send({ kind: 'session', session })
  }

  change(changes: RowChange[]): void {
    this.send({ kind: 'changes', changes })
  }

  /** Starts at a frame of source time; resolves when the first frames are ready. */
  async play(from: number, until: number | null, repeat: Range | null): Promise<void> {
    this.clicked = performance.now()
    await this.open()
    // An earlier click that is still waiting is answered by this one.
    this.started?.()
    const started = new Promise<void>(done => {
      this.started = done
    })
    this.send({ kind: 'play', from: Math.max(0, Math.round(from)), until, repeat })
    await started
  }

  stop(): void {
    this.marks = []
    this.probes = []
    this.started?.()
    this.started = null
    this.send({ kind: 'stop' })
    Atomics.store(this.ring.control, WORD.running, 0)
  }
  setTrims(trims: [string, number][]): void {
    this.send({ kind: 'trims', trims })
  }
  listen(keyOf: string | null, probe: string | null): void {
    this.probes = []
    this.send({ kind: 'listen', keyOf, probe })
  }

  /** The latest look at a slot that has been heard. */
  probe(): Probe | null {
    const read = Atomics.load(this.ring.control, WORD.read)
    const passed = this.probes.filter(p => ahead(p.at, read) < 2 ** 29)
    if (passed.length > 1) this.probes = this.probes.slice(passed.length - 1)
    return passed.at(-1) ?? null
  }
  setRepeat(repeat: Range | null): void {
    this.send({ kind: 'repeat', repeat })
  }

  get canChooseDevice(): boolean {
    return 'setSinkId' in AudioContext.prototype
  }
  /** Id of the output that was chosen; empty for the system's. */
  device = ''

  async setDevice(id: string): Promise<void> {
    if (this.context) await (this.context as AudioContext & { setSinkId(id: string): Promise<void> }).setSinkId(id)
    this.device = id
  }

  /** An output at the session's rate; where there is none, at the system's. */
  private contextAt(sampleRate: number): AudioContext {
    try {
      return new AudioContext({ sampleRate, latencyHint: 'interactive' })
    } catch {
      return new AudioContext({ latencyHint: 'interactive' })
    }
  }

  private async open(): Promise<void> {
    if (!this.context) {
      this.context = this.contextAt(this.rate)
      await this.context.audioWorklet.addModule(workletUrl)
      this.node = new AudioWorkletNode(this.context, 'nullet-output', {
        numberOfInputs: 0,
        outputChannelCount: [2],
        processorOptions: { memory: this.memory, step: this.rate / this.context.sampleRate }
      })
      if (this.context.sampleRate !== this.rate) this.events.otherRate(this.context.sampleRate)
      this.node.connect(this.context.destination)
      if (this.device) await this.setDevice(this.device)
    }
    await this.context.resume()
  }

  /** Frame of source time that is heard now; null while nothing plays. */
  position(): number | null {
    if (!this.marks.length) return null
    const read = Atomics.load(this.ring.control, WORD.read)
    if (Atomics.load(this.ring.control, WORD.followed) !== Atomics.load(this.ring.control, WORD.jump))
      return this.marks[0].frame
    if (this.endAt !== null && ahead(read, this.endAt) === 0) {
      this.endAt = null
      this.events.ended()
      return null
    }
    const passed = this.marks.filter(m => ahead(m.at, read) < 2 ** 29)
    const mark = passed.at(-1)
    if (!mark) return this.marks[0].frame
    if (passed.length > 1) this.marks = this.marks.slice(passed.length - 1)
    return mark.frame + ahead(mark.at, read)
  }

  /** Frame of source time that has just left the loudspeaker, as far as the browser knows its way there. */
  heardFrame(): number | null {
    const at = this.position()
    return at === null ? null : Math.max(0, Math.round(at - (this.context?.outputLatency || 0) * this.rate))
  }

  /**
   * Highest values since the last call, by `channel/<id>`, `port/<id>`, `unit/<id>`, `ears`; `gain/<slot>` is the
   * lowest, `rms/…` their RMS. Reads only blocks that the output has taken.
   */
  meters(into: Map<string, number>): boolean {
    if (!this.marks.length) {
      this.lastSlotRead = -1
      return false
    }
    const now = Math.floor(Atomics.load(this.ring.control, WORD.read) / BLOCK)
    const last = this.lastSlotRead,
      from = last < 0 || now - last > METER_SLOTS / 2 || now < last ? Math.max(0, now - 1) : last
    if (now === from) return true
    this.reading.read(from, now, into)
    this.lastSlotRead = now
    return true
  }

  get underruns(): number {
    return Atomics.load(this.ring.control, WORD.underruns)
  }

  /** What the output puts out from now on. */
  capture(frames: number): Promise<{ left: Float32Array; right: Float32Array }> {
    return new Promise(done => {
      this.node!.port.onmessage = ({ data }: MessageEvent<{ left: Float32Array; right: Float32Array }>) => done(data)
      this.node!.port.postMessage({ capture: frames })
    })
  }

  render(
    tap: Extract<ToPlanner, { kind: 'render' }>['tap'],
    from: number,
    frames: number
  ): Promise<{ audio: Float32Array[]; sha256: string }> {
    return new Promise(done => {
      this.renders.set(++this.serial, done)
      this.send({ kind: 'render', serial: this.serial, tap, from, frames })
    })
  }

  async close(): Promise<void> {
    for (const worker of [this.planner, this.engine, this.helper]) worker?.terminate()
    await this.context?.close()
  }
}
