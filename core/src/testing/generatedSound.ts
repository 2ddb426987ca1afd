// For tests: generated networks with processors of all kinds, and noise for all their tracks.
import { PROCESSORS } from '../processors/table'
import { MemoryMedia } from '../run/memoryMedia'
import { rows, type Session } from '../session/session'
import { Dice, generatedNetwork, type NetworkSize } from './generated'
import { whiteNoise } from './sound'

/** A network with processors of all kinds but convolution, which wants a response; some legs turned. */
export function processedNetwork(seed: number, size: Partial<NetworkSize> = {}): Session {
  const dice = new Dice(seed),
    kinds = Object.keys(PROCESSORS).filter(id => id !== 'convolution')
  const k = generatedNetwork(seed, { tracks: 7, submixes: 3, returns: 2, stems: 2, sends: 4, keys: 3, ...size })
  for (const c of rows(k.session, 'channel')) {
    for (let n = dice.below(3); n > 0; n--)
      k.slot(c.id, dice.pick(kinds), {}, { mix: dice.chance(0.7) ? 1 : 0.4, afterFader: dice.chance(0.3) })
    if (dice.chance(0.3)) c.flippedLegs = [0]
  }
  return k.session
}

/** Noise for every medium of a session, each another. */
export function noiseFor(session: Session): MemoryMedia {
  const media = new MemoryMedia()
  rows(session, 'medium').forEach((m, n) =>
    media.set(
      m.id,
      Array.from({ length: m.legs }, (_, leg) => whiteNoise(m.frames, n * 16 + leg + 1, 0.3))
    )
  )
  return media
}
