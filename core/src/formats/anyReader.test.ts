import { describe, expect, it } from 'vitest'
import { AnyReader } from './anyReader'
import { isSoundName, rateFault, SOUND_ENDINGS, textIn, withoutEnding, type SoundReader } from './soundFile'
import { WavEncoder, wavHeader } from './wav'

const SHAPE = { legs: 1, sampleRate: 48_000, bits: 16, float: false, frames: 3, layout: null }
/** A reader that says what was asked of it. */
class Fake implements SoundReader {
  readonly shape = SHAPE
  readonly said = { timeReference: 5, title: 'Fake' }
  readonly pushed: Uint8Array[] = []
  closed = 0
  constructor(
    readonly name: string,
    readonly total: number | null
  ) {}
  push(bytes: Uint8Array) {
    this.pushed.push(bytes.slice())
    return [new Float32Array([bytes.length])]
  }
  rest = () => [new Float32Array([7])]
  close() {
    this.closed++
  }
  end = () => SHAPE
}
const bytes = (text: string) => new TextEncoder().encode(text)

describe('a reader by the first bytes of a file', () => {
  it('hands everything on, also what came before it was known what it is', () => {
    let fake: Fake | null = null
    const reader = new AnyReader('tune.bin', 99, { fLaC: (name, total) => (fake = new Fake(name, total)) })
    expect(reader.shape).toBeNull()
    expect(reader.said).toEqual({ timeReference: null, title: '' })
    expect(reader.rest()).toBeNull()
    reader.close()
    expect(reader.push(bytes('fL'))).toBeNull()
    expect(reader.push(bytes('a'))).toBeNull()
    expect(reader.push(bytes('C!'))).toEqual([new Float32Array([5])])
    expect(reader.push(bytes('more'))).toEqual([new Float32Array([4])])
    expect(fake!.pushed.map(p => new TextDecoder().decode(p))).toEqual(['fLaC!', 'more'])
    expect([fake!.name, fake!.total]).toEqual(['tune.bin', 99])
    expect(reader.shape).toBe(SHAPE)
    expect(reader.said.title).toBe('Fake')
    expect(reader.rest()).toEqual([new Float32Array([7])])
    reader.close()
    expect(fake!.closed).toBe(1)
    expect(reader.end()).toBe(SHAPE)
  })

  it.each(['RIFF', 'RF64', 'BW64', 'FORM'])('%s is known; what is not whole is said at its end', id => {
    const reader = new AnyReader('tune')
    expect(reader.push(bytes(`${id}xxxx`))).toBeNull()
    expect(() => reader.end()).toThrow(/^tune/)
  })

  it('reads a WAV whatever it is called', () => {
    const audio = [new Float32Array([0.5, -0.25, 1])]
    const file = [wavHeader(1, 44_100, 3, '32f'), new WavEncoder('32f').encode(audio)]
    const reader = new AnyReader('tune.flac')
    const got = file.flatMap(piece => reader.push(piece) ?? [])
    expect(got.flatMap(leg => [...leg])).toEqual([0.5, -0.25, 1])
    expect(reader.end()).toMatchObject({ legs: 1, sampleRate: 44_100, frames: 3, float: true })
  })

  it('refuses what it does not know, what is too short and what is empty, by name', () => {
    expect(() => new AnyReader('x.mp3').push(bytes('ID3!'))).toThrow('x.mp3: it is neither WAV, RF64, AIFF nor FLAC')
    const short = new AnyReader('x')
    short.push(bytes('RI'))
    expect(() => short.end()).toThrow('x: it is neither WAV, RF64, AIFF nor FLAC')
    expect(() => new AnyReader('x').end()).toThrow('x: the file is empty')
  })
})

describe('sound files', () => {
  it('are known by their endings, whatever their letters', () => {
    for (const ending of SOUND_ENDINGS) {
      expect(isSoundName(`Kora take 1.${ending.toUpperCase()}`)).toBe(true)
      expect(withoutEnding(`Kora.1.${ending}`)).toBe('Kora.1')
    }
    for (const name of ['wav', 'kora.wav.txt', 'kora.mp3', 'korawav']) {
      expect(isSoundName(name)).toBe(false)
      expect(withoutEnding(name)).toBe(name)
    }
  })

  it('have rates from 8 to 384 kHz', () => {
    expect([8000, 44_100, 384_000].map(rateFault)).toEqual([null, null, null])
    for (const rate of [7999, 384_001, 0, NaN])
      expect(rateFault(rate)).toBe(`a sample rate of ${rate} Hz is outside 8 to 384 kHz`)
  })

  it('hold text that ends with a zero, has blanks around it, and ends with the file', () => {
    const view = (text: string) => new DataView(bytes(text).buffer)
    expect(textIn(view('  Lake \0rest'))).toBe('Lake')
    expect(textIn(view('xxLake'), 2)).toBe('Lake')
    expect(textIn(view('xxLake at night'), 2, 4)).toBe('Lake')
    expect(textIn(view('xxLake'), 2, 100)).toBe('Lake')
    expect(textIn(view('x'), 5)).toBe('')
    expect(textIn(view('y'.repeat(400)))).toHaveLength(300)
  })
})
