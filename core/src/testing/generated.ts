// Networks of any size, the same for the same seed: for property tests and the bench.
import { hash32 } from '../foundation/seed'
import { Sketch } from './sketch'

/** Numbers from 0 up to 1, the same row for the same seed (xorshift32). */
export class Dice {
  private state: number
  constructor(seed: number) {
    this.state = hash32(`dice ${seed}`) || 1
  }

  next(): number {
    let s = this.state
    s ^= s << 13
    s ^= s >>> 17
    s ^= s << 5
    this.state = s
    return (s >>> 0) / 2 ** 32
  }

  below(n: number): number {
    return Math.floor(this.next() * n)
  }
  pick<T>(list: readonly T[]): T {
    return list[this.below(list.length)]
  }
  chance(p: number): boolean {
    return this.next() < p
  }

  /** n different ones. */
  some<T>(list: readonly T[], n: number): T[] {
    const left = [...list]
    return Array.from({ length: Math.min(n, left.length) }, () => left.splice(this.below(left.length), 1)[0])
  }
}

export interface NetworkSize {
  tracks: number
  submixes: number
  returns: number
  stems: number
  sends: number
  keys: number
  frames?: number
}

/**
 * Tracks into submixes (nested), stems, one main; sends to returns, keys into compressors. Never a circle: feeds go
 * forward only.
 */
export function generatedNetwork(seed: number, size: NetworkSize): Sketch {
  const dice = new Dice(seed)
  const k = new Sketch(`Generated ${seed}`)
  const ids = (prefix: string, n: number) => Array.from({ length: n }, (_, i) => `${prefix}${i}`)
  const tracks = ids('t', size.tracks),
    submixes = ids('b', size.submixes),
    returns = ids('r', size.returns),
    stems = ids('s', size.stems)
  tracks.forEach((id, i) => {
    k.medium(`m-${id}`, 1, size.frames ?? 1000)
    k.track(id, `m-${id}`, { name: `Voice ${i} of ${seed}`, family: `Family ${i % 9}` })
  })
  submixes.forEach((id, i) => k.bus(id, { name: `Group ${i} of ${seed}` }))
  returns.forEach((id, i) => k.bus(id, { name: `Space ${i} of ${seed}`, role: 'return' }))
  stems.forEach((id, i) => k.bus(id, { name: `Stem of part ${i}`, role: 'stem' }))
  k.bus('main', { name: 'Main', role: 'main' })
  k.session.session.session.heardChannel = 'main'
  const stage = (i: number) => [...submixes.slice(i + 1), ...stems, 'main']
  for (const id of tracks)
    k.main(id, dice.chance(0.8) && submixes.length ? dice.pick(submixes) : dice.pick(stage(submixes.length)))
  submixes.forEach((id, i) => k.main(id, dice.pick(stage(i))))
  for (const id of stems) k.main(id, 'main')
  for (const id of returns) k.main(id, stems.length && dice.chance(0.3) ? dice.pick(stems) : 'main')
  const senders = [...tracks, ...submixes]
  for (let i = 0; i < size.sends && returns.length; i++)
    k.send(dice.pick(senders), dice.pick(returns), -6 - dice.below(20), dice.chance(0.3) ? 'pre' : 'post')
  const slots = submixes.map(id => k.slot(id, 'compressor', { thresholdDb: -24 }))
  for (let i = 0; i < size.keys && slots.length; i++) k.key(dice.pick(tracks), dice.pick(slots))
  return k
}
