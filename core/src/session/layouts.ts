// Speaker layouts: lists of labels. What a label means is said in `speakers.ts`, so that a layout is one line here.
import { dictionary } from '../foundation/dictionary'

export const STEREO: readonly string[] = ['L', 'R']

export const LAYOUTS: Record<string, string[]> = dictionary({
  'mono': ['M'],
  'stereo': [...STEREO],
  'LCR': ['L', 'R', 'C'],
  '2.1': ['L', 'R', 'LFE'],
  'quad': ['L', 'R', 'Ls', 'Rs'],
  '5.0': ['L', 'R', 'C', 'Ls', 'Rs'],
  '4.1': ['L', 'R', 'LFE', 'Ls', 'Rs'],
  '5.1': ['L', 'R', 'C', 'LFE', 'Ls', 'Rs']
})

export function layoutName(labels: readonly string[]): string {
  const own = labels.join()
  return (
    Object.keys(LAYOUTS).find(name => LAYOUTS[name]!.join() === own) ??
    (labels.length === 1 ? 'mono' : `${labels.length} legs`)
  )
}

/** A plain layout for so many legs: the first of the table that has them. */
export const layoutOf = (legs: number): string[] =>
  Object.values(LAYOUTS).find(l => l.length === legs) ?? Array.from({ length: legs }, (_, i) => `${i + 1}`)

/** The widest layout on both sides of a submix: what gathers these should have at least their width. */
export const widest = (layouts: readonly (readonly string[])[]): string[] => [
  ...([...layouts].sort((a, b) => b.length - a.length)[0] ?? STEREO)
]
