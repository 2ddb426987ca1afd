// The commands in a fresh process, from a package written by hand.
import { execFile } from 'node:child_process'
import { cpSync, mkdirSync, mkdtempSync, readFileSync, symlinkSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { promisify } from 'node:util'
import { createHash } from 'node:crypto'
import { beforeAll, describe, expect, it } from 'vitest'
import { compile } from '@nullet/core/compile/compile'
import { MemoryMedia } from '@nullet/core/run/memoryMedia'
import { PlanStream, renderWhole } from '@nullet/core/run/stream'
import { readPackage } from '@nullet/core/formats/package'
import { WavEncoder, wavHeader } from '@nullet/core/formats/wav'
import { WavReader } from '@nullet/core/formats/wavReader'
import { sine, whiteNoise } from '@nullet/core/testing/sound'
import { assertRoom } from './paths'

const run = promisify(execFile)
const folder = mkdtempSync(join(tmpdir(), 'nullet-cli-'))
const document = {
  nullet: 1,
  session: { name: 'By hand', sampleRate: 48000 },
  medium: [
    { id: 'di', name: 'DI', file: 'audio/di.wav' },
    { id: 'tone', name: 'Tone', file: 'audio/tone.wav' }
  ],
  channel: [
    { id: 'kora', name: 'Kora', kind: 'track', layout: ['M'] },
    { id: 'tone', name: 'Tone', kind: 'track', layout: ['M'], levelDb: -6, pan: -0.5 },
    { id: 'm1', name: 'Twin', kind: 'bus' },
    { id: 'm2', name: 'Twin', kind: 'bus' },
    { id: 'main', name: 'Main', kind: 'bus', role: 'main' }
  ],
  clip: [
    { id: 'c1', channel: 'kora', medium: 'di' },
    { id: 'c2', channel: 'tone', medium: 'tone' }
  ],
  feed: [
    { id: 'f1', kind: 'main', from: 'kora', to: 'main' },
    { id: 'f2', kind: 'main', from: 'tone', to: 'main' }
  ],
  slot: [
    { id: 's1', channel: 'main', processor: 'compressor', params: { thresholdDb: -30 } },
    { id: 's2', channel: 'kora', processor: 'equaliser', params: { kind1: 'bell', db1: 6 } }
  ]
}
const audio = { di: [whiteNoise(30000, 1, 0.3)], tone: [sine(30000, 440, 0.4)] }
const wavFile = (legs: Float32Array[]) =>
  Buffer.concat([wavHeader(legs.length, 48000, legs[0].length, '32f'), new WavEncoder('32f').encode(legs)])

const nullet = (...args: string[]) => nulletAt(undefined, ...args)
/** @param from the folder in which the user stands */
async function nulletAt(
  from: string | undefined,
  ...args: string[]
): Promise<{ code: number; out: string; err: string }> {
  try {
    const { stdout, stderr } = await run(process.execPath, [join(import.meta.dirname, '../build/cli.mjs'), ...args], {
      env: { ...process.env, ...(from ? { NULLET_CWD: from } : {}) }
    })
    return { code: 0, out: stdout, err: stderr }
  } catch (error) {
    const { code, stdout, stderr } = error as { code: number; stdout: string; stderr: string }
    return { code, out: stdout, err: stderr }
  }
}

beforeAll(() => {
  mkdirSync(join(folder, 'audio'))
  writeFileSync(join(folder, 'session.json'), JSON.stringify(document))
  for (const [name, legs] of Object.entries(audio)) writeFileSync(join(folder, `audio/${name}.wav`), wavFile(legs))
})

it('one thread and two print the same samples', async () => {
  const [one, two] = [join(folder, 'one'), join(folder, 'two')]
  for (const [out, threads] of [
    [one, '1'],
    [two, '2']
  ] as const)
    expect(
      (await nullet('print', folder, '--out', out, '--tap', 'Main', '--tap', 'Kora@input', '--threads', threads)).code
    ).toBe(0)
  for (const file of ['Main.wav', 'Kora input.wav'])
    expect(readFileSync(join(two, file)).equals(readFileSync(join(one, file)))).toBe(true)
  expect((await nullet('print', folder, '--out', one, '--threads', '7')).err).toMatch(/--threads takes 1 or 2/)
})

const samples = (path: string) => {
  const r = new WavReader('x')
  return r.push(readFileSync(path))!
}
const sha = (legs: Float32Array[]) => createHash('sha256').update(new WavEncoder('32f').encode(legs)).digest('hex')

describe('nullet print', () => {
  it('writes any tap, the same samples as the engine here gives at any request size, and a report', async () => {
    const out = join(folder, 'out')
    const { code, out: said } = await nullet(
      'print',
      folder,
      '--out',
      out,
      '--tap',
      'Main',
      '--tap',
      'kora@pre',
      '--tap',
      'Tone@input'
    )
    expect(code).toBe(0)
    const report = JSON.parse(readFileSync(join(out, 'report.json'), 'utf8'))
    expect(JSON.parse(said)).toEqual(report)
    const { session } = readPackage(JSON.stringify(document))
    for (const m of Object.values(session.medium)) m.frames = 30000
    const media = new MemoryMedia().set('di', audio.di).set('tone', audio.tone)
    for (const request of [64, 100, 4096]) {
      const taps = [{ channel: 'main', tap: 'post' as const }]
      const main = (
        await renderWhole(
          new PlanStream(compile(session, { taps }), session, media),
          { from: 0, frames: report.frames },
          request
        )
      ).get('main@post')!
      expect(sha(main)).toBe(report.taps[0].sha256)
    }
    expect(sha(samples(join(out, 'Main.wav')))).toBe(report.taps[0].sha256)
    expect(report.taps.map((t: { file: string }) => t.file)).toEqual(['Main.wav', 'Kora pre.wav', 'Tone input.wav'])
    expect(report.taps[2]).toMatchObject({ frames: 30000, residualDb: null })
    expect(report.taps[2].peakDb).toBeCloseTo(20 * Math.log10(0.4), 2)
  })

  it('takes a range in seconds, and 24 bits with dither near −144 dB of the live path', async () => {
    const out = join(folder, 'range')
    await nullet('print', folder, '--out', out, '--tap', 'Tone', '--from', '0.1', '--to', '0.5', '--depth', '24')
    const report = JSON.parse(readFileSync(join(out, 'report.json'), 'utf8'))
    expect(report).toMatchObject({ fromFrame: 4800, frames: 19200 })
    expect(Math.abs(report.taps[0].residualDb + 144.5)).toBeLessThan(0.3)
  })

  it.each([
    ['an ambiguous name', ['--tap', 'Twin'], /“Twin” is 2 channels: m1, m2/],
    ['an unknown name', ['--tap', 'Cello'], /There is no channel “Cello”. There are: .*Kora/],
    ['an unknown tap', ['--tap', 'Kora@side'], /a tap is input, pre or post/],
    ['an empty range', ['--from', '3', '--to', '2'], /range is empty/],
    ['an odd depth', ['--depth', '20'], /takes 16, 24 or 32f/]
  ])('%s is an error that says what there is', async (_, args, message) => {
    const { code, err } = await nullet('print', folder, '--out', join(folder, 'no'), ...args)
    expect(code).toBe(1)
    expect(err).toMatch(message)
  })
})

describe('the other commands', () => {
  it('check finds the buses that nothing feeds', async () => {
    const { findings } = JSON.parse((await nullet('check', folder)).out)
    expect(
      findings
        .filter((f: { check: string }) => f.check === 'unfedBus')
        .map((f: { check: string; about: string[] }) => `${f.check} ${f.about[0]}`)
    ).toEqual(['unfedBus m1', 'unfedBus m2'])
  })

  it('loudness agrees with ffmpeg', async () => {
    const path = join(folder, 'audio/tone.wav')
    const { integratedLufs } = JSON.parse((await nullet('loudness', path)).out)
    const { stderr } = await run('ffmpeg', ['-hide_banner', '-i', path, '-af', 'ebur128', '-f', 'null', '-'])
    expect(
      Math.abs(
        integratedLufs - Number(/I:\s+(-?[\d.]+) LUFS\s*$/m.exec(stderr.slice(stderr.lastIndexOf('Summary:')))![1])
      )
    ).toBeLessThanOrEqual(0.1)
  })

  it('ping asks for a loop that is there; a missing package is named', async () => {
    expect((await nullet('ping', folder, '--loop', 'Amp')).err).toMatch(/there is no such loop/)
    expect((await nullet('check', '/nowhere/at/all')).err).toMatch(/no package at/)
  })
})

describe('paths, lengths and what goes wrong', () => {
  it('paths are meant from where the user stands', async () => {
    expect((await nulletAt(folder, 'print', '.', '--out', 'here', '--tap', 'Tone', '--verify', 'none')).code).toBe(0)
    const report = JSON.parse(readFileSync(join(folder, 'here/report.json'), 'utf8'))
    expect(report).toMatchObject({ verify: 'none' })
    expect(report.taps[0]).not.toHaveProperty('residualDb')
    expect(JSON.parse((await nulletAt(join(folder, 'here'), 'loudness', 'Tone.wav')).out)).toMatchObject({
      file: 'Tone.wav',
      rangeLu: expect.any(Number)
    })
  })

  it('a fast proof reads back what was written', async () => {
    const { out } = await nullet('print', folder, '--out', join(folder, 'fast'), '--tap', 'Tone', '--verify', 'fast')
    expect(JSON.parse(out).taps[0]).toMatchObject({ asWritten: true })
  })

  it.each<[string, string[], RegExp]>([
    ['a range beyond a day', ['--to', '1e12'], /a session lasts at most 86400 s/],
    ['a seed of words', ['--seed', 'x'], /--seed takes a whole number/],
    ['a proof that is none', ['--verify', 'some'], /--verify takes none, fast or full/]
  ])('%s is refused at once', async (_, args, words) => {
    const { code, err } = await nullet('print', folder, '--out', join(folder, 'no'), ...args)
    expect([code, err]).toEqual([1, expect.stringMatching(words)])
    expect(err).not.toMatch(/Nothing was changed|\n\s+at /)
  })

  it.each<[string, () => string[], RegExp]>([
    ['a folder', () => ['loudness', folder], /is not a file: loudness is measured of one WAV file/],
    [
      '--out that is a file',
      () => ['print', folder, '--out', join(folder, 'session.json')],
      /session\.json is there already and is not a folder/
    ]
  ])('%s is said in a sentence', async (_, args, words) => {
    const { code, err } = await nullet(...args())
    expect([code, err]).toEqual([1, expect.stringMatching(words)])
    expect(err).not.toMatch(/\n\s+at |node:internal/)
  })

  it('more than there is room for is refused before anything is written', async () => {
    await expect(assertRoom(join(folder, 'not/there/yet'), 1e18)).rejects.toThrow(
      /This would write [\d,]+ MB, and .*yet has [\d,]+ MB left/
    )
    await expect(assertRoom(folder, 1000)).resolves.toBeUndefined()
  })

  const written = (name: string, more: object, odd = '') => {
    const at = join(folder, name)
    mkdirSync(at, { recursive: true })
    cpSync(join(folder, 'audio'), join(at, 'audio'), { recursive: true })
    writeFileSync(join(at, 'session.json'), odd + JSON.stringify({ ...document, ...more }))
    return at
  }

  it('a package in one enclosing folder opens, with a byte order mark too', async () => {
    written('outer/inner', {}, '\ufeff')
    expect(JSON.parse((await nullet('check', join(folder, 'outer'))).out)).toMatchObject({ session: 'By hand' })
  })

  it('media that are a folder or a link out of the package are refused by name', async () => {
    const dot = written('dot', {
      medium: [{ id: 'di', name: 'DI', file: '.' }],
      clip: [],
      channel: [],
      feed: [],
      slot: []
    })
    expect((await nullet('check', dot)).err).toMatch(/The medium “di” names \., which is not a file in the package/)
    const link = written('link', {})
    symlinkSync('/etc/hostname', join(link, 'audio/out.wav'))
    writeFileSync(
      join(link, 'session.json'),
      JSON.stringify({
        ...document,
        medium: [{ id: 'di', name: 'DI', file: 'audio/out.wav' }],
        clip: [],
        slot: [],
        feed: [],
        channel: []
      })
    )
    expect((await nullet('check', link)).err).toMatch(/“di” names audio\/out\.wav, which is a link out of the package/)
  })

  it('a name of 300 letters and a fault in a field are no trouble and a sentence', async () => {
    const long = written('long', {
      channel: [{ id: 'kora', name: 'K'.repeat(300), kind: 'track', layout: ['M'] }],
      clip: [{ id: 'c1', channel: 'kora', medium: 'di' }],
      feed: [],
      slot: []
    })
    expect(
      JSON.parse((await nullet('print', long, '--out', join(folder, 'long-out'), '--verify', 'none')).out).taps[0].file
        .length
    ).toBeLessThan(200)
    const bad = written('bad', {
      channel: [{ id: 'kora', name: 'K', kind: 'track', levelDb: 300 }],
      clip: [],
      feed: [],
      slot: []
    })
    expect((await nullet('check', bad)).err).toMatch(/The channel “kora” is not right: levelDb must be at most 48/)
  })

  it('a print through a unit that is off says so, in a line and in its report', async () => {
    const off = written('off', {
      rig: [{ id: 'loft', name: 'Loft' }],
      interface: [{ id: 'desk', rig: 'loft', name: 'Desk' }],
      port: [
        { id: 'o', interface: 'desk', name: 'Out 1', direction: 'out' },
        { id: 'i', interface: 'desk', name: 'In 1', direction: 'in' }
      ],
      unit: [{ id: 'amp', rig: 'loft', name: 'Tube amplifier', model: 'tube-amplifier', powered: false }],
      cable: [
        { id: 'w1', rig: 'loft', fromPort: 'o', toUnit: 'amp' },
        { id: 'w2', rig: 'loft', fromUnit: 'amp', toPort: 'i' }
      ],
      loop: [{ id: 'l', rig: 'loft', name: 'Amp loop', outPorts: ['o'], inPorts: ['i'] }],
      slot: [{ id: 's', channel: 'kora', processor: 'loop', loop: 'l' }]
    })
    const { out, err } = await nullet(
      'print',
      off,
      '--out',
      join(folder, 'off-out'),
      '--tap',
      'Kora',
      '--verify',
      'none'
    )
    expect(err).toMatch(/^nullet: Loop “Amp loop” on “Kora”: Tube amplifier is off\./)
    expect(JSON.parse(out).notes.join()).toMatch(/Tube amplifier is off/)
    expect(
      (await nullet('print', off, '--out', join(folder, 'off-out'), '--tap', 'Tone', '--verify', 'none')).err
    ).toBe('')
    expect(
      (await nullet('print', off, '--out', join(folder, 'off-out'), '--tap', 'Kora', '--verify', 'none', '--quiet')).err
    ).toBe('')
  })
})
