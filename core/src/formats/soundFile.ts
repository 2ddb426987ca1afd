// What every reader of a sound file gives: its shape, what it says about itself, its samples as bytes arrive.

export interface SoundShape {
  legs: number
  sampleRate: number
  bits: number
  float: boolean
  frames: number | null
  /** What the file says its legs are; null where it does not. */ layout: string[] | null
}

/** What a file says about itself beside its samples. */
export interface Said {
  /** Samples since midnight at which it was recorded, at the file's own rate. */ timeReference: number | null
  title: string
}

/** Bytes in any pieces in, legs × frames out. @throws Refusal for what is not a sound file of its kind */
export interface SoundReader {
  readonly shape: SoundShape | null
  readonly said: Said
  push(bytes: Uint8Array): Float32Array[] | null
  /** Audio that only comes out when it is known that no more bytes come; to be called before `end`. */
  rest?(): Float32Array[] | null
  /** Gives back what it holds, also when a file is given up in the middle. */
  close?(): void
  /** To be called when no more bytes come. */
  end(): SoundShape
}

export const MOST_LEGS = 16
const LOWEST_RATE = 8000,
  HIGHEST_RATE = 384000
/** Why audio of a rate in Hz is not taken, in a sentence; null where it is. */
export const rateFault = (rate: number): string | null =>
  rate >= LOWEST_RATE && rate <= HIGHEST_RATE ? null : `a sample rate of ${rate} Hz is outside 8 to 384 kHz`

/** How files that are read are called at their end. */
export const SOUND_ENDINGS: readonly string[] = ['wav', 'wave', 'bwf', 'rf64', 'aif', 'aiff', 'aifc', 'flac']
const ENDING = new RegExp(`\\.(${SOUND_ENDINGS.join('|')})$`, 'i')
export const isSoundName = (file: string): boolean => ENDING.test(file)
/** A file's name without what says its kind. */
export const withoutEnding = (file: string): string => file.replace(ENDING, '')

/** Text as files hold it: ended by a zero, with blanks around it. */
export function textIn(view: DataView, at = 0, length = Infinity): string {
  const from = Math.min(at, view.byteLength),
    count = Math.max(0, Math.min(length, view.byteLength - from))
  return new TextDecoder()
    .decode(new Uint8Array(view.buffer, view.byteOffset + from, count))
    .split('\0')[0]!
    .trim()
    .slice(0, 300)
}
