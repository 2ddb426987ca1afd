// Tremolo: a level that swings, its phase counted from frame 0; the legs may swing apart.
import type { Processor } from './processor'

const RIGHT = new Set(['R', 'Rs'])

export const tremolo: Processor = {
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
      (p.hz as number) / sampleRate,
      (p.depth as number) / 100,
      p.shape === 'triangle',
      signal.layout.map(label => (RIGHT.has(label) ? -(p.apart as number) / 100 : 0))
    )
}
