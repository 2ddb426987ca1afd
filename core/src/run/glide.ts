// What a hand changes while sound is running is reached over some blocks, not at once: hands come thirty to sixty times
// a second and would be heard as steps. Every change fades in as a step through a Hann window, and changes add up: the
// way is that of the hand, smoothed. Only live; a render never changes its settings.
import { PI, sin } from '../foundation/elementary'
import type { Op } from '../plan/operations'

/** Kinds all of whose parameters may lie between settings. */
const GLIDING = new Set<Op['kind']>(['mix', 'equaliser', 'compressor', 'saturate', 'swing', 'bend'])
/** 48 ms at 48 kHz: longer than the time between two drawn frames, even on a slow machine. */
const BLOCKS = 18
/** How much of a change is still to come after so many blocks: 1 less the integral of the window. */
const LEFT = Array.from({ length: BLOCKS + 1 }, (_, n) => 1 - n / BLOCKS + sin((2 * PI * n) / BLOCKS) / (2 * PI))

interface Change {
  by: Float64Array
  done: number
}
interface Glide {
  target: readonly number[]
  changes: Change[]
}

export class Glides {
  private readonly open = new Map<Float64Array, Glide>()

  /** @param place the operation's parameters in memory */
  aim(op: Op, place: Float64Array): void {
    if (!GLIDING.has(op.kind)) {
      place.set(op.params)
      return
    }
    const glide = this.open.get(place),
      from = glide?.target ?? place
    if (op.params.every((p, i) => p === from[i])) return
    const change = { by: Float64Array.from(op.params, (p, i) => p - from[i]), done: 0 }
    this.open.set(place, { target: op.params, changes: [...(glide?.changes ?? []), change] })
  }

  /** One block further. */
  step(): void {
    for (const [place, glide] of this.open) {
      glide.changes = glide.changes.filter(c => ++c.done < BLOCKS)
      for (let i = 0; i < place.length; i++)
        place[i] = glide.changes.reduce((v, c) => v - c.by[i] * LEFT[c.done], glide.target[i])
      if (!glide.changes.length) this.open.delete(place)
    }
  }

  /** Somebody else says from now on where these are. */
  drop(place: Float64Array): void {
    if (this.open.size) this.open.delete(place)
  }

  /** Everything where it is meant to be. */
  settle(): void {
    for (const [place, glide] of this.open) place.set(glide.target)
    this.open.clear()
  }
}
