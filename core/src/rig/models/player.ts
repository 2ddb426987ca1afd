// A made-up performer: plays a piece of audio of the session into whatever is plugged.
import { gainOf } from '../../foundation/elementary'
import type { UnitModel } from '../unit'

export const player: UnitModel = {
  model: 'player',
  label: 'Player',
  version: 1,
  passive: true,
  plays: true,
  apart: true,
  linear: true,
  noiseDbu: -Infinity,
  clipDbu: Infinity,
  about: 'Somebody at an instrument or a microphone: plays a piece of audio, from the beginning of the session.',
  inputs: [],
  outputs: ['Left', 'Right'],
  figures: { nominalDbu: 4, distortion: [0, 0], bandHz: null, crosstalkDb: null, delayMs: 0 },
  settings: [
    { name: 'levelDbu', label: 'Full scale, dBu', unit: 'dB', min: -60, max: 24, initial: 4 },
    { name: 'startS', label: 'Begins at', unit: 's', min: 0, max: 3600, initial: 0 }
  ],
  build: ([left, right], { builder, key, settings }) =>
    [left, right].map((side, i) => builder.gain(`${key}/level/${i}`, side, gainOf(settings.levelDbu as number)))
}
