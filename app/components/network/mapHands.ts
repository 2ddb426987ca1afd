// What a strip of the Map is given by the Map around it: where it lies, what is known of it, what a hand does there.
import type { InjectionKey } from 'vue'
import type { MapPlaces } from './mapPlaces'
import type { Resting } from './resting'

export interface MapHands {
  places: MapPlaces
  resting: Pick<Resting, 'take'>
  /** Are these out of what the selection reaches? */
  dimmed(ids: readonly string[]): boolean
  /** Is a check about it? */
  checked(id: string): boolean
  pick(strip: { id: string; members?: readonly string[] }, e: Held): void
  open(id: string): void
  unfold(id: string): void
  /** A feed, from it. */
  draw(e: PointerEvent, id: string): void
}
export type Held = { shiftKey?: boolean; ctrlKey?: boolean; metaKey?: boolean }

export const MAP: InjectionKey<MapHands> = Symbol('map')
