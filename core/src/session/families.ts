// Families of sources, and a guess from a file's name. The table is data: words that occur in names, and their family.
// A session may keep a table of its own.
import type { FamilyRule } from './rows'
import { settings, type Session } from './session'

/** The built-in table: family, colour (index into the twelve hues of the interface), words. */
export const FAMILIES: readonly FamilyRule[] = [
  {
    family: 'Plucked',
    colour: 0,
    words: [
      'kora',
      'kalimba',
      'dulcimer',
      'guitar',
      'gtr',
      'harp',
      'lute',
      'mandolin',
      'banjo',
      'sitar',
      'oud',
      'ukulele',
      'zither',
      'acoustic',
      'bass kalimba'
    ]
  },
  { family: 'Bass', colour: 1, words: ['bass', 'sub', 'contrabass'] },
  {
    family: 'Winds',
    colour: 4,
    words: [
      'clarinet',
      'flute',
      'oboe',
      'bassoon',
      'sax',
      'saxophone',
      'trumpet',
      'trombone',
      'horn',
      'tuba',
      'brass',
      'recorder',
      'whistle',
      'glass harp',
      'bass clarinet',
      'contrabass flute',
      'bass flute',
      'french horn'
    ]
  },
  { family: 'Strings', colour: 5, words: ['violin', 'viola', 'cello', 'strings', 'fiddle', 'vln', 'vla', 'vc'] },
  {
    family: 'Keys',
    colour: 9,
    words: ['piano', 'organ', 'keys', 'rhodes', 'wurli', 'synth', 'pad', 'clav', 'accordion', 'harmonium', 'celesta']
  },
  {
    family: 'Percussion',
    colour: 10,
    words: [
      'drum',
      'drums',
      'kick',
      'kik',
      'snare',
      'snr',
      'hat',
      'hihat',
      'tom',
      'toms',
      'cymbal',
      'overhead',
      'overheads',
      'shaker',
      'shakers',
      'tambourine',
      'conga',
      'bongo',
      'perc',
      'percussion',
      'clap',
      'claps',
      'ride',
      'crash',
      'rim',
      'cajon',
      'cowbell',
      'heartbeat',
      'timpani',
      'bass drum'
    ]
  },
  {
    family: 'Choir',
    colour: 2,
    words: [
      'choir',
      'vox',
      'vocal',
      'vocals',
      'voice',
      'voc',
      'singer',
      'sing',
      'bgv',
      'backing',
      'harmony',
      'soprano',
      'alto',
      'tenor',
      'baritone'
    ]
  },
  {
    family: 'Narration',
    colour: 6,
    words: ['narrator', 'narration', 'dialogue', 'dialog', 'speech', 'host', 'interview', 'boom', 'lav', 'lavalier']
  },
  {
    family: 'Ambience',
    colour: 3,
    words: [
      'lake',
      'wind',
      'rain',
      'birds',
      'ambience',
      'amb',
      'atmosphere',
      'drone',
      'bed',
      'sea',
      'forest',
      'city',
      'crowd',
      'waves',
      'thunder'
    ]
  }
]

/** The table that a session goes by: its own, else the built-in one. */
export const familyTable = (session: Session): readonly FamilyRule[] => settings(session).families ?? FAMILIES

export const familyColour = (family: string, table: readonly FamilyRule[] = FAMILIES): number =>
  table.find(f => f.family === family)?.colour ?? 8

/** A name as words: case, take numbers and punctuation do not count. */
export const wordsOf = (name: string): string =>
  name
    .toLowerCase()
    .replace(/[_\-.()[\]]+/g, ' ')
    .replace(/\d+/g, ' ')
    .replace(/\s+/g, ' ')
    .trim()

/**
 * A guess, or nothing when no word is known or two families answer. Words of several parts decide before single ones.
 */
export function guessFamily(name: string, table: readonly FamilyRule[] = FAMILIES): { family: string; colour: number } {
  const text = ` ${wordsOf(name)} `
  const answers = (fits: (word: string) => boolean) =>
    table.filter(f => f.words.some(w => fits(w) && text.includes(` ${w.toLowerCase()} `))).map(f => f.family)
  const phrases = answers(w => w.includes(' '))
  const found = phrases.length ? phrases : answers(w => !w.includes(' '))
  const [family] = found
  return family !== undefined && found.length === 1
    ? { family, colour: familyColour(family, table) }
    : { family: '', colour: 8 }
}
