// An off-site pass by files; the stranger's studio is ffmpeg: another clock, another rate, turned, lower, late.
import { execFileSync, spawnSync } from 'node:child_process'
import { existsSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect, it } from 'vitest'
import { WavEncoder, wavHeader } from '@nullet/core/formats/wav'
import { whiteNoise } from '@nullet/core/testing/sound'
import { WavFile } from '../host/wavFile'

const folder = mkdtempSync(join(tmpdir(), 'nullet-offsite-'))
const at = (name: string) => join(folder, name)
const RATE = 48000
/** The mean of nine neighbours. */
const smooth = (x: Float32Array) =>
  x.map((_, n) => {
    let sum = 0
    for (let k = -4; k <= 4; k++) sum += x[n + k] ?? 0
    return sum / 9
  })
/** Noise below 6 kHz, with its ends faded. */
const noise = smooth(smooth(smooth(smooth(whiteNoise(4 * RATE, 3, 0.9)))))
const programme = noise.map((v, n) => v * Math.min(1, n / 2000, (noise.length - n) / 2000))
writeFileSync(
  at('di.wav'),
  Buffer.concat([wavHeader(1, RATE, programme.length, '32f'), new WavEncoder('32f').encode([programme])])
)
const nullet = (...args: string[]) =>
  spawnSync(process.execPath, [join(import.meta.dirname, '../build/cli.mjs'), ...args], { encoding: 'utf8' })
const studio = (filters: string, out: string, ...more: string[]) =>
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-i', at('feed.wav'), '-af', filters, ...more, at(out)])

it('goes out with marks, comes back by another clock and rate, turned and lower, and is laid in place', () => {
  const out = nullet('offsite-feed', at('di.wav'), '--out', at('feed.wav'), '--tail', '1')
  expect(out.status, out.stderr).toBe(0)
  expect(JSON.parse(out.stdout).seconds).toBeGreaterThan(12)
  // Played by a clock of 48,004 Hz: what was recorded is shorter by 83.3 ppm.
  studio(
    'asetrate=48004,aresample=44100:resampler=soxr:precision=28,volume=-7dB,aeval=-val(0),adelay=2500',
    'back.wav',
    '-c:a',
    'pcm_s24le'
  )
  const back = nullet('offsite-return', at('back.wav'), '--feed', at('feed.wav'), '--out', at('laid.wav'))
  expect(back.status, back.stderr).toBe(0)
  const said = JSON.parse(back.stdout)
  expect(said).toMatchObject({ convertedFromHz: 44100, polarity: 'was turned, turned back' })
  expect(said.gain).toMatch(/^-[67]\.\d+ dB, put right$/)
  expect(Math.abs(said.ppm - (48000 / 48004 - 1) * 1e6)).toBeLessThan(0.5)
  const file = new WavFile(at('laid.wav'))
  const [laid] = file.read(0, file.shape.frames)
  file.close()
  expect(file.shape).toMatchObject({ sampleRate: RATE, frames: programme.length + RATE })
  let rest = 0,
    all = 0
  for (let n = 5000; n < programme.length - 5000; n++) {
    rest += (laid![n]! - programme[n]!) ** 2
    all += programme[n]! ** 2
  }
  // Two conversions of rate by others' filters lie between.
  expect(10 * Math.log10(rest / all)).toBeLessThan(-70)
})

it.each([
  ['is cut short', () => studio('atrim=end=6', 'short.wav'), 'short.wav', /cannot be laid: it is cut short/],
  ['is another file', () => {}, 'di.wav', /cannot be laid: the marks are not in it/]
])('what %s is refused with the reason, and nothing is written', (_, make, file, reason) => {
  make()
  const refused = nullet('offsite-return', at(file), '--feed', at('feed.wav'), '--out', at('none.wav'))
  expect(refused.status).toBe(1)
  expect(refused.stderr).toMatch(reason)
  expect(existsSync(at('none.wav'))).toBe(false)
})

it('a feed that is none, a missing --feed and a file that is not there are said', () => {
  for (const [args, reason] of [
    [['offsite-return', at('di.wav'), '--feed', at('di.wav'), '--out', at('x.wav')], /is no feed file/],
    [['offsite-return', at('di.wav'), '--out', at('x.wav')], /--feed is missing/],
    [['offsite-feed', at('nothing.wav'), '--out', at('x.wav')], /nothing\.wav/]
  ] as const) {
    const { status, stderr } = nullet(...args)
    expect(status).toBe(1)
    expect(stderr).toMatch(reason)
    expect(stderr).not.toMatch(/ at .*\.mjs/)
  }
  expect(readFileSync(at('di.wav')).length).toBeGreaterThan(1000)
})
