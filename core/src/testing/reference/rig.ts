// The ways through the rig in float64: ports out, cables, units, ports in. Inside it a sine of peak 1 is 0 dBu. Frames
// are those of the session: what converters and air take is in the samples, what a loop makes up for is taken off.
import { COMPENSATION_DELAY, CONVERTER_DELAY, compensationTaps, converterTaps } from '../../rig/fractional'
import { UNITS } from '../../rig/units'
import { byId, rows, settings, type Session } from '../../session/session'
import type { Loop, Row } from '../../session/rows'
import { bell, butterworth, filtered, type Leg } from './filters'
import type { Settings } from './heard'
import { bent } from './shaping'

const level = (db: number) => 10 ** (db / 20)
const times = (x: Leg, gain: number) => x.map(v => v * gain)
const clipped = (x: Leg, ceiling: number) => x.map(v => Math.max(-ceiling, Math.min(ceiling, v)))
/** y[n] = Σ taps[k] · x[n + ahead − k] */
const fir = (x: Leg, taps: number[], ahead = 0) =>
  x.map((_, n) => taps.reduce((sum, tap, k) => sum + tap * (x[n + ahead - k] ?? 0), 0))

type Unit = (inputs: Leg[], p: Settings, rate: number) => Leg[]

const summing: Unit = (inputs, p) => {
  const main = [0, 1].map(side =>
    inputs[0].map((_, n) => level(p.outputDb) * inputs.reduce((sum, x, i) => sum + (i % 2 === side ? x[n] : 0), 0))
  )
  return [...main, ...main.map(sum => times(sum, level(p.monitorDb)))]
}

const passiveEqualiser: Unit = (inputs, p, rate) =>
  inputs.map(x =>
    times(
      filtered(x, [
        bell('low shelf', parseFloat(`${p.lowHz}`), p.lowDb, 0.6, rate),
        bell('bell', 1000 * parseFloat(`${p.highHz}`), p.highDb, 0.8, rate),
        bell('high shelf', 14000, p.airDb, 0.7, rate)
      ]),
      level(-16)
    )
  )

const tubeAmplifier: Unit = ([x], p, rate) => {
  const first = filtered(x, [...butterworth('high', 45, 12, rate), bell('high shelf', 1800, 4, 0.7, rate)])
  const tone = filtered(bent(first, level(p.driveDb - 6), 0.12), [
    bell('low shelf', 120, p.bassDb, 0.7, rate),
    bell('bell', 600, p.middleDb, 0.6, rate),
    bell('high shelf', 2600, p.trebleDb, 0.7, rate)
  ])
  const speaker = filtered(bent(tone, level(p.driveDb / 2 - 6), 0.25), [
    ...butterworth('high', 72, 12, rate),
    bell('bell', 115, 3.5, 1.2, rate),
    bell('bell', 430, -3, 0.9, rate),
    bell('bell', 2500, 5, 1.1, rate),
    ...butterworth('low', 5200, 24, rate)
  ])
  const air = Math.round((p.distanceM / 343) * rate)
  return [speaker.map((_, n) => level(p.microphoneDb + 4) * (speaker[n - air] ?? 0))]
}

/** The units whose sound is a formula of few lines; units.test.ts measures all of them. */
const MODELS: Record<string, Unit> = {
  'wire': inputs => inputs,
  'summing-8': summing,
  'summing-16': summing,
  'reamp-attenuator': ([x], p) => [times(x, level(-p.lossDb))],
  'passive-equaliser': passiveEqualiser,
  'tube-amplifier': tubeAmplifier
}

/** splitmix64's finaliser. */
function hashed(x: bigint): bigint {
  const turn = (z: bigint, by: bigint, factor: bigint) => BigInt.asUintN(64, (z ^ (z >> by)) * factor)
  const start = BigInt.asUintN(64, x * 0x9e3779b97f4a7c15n)
  const z = turn(turn(start, 30n, 0xbf58476d1ce4e5b9n), 27n, 0x94d049bb133111ebn)
  return z ^ (z >> 31n)
}
const WORDS = [0n, 16n, 32n, 48n]
/** Four uniform numbers of sixteen bits a frame, together of the wanted RMS. */
const withNoise = (x: Leg, rms: number, seed: number) => {
  const own = hashed(BigInt(seed))
  return x.map((v, n) => {
    const word = hashed(BigInt.asUintN(64, own + BigInt(n)))
    const sum = WORDS.reduce((s, by) => s + Number((word >> by) & 0xffffn), 0)
    return v + ((sum - 131070) * rms * Math.sqrt(3)) / 65536
  })
}

