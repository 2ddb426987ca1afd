/// <reference types="@types/audioworklet" />
// Runs on the audio thread: copies frames from the ring to the output, through another rate where the output has one,
// and does nothing else. Never allocates, never waits.
import { RateBridge } from './rateBridge'
import { RING_FRAMES, WORD, WRAP, ahead, ringOver, type Ring, type RingMemory } from './ring'

/** Frames over which sound fades when it stops or jumps. */
const FADE = 128

class Output extends AudioWorkletProcessor {
  private readonly ring: Ring
  private jump = 0
  private gain = 0
  private capture: { left: Float32Array; right: Float32Array; fill: number } | null = null

  private readonly bridge: RateBridge | null

  /** @param options.processorOptions.step frames of the session a frame of the output */
  constructor(options: { processorOptions: { memory: RingMemory; step: number } }) {
    super()
    this.bridge = options.processorOptions.step === 1 ? null : new RateBridge(options.processorOptions.step)
    this.ring = ringOver(options.processorOptions.memory)
    // For measurements: sends back what was put out.
    this.port.onmessage = ({ data }: MessageEvent<{ capture: number }>) => {
      this.capture = { left: new Float32Array(data.capture), right: new Float32Array(data.capture), fill: 0 }
    }
  }

  process(_: Float32Array[][], outputs: Float32Array[][]): boolean {
    const [left, right] = [outputs[0][0], outputs[0][1] ?? outputs[0][0]]
    const { control } = this.ring
    const jump = Atomics.load(control, WORD.jump)
    const leaving = jump !== this.jump || !Atomics.load(control, WORD.running)
    const took = leaving && this.gain === 0 ? 0 : this.take(left, right, leaving ? 0 : 1)
    left.fill(0, took)
    right.fill(0, took)
    if (jump !== this.jump && this.gain === 0) {
      this.jump = jump
      Atomics.store(control, WORD.read, Atomics.load(control, WORD.jumpTo))
      Atomics.store(control, WORD.followed, jump)
      this.gain = 1
    }
    this.record(left, right)
    return true
  }

  /** Copies what is there, moving the gain towards its aim. Returns the frames copied. */
  private take(left: Float32Array, right: Float32Array, aim: number): number {
    const { control } = this.ring
    const read = Atomics.load(control, WORD.read)
    const there = ahead(read, Atomics.load(control, WORD.written))
    const n = this.bridge ? (there >= this.bridge.needs(left.length) ? left.length : 0) : Math.min(left.length, there)
    if (n < left.length && aim) Atomics.add(control, WORD.underruns, 1)
    let taken = n
    if (this.bridge && n) {
      taken = this.bridge.run(this.ring.left, read, left, n)
      this.bridge.run(this.ring.right, read, right, n)
      this.bridge.advance(n)
    }
    for (let i = 0; i < n; i++) {
      const at = (read + i) % RING_FRAMES
      if (this.gain < aim) this.gain = Math.min(aim, this.gain + 1 / FADE)
      else if (this.gain > aim) this.gain = Math.max(aim, this.gain - 1 / FADE)
      left[i] = (this.bridge ? left[i] : this.ring.left[at]) * this.gain
      right[i] = (this.bridge ? right[i] : this.ring.right[at]) * this.gain
    }
    if (n < left.length && !aim) this.gain = 0
    Atomics.store(control, WORD.read, (read + taken) % WRAP)
    return n
  }

  private record(left: Float32Array, right: Float32Array): void {
    const c = this.capture
    if (!c) return
    const n = Math.min(left.length, c.left.length - c.fill)
    c.left.set(left.subarray(0, n), c.fill)
    c.right.set(right.subarray(0, n), c.fill)
    c.fill += n
    if (c.fill < c.left.length) return
    this.port.postMessage({ left: c.left, right: c.right })
    this.capture = null
  }
}

registerProcessor('nullet-output', Output)
