// What a processor is given: whole legs in float64, its key, its settings.
import type { Leg } from './filters'

export type Audio = Leg[]
export type Settings = Record<string, number> & Record<string, string>
export interface Heard {
  audio: Audio
  key: Audio
  p: Settings
  rate: number
  layout: readonly string[]
}
