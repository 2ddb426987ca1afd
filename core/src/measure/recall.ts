// Recall by measurement: what has moved in a loop between two pings of it, in words.
import type { Ping, PingSide } from '../session/rows'
import { centresFor } from './centres'
import { isTurned } from './polarity'

/** Smaller differences are no news: of a level, of a part of the band against the rest, of time, noise, harmonics. */
const LEVEL_DB = 0.3,
  PART_DB = 0.4,
  DELAY_SAMPLES = 0.5,
  NOISE_DB = 3,
  DISTORTION_DB = 4,
  DEEPEST_DB = 36,
  /** Harmonics lower than this are not heard of. */
  LEAST_DISTORTION_DB = -75

/** Sentences without full stops, the weightiest first; none where the loop is as it was. */
export function whatMoved(before: Ping, after: Ping): string[] {
  const sides = pairs(before, after)
  const moved = sides.flatMap(([was, is], i) => sideMoved(sideName(is, i, sides.length), was, is, before, after))
  const later = after.delaySamples - before.delaySamples
  if (before.sampleRate === after.sampleRate && Math.abs(later) >= DELAY_SAMPLES)
    moved.push(`${Math.abs(later).toFixed(1)} samples ${later > 0 ? 'later' : 'earlier'}`)
  if (!sides.length) moved.push(...levelMoved('', after.gainDb - before.gainDb))
  moved.push(...noiseMoved(before, after), ...distortionMoved(before, after))
  return moved
}

const pairs = (before: Ping, after: Ping): [PingSide, PingSide][] =>
  (after.sides ?? []).flatMap((is): [PingSide, PingSide][] => {
    const was = before.sides?.find(s => s.name === is.name)
    return was ? [[was, is]] : []
  })

/** Before what is said of a side; nothing where there is only one. */
const sideName = (side: PingSide, index: number, count: number) =>
  count === 1 ? '' : `${count === 2 ? ['left side', 'right side'][index] : side.name}: `

function sideMoved(name: string, was: PingSide, is: PingSide, before: Ping, after: Ping): string[] {
  if (was.gainDb === null || is.gainDb === null)
    return was.gainDb === is.gainDb
      ? []
      : [`${name}${is.gainDb === null ? 'nothing comes back any more' : 'sound comes back again'}`]
  const [then, now] = [isTurned(was), isTurned(is)]
  const turned = then !== null && now !== null && then !== now ? [`${name}polarity is turned`] : []
  if (before.sampleRate !== after.sampleRate || was.responseDb.length !== is.responseDb.length)
    return [...levelMoved(name, is.gainDb - was.gainDb), ...turned]
  const centres = centresFor(after.sampleRate)
  const by = is.responseDb.map((db, i) => db - was.responseDb[i])
  const isHeard = heardAt(was, is)
  const level = commonest(by.filter((_, i) => isHeard[i]))
  // What lies beyond what is heard neither moves nor stays: a part that reaches so far reaches to the end.
  const [first, end] = [isHeard.indexOf(true), isHeard.lastIndexOf(true) + 1]
  const parts = by.map((d, i) => (isHeard[i] ? d - level : 0)).slice(Math.max(0, first), end)
  return [...levelMoved(name, level), ...partsMoved(name, parts, centres.slice(Math.max(0, first), end)), ...turned]
}

/** Centres where more than noise is measured: no further below the loudest than a sweep shows. */
const heardAt = (...sides: PingSide[]): boolean[] =>
  sides[0].responseDb.map((_, i) => sides.some(s => s.responseDb[i] > Math.max(...s.responseDb) - DEEPEST_DB))

const levelMoved = (name: string, db: number) =>
  Math.abs(db) >= LEVEL_DB ? [`${name}${size(db)} over the whole band`] : []

/** Neighbouring centres that moved the same way. */
function partsMoved(name: string, by: readonly number[], centres: readonly number[]): string[] {
  const found: string[] = []
  for (let i = 0; i < by.length;) {
    let end = i
    while (end < by.length && Math.abs(by[end]) >= PART_DB && by[end] > 0 === by[i] > 0) end++
    if (end > i) {
      const part = by.slice(i, end)
      const most = part.reduce((a, b) => (Math.abs(b) > Math.abs(a) ? b : a))
      found.push(`${name}${size(most)} ${where(i, end, centres)}`)
    }
    i = Math.max(end, i + 1)
  }
  return found
}

const size = (db: number) => `${Math.abs(db).toFixed(1)} dB ${db < 0 ? 'low' : 'high'}`

function where(from: number, end: number, centres: readonly number[]): string {
  const edge = (i: number) => hz(Math.sqrt(centres[i - 1] * centres[i]))
  if (from === 0) return `below ${edge(end)}`
  if (end === centres.length) return `above ${edge(from)}`
  return end - from === 1 ? `around ${hz(centres[from])}` : `between ${edge(from)} and ${edge(end)}`
}

/** Two figures: what a third of an octave can tell. */
function hz(value: number): string {
  const rounded = Number(value.toPrecision(2))
  return rounded < 1000 ? `${rounded} Hz` : `${rounded / 1000} kHz`
}

function noiseMoved(before: Ping, after: Ping): string[] {
  const by = (after.noiseDbfs ?? -Infinity) - (before.noiseDbfs ?? -Infinity)
  return Math.abs(by) >= NOISE_DB && Number.isFinite(by)
    ? [`noise ${Math.abs(by).toFixed(0)} dB ${by > 0 ? 'higher' : 'lower'}`]
    : []
}

/** Harmonics are compared only where both sweeps were equally loud. */
function distortionMoved(before: Ping, after: Ping): string[] {
  if (before.levelDb === undefined || before.levelDb !== after.levelDb) return []
  const [was, is] = [before, after].map(p => Math.max(LEAST_DISTORTION_DB, p.distortionDb ?? LEAST_DISTORTION_DB))
  return Math.abs(is - was) >= DISTORTION_DB
    ? [`distortion ${Math.abs(is - was).toFixed(0)} dB ${is > was ? 'higher' : 'lower'}`]
    : []
}

/** What most of them are, within a fifth of a dB: a part of the band that moved does not move the rest. */
function commonest(values: readonly number[]): number {
  const near = (v: number) => values.filter(o => Math.abs(o - v) <= 0.2)
  const most = values.map(near).reduce((a, b) => (b.length > a.length ? b : a), [])
  return most.reduce((a, b) => a + b, 0) / Math.max(1, most.length)
}
