// Two wires.
import type { UnitModel } from '../unit'

export const wire: UnitModel = {
  model: 'wire',
  label: 'Wire',
  version: 1,
  passive: true,
  apart: true,
  linear: true,
  figures: { nominalDbu: 4, distortion: [0, 0], bandHz: [10, 23000], crosstalkDb: 120, delayMs: 0 },
  noiseDbu: -Infinity,
  clipDbu: Infinity,
  about: 'Two wires: what goes in comes out. For tests of everything around it.',
  inputs: ['In 1', 'In 2'],
  outputs: ['Out 1', 'Out 2'],
  settings: [],
  build: inputs => inputs
}
