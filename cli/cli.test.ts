// The commands in a fresh process, from a package written by hand.
import { execFile } from 'node:child_process'
import { mkdirSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { promisify } from 'node:util'
import { createHash } from 'node:crypto'
import { beforeAll, describe, expect, it } from 'vitest'
import { compile } from '@nullet/core/compile/compile'
import { MemoryMedia } from '@nullet/core/run/memoryMedia'
import { PlanStream, renderWhole } from '@nullet/core/run/stream'
import { readPackage } from '@nullet/core/formats/package'
import { WavEncoder, WavReader, wavHeader } from '@nullet/core/formats/wav'
import { sine, whiteNoise } from '@nullet/core/testing/sound'

const run = promisify(execFile)
const folder = mkdtempSync(join(tmpdir(), 'nullet-cli-'))
const document = {
  nullet: 1, session: { name: 'By hand', sampleRate: 48000 },
  medium: [{ id: 'di', name: 'DI', file: 'audio/di.wav' }, { id: 'tone', name: 'Tone', file: 'audio/tone.wav' }],
  channel: [
    { id: 'kora', name: 'Kora', kind: 'track', layout: ['M'] }, { id: 'tone', name: 'Tone', kind: 'track', layout: ['M'], levelDb: -6, pan: -0.5 },
    { id: 'm1', name: 'Twin', kind: 'bus' }, { id: 'm2', name: 'Twin', kind: 'bus' }, { id: 'main', name: 'Main', kind: 'bus', role: 'main' }
  ],
  clip: [{ id: 'c1', channel: 'kora', medium: 'di' }, { id: 'c2', channel: 'tone', medium: 'tone' }],
  feed: [{ id: 'f1', kind: 'main', from: 'kora', to: 'main' }, { id: 'f2', kind: 'main', from: 'tone', to: 'main' }],
  slot: [{ id: 's1', channel: 'main', processor: 'compressor', params: { thresholdDb: -30 } }, { id: 's2', channel: 'kora', processor: 'equaliser', params: { kind1: 'bell', db1: 6 } }]
}
const audio = { di: [whiteNoise(30000, 1, 0.3)], tone: [sine(30000, 440, 0.4)] }
const wavFile = (legs: Float32Array[]) => Buffer.concat([wavHeader(legs.length, 48000, legs[0].length, '32f'), new WavEncoder('32f').encode(legs)])

async function nullet(...args: string[]): Promise<{ code: number, out: string, err: string }> {
  try {
    const { stdout, stderr } = await run(process.execPath, [join(import.meta.dirname, '../build/cli.mjs'), ...args])
    return { code: 0, out: stdout, err: stderr }
  } catch (error) {
    const { code, stdout, stderr } = error as { code: number, stdout: string, stderr: string }
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
  for (const [out, threads] of [[one, '1'], [two, '2']] as const) expect((await nullet('print', folder, '--out', out, '--tap', 'Main', '--tap', 'Kora@input', '--threads', threads)).code).toBe(0)
  for (const file of ['Main.wav', 'Kora input.wav']) expect(readFileSync(join(two, file)).equals(readFileSync(join(one, file)))).toBe(true)
  expect((await nullet('print', folder, '--out', one, '--threads', '7')).err).toMatch(/--threads takes 1 or 2/)
})

const samples = (path: string) => { const r = new WavReader('x'); return r.push(readFileSync(path))! }
const sha = (legs: Float32Array[]) => createHash('sha256').update(new WavEncoder('32f').encode(legs)).digest('hex')

describe('nullet print', () => {
  it('writes any tap, the same samples as the engine here gives at any request size, and a report', async () => {
    const out = join(folder, 'out')
    const { code, out: said } = await nullet('print', folder, '--out', out, '--tap', 'Main', '--tap', 'kora@pre', '--tap', 'Tone@input')
    expect(code).toBe(0)
    const report = JSON.parse(readFileSync(join(out, 'report.json'), 'utf8'))
    expect(JSON.parse(said)).toEqual(report)
    const { session } = readPackage(JSON.stringify(document))
    for (const m of Object.values(session.medium)) m.frames = 30000
    const media = new MemoryMedia().set('di', audio.di).set('tone', audio.tone)
    for (const request of [64, 100, 4096]) {
      const taps = [{ channel: 'main', tap: 'post' as const }]
      const main = (await renderWhole(new PlanStream(compile(session, { taps }), session, media), { from: 0, frames: report.frames }, request)).get('main@post')!
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
    ['an ambiguous name', ['--tap', 'Twin'], /“Twin” is 2 channels: m1, m2/], ['an unknown name', ['--tap', 'Cello'], /There is no channel “Cello”. There are: .*Kora/],
    ['an unknown tap', ['--tap', 'Kora@side'], /a tap is input, pre or post/], ['an empty range', ['--from', '3', '--to', '2'], /range is empty/], ['an odd depth', ['--depth', '20'], /takes 16, 24 or 32f/]
  ])('%s is an error that says what there is', async (_, args, message) => {
    const { code, err } = await nullet('print', folder, '--out', join(folder, 'no'), ...args)
    expect(code).toBe(1)
    expect(err).toMatch(message)
  })
})

describe('the other commands', () => {
  it('check finds the buses that nothing feeds', async () => {
    const { findings } = JSON.parse((await nullet('check', folder)).out)
    expect(findings.map((f: { check: string, about: string[] }) => `${f.check} ${f.about[0]}`)).toEqual(['unfedBus m1', 'unfedBus m2'])
  })

  it('loudness agrees with ffmpeg', async () => {
    const path = join(folder, 'audio/tone.wav')
    const { integratedLufs } = JSON.parse((await nullet('loudness', path)).out)
    const { stderr } = await run('ffmpeg', ['-hide_banner', '-i', path, '-af', 'ebur128', '-f', 'null', '-'])
    expect(Math.abs(integratedLufs - Number(/I:\s+(-?[\d.]+) LUFS\s*$/m.exec(stderr.slice(stderr.lastIndexOf('Summary:')))![1]))).toBeLessThanOrEqual(0.1)
  })

  it('ping asks for a loop that is there; a missing package is named', async () => {
    expect((await nullet('ping', folder, '--loop', 'Amp')).err).toMatch(/there is no such loop/)
    expect((await nullet('check', '/nowhere/at/all')).err).toMatch(/no package at/)
  })
})