export function rigReference(
  session: Session,
  frames: number,
  arriving: (port: string) => Leg,
  seedOf: (text: string) => number
) {
  const rate = settings(session).sampleRate,
    { seed } = settings(session)
  const deviceOf = (port: string) => session.interface[session.port[port].interface]
  const reference = (port: string) => session.port[port].referenceDbu ?? deviceOf(port).referenceDbu

  /** Cables as they are now: where a plug is in, what is normalled there is open. */
  const cables = rows(session, 'cable').sort(byId)
  const isPlug = (c: Row<'cable'>) => !c.inside && c.normalled === null
  const meet = (a: Row<'cable'>, b: Row<'cable'>) =>
    a.toPort === b.toPort && a.toUnit === b.toUnit && a.toJack === b.toJack
  const leave = (a: Row<'cable'>, b: Row<'cable'>) =>
    a.fromPort === b.fromPort && a.fromUnit === b.fromUnit && a.fromJack === b.fromJack
  const made = cables.filter(
    c =>
      c.normalled === null ||
      !cables.some(plug => isPlug(plug) && (meet(plug, c) || (c.normalled === 'full' && leave(plug, c))))
  )

  const sent = (port: string): Leg => withRoutes(times(arriving(port), level(session.port[port].trimDb)), port)
  /** What the interface itself adds; here no route leads back to where it begins. */
  function withRoutes(x: Leg, port: string): Leg {
    const by = level(session.port[port].direction === 'out' ? session.port[port].trimDb : 0)
    return made
      .filter(c => c.inside && c.toPort === port)
      .reduce((sum, { fromPort, levelDb }) => {
        const from = session.port[fromPort!].direction === 'in' ? portIn(fromPort!) : sent(fromPort!)
        return sum.map((v, n) => v + from[n] * level(levelDb ?? -Infinity) * by)
      }, x)
  }

  function converted(port: string): Leg {
    const x = clipped(sent(port), 1),
      delay = deviceOf(port).trueLatencySamples
    const whole = Math.floor(delay),
      inside = Math.min(whole, CONVERTER_DELAY)
    if (delay === whole) return x.map((_, n) => x[n - delay] ?? 0)
    const taps = converterTaps(inside, delay - whole)
    return fir(x, taps, inside - whole)
  }

  const behind = (id: string): Leg[] | null => {
    const unit = session.unit[id],
      model = UNITS[unit.model]
    if (!unit.powered && !model.passive) return null
    const p = { ...Object.fromEntries(model.settings.map(s => [s.name, s.initial])), ...unit.settings } as Settings
    const inputs = model.inputs.map((_, jack) =>
      clipped(
        arrivingAt(c => c.toUnit === id && c.toJack === jack, 0),
        level(model.clipDbu)
      )
    )
    return MODELS[unit.model](inputs, p, rate).map((x, jack) =>
      withNoise(x, level(model.noiseDbu) * Math.SQRT1_2, seedOf(`${seed}/${id}/${jack}`))
    )
  }

  function arrivingAt(ends: (cable: Row<'cable'>) => boolean, dbu: number): Leg {
    const sum = new Float64Array(frames)
    for (const cable of made.filter(c => !c.inside && ends(c))) {
      const x = cable.fromPort !== null ? converted(cable.fromPort) : behind(cable.fromUnit!)?.[cable.fromJack!]
      const isTurned = cable.inverts !== Boolean(cable.fromUnit && session.unit[cable.fromUnit].inverts)
      const gain = level((cable.fromPort ? reference(cable.fromPort) : 0) - dbu) * (isTurned ? -1 : 1)
      x?.forEach((v, n) => (sum[n] += v * gain))
    }
    return sum
  }

  function portIn(port: string): Leg {
    const device = deviceOf(port)
    let x = arrivingAt(c => c.toPort === port, reference(port))
    if (device.noiseDbfs !== null) x = withNoise(x, level(device.noiseDbfs), seedOf(`${seed}/${port}`))
    if (device.dcCornerHz !== null) {
      const k = (Math.PI * device.dcCornerHz) / rate
      x = filtered(x, [[1 / (1 + k), -1 / (1 + k), 0, (k - 1) / (k + 1), 0]])
    }
    return withRoutes(clipped(x, 1), port)
  }

  return {
    portIn,
    /** What is believed to be late comes so much earlier. */
    compensated(x: Leg, loop: Loop): Leg {
      if (!loop.compensated) return x
      const believed =
        loop.applied && loop.ping ? loop.ping.delaySamples : deviceOf(loop.outPorts[0]).reportedLatencySamples
      const whole = Math.ceil(believed)
      return fir(x, compensationTaps(whole - believed), whole + COMPENSATION_DELAY)
    }
  }
}
