// Strips that are out of sight stay, and rest: nothing of them is worked out until they come into sight, or until the
// page has nothing else to do. Scrolling makes no element and changes none; what changes a whole session changes what
// is in sight, and the rest later.
import { getCurrentScope, inject, nextTick, shallowRef, type EffectScope, type InjectionKey } from 'vue'

/** What Vue works out for a part of a strip. */
export type Scope = Pick<EffectScope, 'pause' | 'resume'>

/** Takes it, so that it rests with the strip. */
export const RESTS: InjectionKey<(scope: Scope) => void> = Symbol('rests')

/** What is set up here rests with the strip that it is a part of, if it is one. */
export const restsWithStrip = () => inject(RESTS, null)?.(getCurrentScope()!)

/** So many are made, or brought up to date, when there is nothing else to do. */
export const AT_ONCE = 4

export class Resting {
  /** Strips that there are. */
  readonly made = shallowRef<ReadonlySet<string>>(new Set())
  private readonly strips = new Map<string, readonly Scope[]>()
  private all: readonly string[] = []
  private near: ReadonlySet<string> = new Set()
  /** Resting ones that may not be up to date. */
  private late: string[] = []
  private isWaiting = false

  /** @param whenIdle when there is nothing else to do */
  constructor(private readonly whenIdle: (act: () => void) => void) {}

  /** A strip that was made. @returns takes it out */
  take(id: string, scopes: readonly Scope[]): () => void {
    this.strips.set(id, scopes)
    if (!this.near.has(id)) this.rest(id)
    return () => {
      if (this.strips.get(id) === scopes) this.strips.delete(id)
    }
  }

  /** @param all that there may be, in the order in which they are made @param near what is in sight, or nearly */
  see(all: readonly string[], near: ReadonlySet<string>): void {
    for (const id of this.near) if (!near.has(id)) this.rest(id)
    for (const id of near) if (!this.near.has(id)) this.wake(id)
    this.near = near
    const made = this.made.value
    if (all !== this.all || [...near].some(id => !made.has(id)))
      this.made.value = new Set(all.filter(id => near.has(id) || made.has(id)))
    this.all = all
    this.goOn()
  }

  /** What strips show may have changed: those that rest are looked at when there is time. */
  changed(): void {
    this.late = [...this.strips.keys()]
    this.goOn()
  }

  private goOn(): void {
    if (this.isWaiting || (!this.late.length && this.made.value.size >= this.all.length)) return
    this.isWaiting = true
    this.whenIdle(() => void this.some())
  }

  private async some(): Promise<void> {
    const made = this.made.value,
      more = this.all.filter(id => !made.has(id)).slice(0, AT_ONCE)
    if (more.length) this.made.value = new Set([...made, ...more])
    else {
      const late = this.late.splice(0, AT_ONCE).filter(id => !this.near.has(id))
      late.forEach(this.wake)
      await nextTick()
      late.filter(id => !this.near.has(id)).forEach(this.rest)
    }
    this.isWaiting = false
    this.goOn()
  }

  private readonly rest = (id: string) => this.strips.get(id)?.forEach(s => s.pause())
  private readonly wake = (id: string) => this.strips.get(id)?.forEach(s => s.resume())
}
