// Families of sources, and a guess from a file's name. The table is data: words that occur in names, and their family.

/** Family, colour (index into the twelve hues of the interface), words. */
export const FAMILIES: readonly { family: string, colour: number, words: readonly string[] }[] = [
  { family: 'Plucked', colour: 0, words: ['kora', 'kalimba', 'dulcimer', 'guitar', 'gtr', 'harp', 'lute', 'mandolin', 'banjo', 'sitar', 'oud', 'ukulele', 'zither', 'acoustic'] },
  { family: 'Bass', colour: 1, words: ['bass', 'sub', 'contrabass'] },
  { family: 'Winds', colour: 4, words: ['clarinet', 'flute', 'oboe', 'bassoon', 'sax', 'saxophone', 'trumpet', 'trombone', 'horn', 'tuba', 'brass', 'recorder', 'whistle', 'glass harp'] },
  { family: 'Strings', colour: 5, words: ['violin', 'viola', 'cello', 'strings', 'fiddle', 'vln', 'vla', 'vc'] },
  { family: 'Keys', colour: 9, words: ['piano', 'organ', 'keys', 'rhodes', 'wurli', 'synth', 'pad', 'clav', 'accordion', 'harmonium', 'celesta'] },
  { family: 'Percussion', colour: 10, words: ['drum', 'drums', 'kick', 'kik', 'snare', 'snr', 'hat', 'hihat', 'tom', 'toms', 'cymbal', 'overhead', 'overheads', 'shaker', 'shakers', 'tambourine', 'conga', 'bongo', 'perc', 'percussion', 'clap', 'claps', 'ride', 'crash', 'rim', 'cajon', 'cowbell', 'heartbeat', 'timpani'] },
  { family: 'Choir', colour: 2, words: ['choir', 'vox', 'vocal', 'vocals', 'voice', 'voc', 'singer', 'sing', 'bgv', 'backing', 'harmony', 'soprano', 'alto', 'tenor', 'baritone'] },
  { family: 'Narration', colour: 6, words: ['narrator', 'narration', 'dialogue', 'dialog', 'speech', 'host', 'interview', 'boom', 'lav', 'lavalier'] },
  { family: 'Ambience', colour: 3, words: ['lake', 'wind', 'rain', 'birds', 'ambience', 'amb', 'atmosphere', 'drone', 'bed', 'sea', 'forest', 'city', 'crowd', 'waves', 'thunder'] }
]

/** Words that a longer name must not be mistaken for: they decide before the single words do. */
const PHRASES: readonly [string, string][] = [['bass clarinet', 'Winds'], ['bass drum', 'Percussion'], ['contrabass flute', 'Winds'], ['glass harp', 'Winds'], ['bass kalimba', 'Plucked'], ['bass flute', 'Winds'], ['french horn', 'Winds']]

export const familyColour = (family: string): number => FAMILIES.find(f => f.family === family)?.colour ?? 8

/** A guess, or nothing when no word is known or two families answer. */
export function guessFamily(name: string): { family: string, colour: number } {
  const text = name.toLowerCase().replace(/[_\-.()[\]]+/g, ' ').replace(/\d+/g, ' ').replace(/\s+/g, ' ').trim()
  const phrase = PHRASES.find(([words]) => text.includes(words))
  const words = new Set(text.split(' '))
  const found = phrase ? [phrase[1]] : FAMILIES.filter(f => f.words.some(w => words.has(w))).map(f => f.family)
  return found.length === 1 ? { family: found[0], colour: familyColour(found[0]) } : { family: '', colour: 8 }
}
