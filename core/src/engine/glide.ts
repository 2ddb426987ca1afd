// What a hand changes while sound is running is reached over some blocks, not at once: hands come sixty times a second
// and would be heard as steps. Only live; a render never changes its settings.
import type { Op } from './builder'

/** Kinds all of whose parameters may lie between two settings. */
const GLIDING = new Set<Op['kind']>(['mix', 'equaliser', 'compressor', 'saturate', 'swing'])
/** 32 ms at 48 kHz: longer than the time between two drawn frames. */
const BLOCKS = 12

interface Glide { from: Float64Array, to: readonly number[], place: Float64Array, done: number }

export class Glides {
  private readonly open = new Map<Float64Array, Glide>()

  /** @param place the operation's parameters in memory */
  aim(op: Op, place: Float64Array): void {
    if (!GLIDING.has(op.kind)) { place.set(op.params); return }
    const known = this.open.get(place)
    if (op.params.every((p, i) => p === (known ? known.to[i] : place[i]))) return
    this.open.set(place, { from: place.slice(), to: op.params, place, done: 0 })
  }

  /** One block further. */
  step(): void {
    for (const g of this.open.values()) {
      const share = ++g.done / BLOCKS
      for (let i = 0; i < g.place.length; i++) g.place[i] = share < 1 ? g.from[i] + (g.to[i] - g.from[i]) * share : g.to[i]
      if (share >= 1) this.open.delete(g.place)
    }
  }

  /** Somebody else says from now on where these are. */
  drop(place: Float64Array): void { this.open.delete(place) }

  /** Everything where it is meant to be. */
  settle(): void {
    for (const g of this.open.values()) g.place.set(g.to)
    this.open.clear()
  }
}
