// Settings that follow envelopes, beside still ones: forty tracks with one slot each, of which one setting moves all
// the time or none. What forty tracks without slots take is told too.
import { compile } from '@nullet/core/compile/compile'
import { PlanStream } from '@nullet/core/run/stream'
import type { MediaReader } from '@nullet/core/run/mediaReader'
import type { Params } from '@nullet/core/session/rows'
import type { Session } from '@nullet/core/session/session'
import { Sketch } from '@nullet/core/testing/sketch'

const RATE = 48000,
  SECONDS = 6,
  SLOTS = 40,
  POINTS = 40,
  WARM = 1500,
  BLOCKS = 800,
  ROUNDS = 3

interface Moving {
  processor: string
  field: string
  /** The still one stands in the middle. */
  between: [number, number]
  params?: Params
}
const CASES: Moving[] = [
  {
    processor: 'equaliser',
    field: 'db2',
    between: [-9, 9],
    params: { kind1: 'low shelf', db1: 3, kind2: 'bell', db2: -3, kind3: 'high shelf', db3: 2 }
  },
  { processor: 'compressor', field: 'thresholdDb', between: [-40, -10] },
  { processor: 'gate', field: 'thresholdDb', between: [-60, -20] },
  { processor: 'saturation', field: 'driveDb', between: [0, 20] },
  { processor: 'delay', field: 'feedback', between: [0, 60] },
  { processor: 'tremolo', field: 'depth', between: [0, 100] },
  { processor: 'reverb', field: 'decayS', between: [1, 3] },
  // Loud enough that it works all the time, wherever its ceiling stands.
  { processor: 'limiter', field: 'ceilingDb', between: [-12, -6], params: { driveDb: 24 } }
]

function session({ processor, params, field, between }: Moving, moves: boolean, slots = true): Session {
  const k = new Sketch('Moving', { sampleRate: RATE }),
    frames = SECONDS * RATE
  k.bus('main', { role: 'main' })
  for (let i = 0; i < SLOTS; i++) {
    k.medium(`m${i}`, 1, frames)
    k.main(k.track(`t${i}`, `m${i}`), 'main')
    if (!slots) continue
    const slot = k.slot(`t${i}`, processor, { ...params, [field]: (between[0] + between[1]) / 2 })
    const points = Array.from({ length: POINTS }, (_, n): [number, number] => [
      Math.round((n * frames) / POINTS),
      between[n % 2]!
    ])
    if (moves) k.move({ slot }, field, points)
  }
  return k.session
}

/** Milliseconds a block. */
async function blockMs(of: Session, media: MediaReader): Promise<number> {
  const stream = new PlanStream(compile(of, { taps: [{ channel: 'main', tap: 'post' }] }), of, media)
  stream.start(0)
  for (let n = 0; n < WARM; n++) await stream.block()
  const begun = performance.now()
  for (let n = 0; n < BLOCKS; n++) await stream.block()
  return (performance.now() - begun) / BLOCKS
}

export async function moving(media: MediaReader, say: (what: string, figure: string) => void): Promise<void> {
  for (const one of CASES) {
    const times: number[][] = [[], [], []]
    // In turn, since the machine drifts; the best of each.
    for (let round = 0; round < ROUNDS; round++)
      for (const [i, of] of [session(one, false, false), session(one, false), session(one, true)].entries())
        times[i]!.push(await blockMs(of, media))
    const [bare, still, moves] = times.map(t => Math.min(...t)) as [number, number, number]
    say(
      `forty of ${one.processor}, ${one.field} in motion to still, time (without slots, still, in motion: ms a block)`,
      `${(moves / still).toFixed(2)} (${[bare, still, moves].map(ms => ms.toFixed(3)).join(', ')})`
    )
  }
}
