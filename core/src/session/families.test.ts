import { describe, expect, it } from 'vitest'
import { guessFamily } from './families'

// Names as files are called: take numbers, microphone positions, capitals, underscores.
const NAMES: [string, string][] = [
  ['Kora DI', 'Plucked'],
  ['01_KalimbaDI_v2', ''],
  ['Bass kalimba DI', 'Plucked'],
  ['dulcimer_L', 'Plucked'],
  ['AcousticGtr-03', ''],
  ['Gtr_Acoustic_01', 'Plucked'],
  ['banjo take 4', 'Plucked'],
  ['Harp close', 'Plucked'],
  ['ukulele.DI', 'Plucked'],
  ['12 Oud', 'Plucked'],
  ['Mandolin (double)', 'Plucked'],
  ['lute_room', 'Plucked'],
  ['BASS_DI', 'Bass'],
  ['Sub 808', 'Bass'],
  ['Bass amp 57', 'Bass'],
  ['Bass clarinet', 'Winds'],
  ['Contrabass flute', 'Winds'],
  ['Alto flute 1', ''],
  ['Oboe solo', 'Winds'],
  ['Sax_section', 'Winds'],
  ['Trumpet-2', 'Winds'],
  ['French Horn 3', 'Winds'],
  ['Glass harp', 'Winds'],
  ['Tuba', 'Winds'],
  ['Violin I', 'Strings'],
  ['Viola desk 2', 'Strings'],
  ['CELLO', 'Strings'],
  ['Strings room', 'Strings'],
  ['Fiddle_04', 'Strings'],
  ['Vln_2_close', 'Strings'],
  ['Piano L', 'Keys'],
  ['Organ lo', 'Keys'],
  ['Synth pad', 'Keys'],
  ['Rhodes_DI', 'Keys'],
  ['harmonium', 'Keys'],
  ['Celesta mic', 'Keys'],
  ['Kick in', 'Percussion'],
  ['KICK_OUT_03', 'Percussion'],
  ['Snare top', 'Percussion'],
  ['Snr_Btm', 'Percussion'],
  ['HiHat', 'Percussion'],
  ['hat.wav copy', 'Percussion'],
  ['Overheads L', 'Percussion'],
  ['Tom 1', 'Percussion'],
  ['Frame drum low', 'Percussion'],
  ['Shakers', 'Percussion'],
  ['bass drum 2', 'Percussion'],
  ['Heartbeat trigger', 'Percussion'],
  ['Choir 3', 'Choir'],
  ['Lead Vox', 'Choir'],
  ['BGV_hi_2', 'Choir'],
  ['Tenor close', 'Choir'],
  ['vocal dbl', 'Choir'],
  ['Soprano', 'Choir'],
  ['Narrator', 'Narration'],
  ['Dialogue boom', 'Narration'],
  ['lav_host', 'Narration'],
  ['Lake bed', 'Ambience'],
  ['wind stereo', 'Ambience'],
  ['Rain_04', 'Ambience']
]

describe('families guessed from names', () => {
  it('are right for at least nine names of ten, and wrong for none', () => {
    const right = NAMES.filter(([name, family]) => family !== '' && guessFamily(name).family === family)
    expect(right.length / NAMES.length).toBeGreaterThanOrEqual(0.9)
    for (const [name, family] of NAMES) expect([family, ''], name).toContain(guessFamily(name).family)
  })

  it('are left open where two families answer, or none', () => {
    for (const name of ['Audio 01', 'Take 7', 'drums and bass', 'untitled', ''])
      expect(guessFamily(name).family).toBe('')
  })
})
