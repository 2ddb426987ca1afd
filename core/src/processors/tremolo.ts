// Tremolo: a level that swings, its phase counted from frame 0; the legs may swing apart.
import { speaker } from '../session/speakers'
import { type Derived, type Processor, derived, standingsOf, valuesOf } from './processor'

const isRight = (label: string) => (speaker(label).angleDeg ?? 0) < 0

/** As the kernel wants them: turns a frame, depth. */
const SWING: readonly Derived[] = [
  derived('hz', (hz, sampleRate) => hz / sampleRate),
  derived('depth', percent => percent / 100)
]

export const tremolo: Processor = {
  standsIn: (setting, _, sampleRate) => standingsOf('swing', SWING, setting, sampleRate),
  id: 'tremolo',
  label: 'Tremolo',
  version: 1,
  keyed: false,
  linear: true,
  parameters: [
    { name: 'hz', label: 'Speed', unit: 'Hz', min: 0.05, max: 30, law: 'ratio', initial: 4 },
    { name: 'depth', label: 'Depth', unit: '%', min: 0, max: 100, initial: 60 },
    { name: 'shape', label: 'Shape', choices: ['sine', 'triangle'], initial: 'sine' },
    { name: 'apart', label: 'Right leg later by', unit: '%', min: 0, max: 100, initial: 0 }
  ],
  build: (signal, { builder, key, params: p, sampleRate }) =>
    builder.swing(
      key,
      signal,
      valuesOf(SWING, p, sampleRate),
      p.shape === 'triangle',
      signal.layout.map(label => (isRight(label) ? -(p.apart as number) / 100 : 0))
    )
}
