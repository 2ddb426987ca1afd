// Spoilt files of every kind: each is read, or refused in a sentence that names what is wrong. Never another error,
// never a session that breaks a rule.
import { writeMidi } from 'midi-file'
import { describe, expect, it } from 'vitest'
import { applyEdit } from '../edits/apply'
import { spoiltBytes, spoiltJson, spoiltText } from '../testing/mutations'
import { firstBreach } from '../invariants/index'
import { Refusal } from '../foundation/refusal'
import { Dice, generatedNetwork } from '../testing/generated'
import { demoLike } from '../testing/demoLike'
import { planCrosspointsCsv, writeCrosspointsCsv } from './crosspointsCsv'
import { readMidi } from './midi'
import { readPackage, writePackage } from './package'
import { planTemplate } from '../propose/layTemplate'
import { readTemplate, takeTemplate } from './template'
import { WavEncoder, wavHeader, type Depth } from './wav'
import { WavReader } from './wavReader'
import { times } from '../testing/lengths'

const EACH = times(400, 12_000)

const demo = demoLike().session,
  network = generatedNetwork(3, { tracks: 6, submixes: 3, returns: 2, stems: 2, sends: 6, keys: 2 }).session
const documents = [demo, network].map(s => JSON.parse(writePackage(s)) as unknown)
const templates = [demo, network].map(s => takeTemplate(s, 'House network') as unknown)
const tables = [demo, network].map(s => [s, writeCrosspointsCsv(s)] as const)

const wavs = ([16, 24, '32f'] as Depth[]).flatMap(depth =>
  [1, 2, 5].map(legs => {
    const audio = Array.from({ length: legs }, (_, l) =>
      Float32Array.from({ length: 300 }, (_, n) => Math.sin((n * (l + 1)) / 9) / 2)
    )
    const header = wavHeader(legs, 48000, 300, depth),
      body = new WavEncoder(depth).encode(audio)
    return Uint8Array.from([...header, ...body])
  })
)
const midi = Uint8Array.from(
  writeMidi({
    header: { format: 1, numTracks: 2, ticksPerBeat: 480 },
    tracks: [
      [
        { deltaTime: 0, type: 'setTempo', microsecondsPerBeat: 500000, meta: true },
        {
          deltaTime: 0,
          type: 'timeSignature',
          numerator: 3,
          denominator: 4,
          metronome: 24,
          thirtyseconds: 8,
          meta: true
        },
        { deltaTime: 0, type: 'endOfTrack', meta: true }
      ],
      [
        { deltaTime: 0, type: 'trackName', text: 'Pulse', meta: true },
        ...[60, 64, 67].flatMap(n => [
          { deltaTime: 10, type: 'noteOn' as const, channel: 0, noteNumber: n, velocity: 90 },
          { deltaTime: 200, type: 'noteOff' as const, channel: 0, noteNumber: n, velocity: 0 }
        ]),
        { deltaTime: 0, type: 'endOfTrack', meta: true }
      ]
    ]
  })
)

function readWav(bytes: Uint8Array, dice: Dice): void {
  const reader = new WavReader('Spoilt.wav', dice.chance(0.5) ? bytes.length : null)
  let frames = 0
  for (let at = 0; at < bytes.length;) {
    const n = 1 + dice.below(400),
      audio = reader.push(bytes.subarray(at, at + n))
    if (audio) {
      frames += audio[0]!.length
      expect(audio.every(leg => leg.length === audio[0]!.length && leg.every(Number.isFinite))).toBe(true)
    }
    at += n
  }
  reader.end()
  expect(frames).toBeGreaterThan(0)
}

const jsonOrText = (dice: Dice, document: unknown) =>
  dice.chance(0.8) ? JSON.stringify(spoiltJson(dice, document)) : spoiltText(dice, JSON.stringify(document))

const READERS: Record<string, (dice: Dice) => void> = {
  WAV: dice => readWav(spoiltBytes(dice, dice.pick(wavs)), dice),
  MIDI: dice => {
    const { tracks, tempo } = readMidi(spoiltBytes(dice, midi), 'Spoilt.mid')
    expect([...tracks.flatMap(t => [t.lengthBeats, ...t.notes.flat()]), ...tempo.flat()].every(Number.isFinite)).toBe(
      true
    )
  },
  'session package': dice =>
    expect(firstBreach(readPackage(jsonOrText(dice, dice.pick(documents))).session)).toBeNull(),
  template: dice => {
    let n = 0
    const plan = planTemplate(readTemplate(jsonOrText(dice, dice.pick(templates))), demo, () => `new${++n}`)
    expect(firstBreach(applyEdit(demo, plan.edit).session)).toBeNull()
  },
  crosspoints: dice => {
    const [session, text] = dice.pick(tables)
    let n = 0
    const plan = planCrosspointsCsv(session, spoiltText(dice, text), {
      remove: dice.chance(0.5),
      newId: () => `new${++n}`
    })
    expect(firstBreach(plan.edits.reduce((s, e) => applyEdit(s, e).session, session))).toBeNull()
  }
}

describe('spoilt files', () => {
  it.each(Object.keys(READERS))(
    `${EACH} of the kind “%s” are read or refused in a sentence`,
    kind => {
      let read = 0,
        refused = 0
      for (let seed = 0; seed < EACH; seed++) {
        try {
          READERS[kind]!(new Dice(seed))
          read++
        } catch (error) {
          if (!(error instanceof Refusal))
            throw new Error(`seed ${seed}: ${(error as Error).message}`, { cause: error })
          expect(error.message, `seed ${seed}`).not.toMatch(/undefined|\[object|→ at|\n/)
          expect(error.message.length, `seed ${seed}`).toBeLessThan(900)
          refused++
        }
      }
      expect(read).toBeGreaterThan(0)
      expect(refused).toBeGreaterThan(0)
      if (process.env.NULLET_LONG) console.log(`spoilt files: ${kind}, ${read} read, ${refused} refused`)
    },
    600_000
  )
})
