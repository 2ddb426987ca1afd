// The work that figures are quoted for: 144 tracks with three bands and a keyed compressor each, four sends, 12
// submixes, 4 reverberant returns, 12 stems, a main with a limiter's stand-in.
import { Sketch } from '@nullet/core/testing/sketch'
import type { Session } from '@nullet/core/session/session'

export function headline(tracks = 144, frames = 48000 * 20): Session {
  const k = new Sketch('Headline', { sampleRate: 48000 })
  k.bus('main', { name: 'Main', role: 'main' })
  // Ratio 100 with look-ahead: what a limiter costs, until there is one.
  k.slot('main', 'limiter', { ceilingDb: -1, lookAheadMs: 1.5, releaseMs: 80 })
  for (let i = 0; i < 4; i++) {
    k.bus(`return${i}`, { name: `Return ${i + 1}`, role: 'return' })
    k.slot(`return${i}`, 'reverb', { decayS: 1 + i * 0.7 })
    k.main(`return${i}`, 'main')
  }
  for (let i = 0; i < 12; i++) {
    k.bus(`stem${i}`, { name: `Stem ${i + 1}`, role: 'stem' })
    k.main(`stem${i}`, 'main')
    k.bus(`submix${i}`, { name: `Submix ${i + 1}` })
    k.main(`submix${i}`, `stem${i}`)
  }
  for (let i = 0; i < tracks; i++) {
    k.medium(`m${i}`, 1, frames)
    const id = k.track(`t${String(i).padStart(3, '0')}`, `m${i}`, {
      name: `Track ${i + 1}`,
      pan: (i % 9) / 4 - 1,
      levelDb: -12
    })
    k.main(id, `submix${i % 12}`)
    for (let r = 0; r < 4; r++) k.send(id, `return${r}`, -18 - r)
    k.slot(id, 'equaliser', {
      kind1: 'low shelf',
      hz1: 110,
      db1: -3,
      kind2: 'bell',
      hz2: 900,
      db2: 2,
      kind3: 'high shelf',
      hz3: 6000,
      db3: 1.5
    })
    const slot = k.slot(id, 'compressor', { thresholdDb: -24, ratio: 3 })
    // Keyed from its neighbour, before that one's own slots: keys must not make a chain 144 long.
    if (i) k.key(`t${String(i - 1).padStart(3, '0')}`, slot, 'input')
  }
  return k.session
}

/** The same with every track silent for three quarters of the time: it sounds for 5 s every 20 s, each at its own. */
export function headlineWithGaps(frames: number): Session {
  const session = headline(144, frames),
    every = 20 * 48000
  session.clip = Object.fromEntries(
    Object.values(session.clip).flatMap((clip, i) =>
      Array.from({ length: Math.ceil(frames / every) + 1 }, (_, n) => {
        const startFrame = Math.round((n - 1 + ((i * 0.37) % 1)) * every)
        const cut = Math.max(0, -startFrame)
        return { ...clip, id: `${clip.id}-${n}`, startFrame: startFrame + cut, frames: every / 4 - cut }
      })
        .filter(c => c.frames > 0)
        .map(c => [c.id, c] as const)
    )
  )
  return session
}
