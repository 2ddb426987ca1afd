// Parallel compression through a loop, against the same compression without converters: what is left is what noise, the
// converters' corner at DC and the error of the ping leave, and no more.
import { describe, expect, it } from 'vitest'
import { applyEdit } from '../edits/apply'
import { ping, pingRow } from '../measure/ping'
import { UNITS } from '../rig/units'
import type { Session } from '../session/session'
import { butterworth, filtered } from '../testing/reference/filters'
import { Sketch } from '../testing/sketch'
import { difference, RATE, renderTaps, rmsDb, whiteNoise } from '../testing/sound'

const FRAMES = 4 * RATE
const FROM = RATE
const MIX = 0.5
const TRUE_SAMPLES = 141.37
/** Of the compressor itself: half of its oversampling filter. */
const UNIT_SAMPLES = 15
const NOISE_DBFS = -96
const CORNER_HZ = 1.6
const REFERENCE_DBU = 18

/** Noise between 60 Hz and 6 kHz, where the short filters of converters are flat. */
const sound = (seed: number) =>
  Float32Array.from(
    filtered(Float64Array.from(whiteNoise(FRAMES, seed, 0.25)), [
      ...butterworth('high', 60, 24, RATE),
      ...butterworth('low', 6000, 24, RATE)
    ])
  )
const media = { m: [sound(1), sound(2)] }

/** @param mix of the loop; what comes back alone at 1 */
function room(converters: boolean, mix: number): Session {
  const k = new Sketch()
  k.medium('m', 2, FRAMES)
  k.bus('main', { role: 'main' })
  k.main(k.track('t', 'm'), 'main')
  k.rig('r')
  k.interface('io', 'r', 2, 2, {
    referenceDbu: REFERENCE_DBU,
    reportedLatencySamples: 128 + UNIT_SAMPLES,
    ...(converters
      ? { trueLatencySamples: TRUE_SAMPLES, noiseDbfs: NOISE_DBFS, dcCornerHz: CORNER_HZ }
      : { trueLatencySamples: 128, noiseDbfs: null, dcCornerHz: null })
  })
  k.unit('comp', 'r', 'valve-compressor')
  for (const i of [0, 1]) {
    k.cable('r', `io-out-${i + 1}`, `comp:${i}`)
    k.cable('r', `comp:${i}`, `io-in-${i + 1}`)
  }
  const ports = (side: string) => [`io-${side}-1`, `io-${side}-2`]
  k.add('loop', { id: 'l', rig: 'r', name: 'Comp', outPorts: ports('out'), inPorts: ports('in') })
  k.add('slot', { id: 's', channel: 't', processor: 'loop', loop: 'l', mix })
  return k.session
}
async function pinged(session: Session): Promise<Session> {
  const loop = session.loop.l!
  const result = await ping(session, loop, { seed: 3 })
  if (!result.measured) throw new Error(result.reason)
  const fields = { ping: pingRow(session, loop, result, 'now'), applied: true }
  return applyEdit(session, { verb: 'setLoop', args: { id: 'l', fields } }).session
}
const main = async (session: Session) =>
  (await renderTaps(session, media, FRAMES, { taps: [{ channel: 'main', tap: 'post' }] })).get('main@post')!
const power = (x: ArrayLike<number>) => 10 ** (rmsDb(Array.from(x).slice(FROM)) / 10)
const inDb = (p: number) => 10 * Math.log10(p)

describe('parallel compression through a loop', () => {
  it('differs from the same without converters by what its noise, its corner and its ping error say, within 1 dB', async () => {
    const through = await pinged(room(true, MIX))
    const [got, plain, wet] = await Promise.all([main(through), main(room(false, MIX)), main(room(false, 1))])
    const error = through.loop.l!.ping!.delaySamples - TRUE_SAMPLES - UNIT_SAMPLES
    expect(Math.abs(error)).toBeLessThan(0.02)
    const converter = 10 ** (NOISE_DBFS / 10)
    // Of the unit both have their own: it runs on while the sound is earlier or later.
    const unit = 10 ** ((UNITS['valve-compressor']!.noiseDbu - REFERENCE_DBU) / 10) / 2
    const k = (Math.PI * CORNER_HZ) / RATE
    for (const leg of [0, 1]) {
      const x = Float64Array.from(wet[leg]!)
      const blocked = filtered(x, [[1 / (1 + k), -1 / (1 + k), 0, (k - 1) / (k + 1), 0]])
      // What is late by a little differs by its slope.
      const late = x.map((v, n) => (error * ((x[n + 1] ?? v) - (x[n - 1] ?? v))) / 2)
      const predicted = MIX ** 2 * (converter + 2 * unit + power(x.map((v, n) => blocked[n]! - v + late[n]!)))
      const left = power(difference(got[leg]!, plain[leg]!))
      expect(Math.abs(inDb(left) - inDb(predicted)), `${inDb(left)} dB, predicted ${inDb(predicted)} dB`).toBeLessThan(
        1
      )
    }
  })
})
