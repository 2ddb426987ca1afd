// A pass outside by files, through the server: out between marks, a stranger's studio, in like any file, laid by a job.
import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { describe, expect, inject, it } from 'vitest'
import { offsiteFeed } from '@nullet/core/measure/offsite'
import { offsiteShape } from '@nullet/core/print/offsitePass'
import { inverse, rows, type RowChange } from '@nullet/core/session/session'
import { whiteNoise } from '@nullet/core/testing/sound'
import { WavFile } from '../host/wavFile'
import { client, wav } from './testing'

const { url } = inject('stage')
const http = client(url)
const folder = mkdtempSync(join(tmpdir(), 'nullet-away-'))
const at = (name: string) => join(folder, name)
const RATE = 48000
const mean = (x: Float32Array) =>
  x.map((_, n) => [-4, -3, -2, -1, 0, 1, 2, 3, 4].reduce((s, k) => s + (x[n + k] ?? 0), 0) / 9)
/** Noise below 6 kHz with faded ends. */
const noise = mean(mean(mean(mean(whiteNoise(3 * RATE, 3, 0.9)))))
const programme = noise.map((v, n) => v * Math.min(1, n / 2000, (noise.length - n) / 2000))
const START = 20_000

function readAll(path: string): Float32Array[] {
  const file = new WavFile(path)
  const audio = file.read(0, file.shape.frames)
  file.close()
  return audio
}
const studio = (filters: string, out: string, ...more: string[]) =>
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-i', at('feed.wav'), '-af', filters, ...more, at(out)])

async function fetched(id: string, medium: string, more: string): Promise<Buffer> {
  const answer = await fetch(`${url}/api/sessions/${id}/wav?medium=${medium}${more}`)
  expect(answer.status).toBe(200)
  return Buffer.from(await answer.arrayBuffer())
}
async function start(): Promise<{ id: string; sent: string }> {
  const id = await http.make()
  await http.upload(id, 'di', 'DI.wav', wav([programme]))
  const { session } = await http.session(id)
  const [clip] = rows(session, 'clip')
  await http.edit(id, 'placeClips', { clips: [{ id: clip!.id, startFrame: START }] })
  writeFileSync(at('feed.wav'), await fetched(id, clip!.medium, '&offsite=1'))
  return { id, sent: clip!.medium }
}
type Edits = { edits: { label: string; changes: RowChange[] }[] }
const lay = (id: string, sent: string, back: string) =>
  http.job(id, 'offsite', {
    ...{ source: 'di', sent, back, print: 'p', track: 'laid', clip: 'laid-clip', medium: 'laid-m' },
    ...{ name: 'DI, far', order: 'c' }
  })

describe('a pass outside', () => {
  it('by another clock and rate, turned, lower and late, is laid under what was sent; one undo takes it back', async () => {
    const { id, sent } = await start()
    expect(readAll(at('feed.wav'))).toEqual(offsiteFeed([programme], offsiteShape({ frames: programme.length }, RATE)))
    studio(
      'asetrate=48004,aresample=44100:resampler=soxr:precision=28,volume=-7dB,aeval=-val(0),adelay=2500',
      'back.wav',
      '-c:a',
      'pcm_s24le'
    )
    await http.upload(id, 'back', 'back.wav', readFileSync(at('back.wav')))
    const { session: before, revision, era } = await http.session(id)
    const job = await lay(id, sent, 'back')
    expect(job).toMatchObject({ state: 'done', error: null })
    const { notes } = job.result as { notes: string[] }
    expect(notes.join('; ')).toMatch(
      /found at \d\.\d+ s of “back”.*ppm slow, put right.*turned back.*gain was −[67].*put right/
    )
    const { session } = await http.session(id)
    expect(session.clip['laid-clip']).toMatchObject({ channel: 'laid', medium: 'laid-m', startFrame: START })
    expect(session.channel.back!.parked).toBe(true)
    expect(session.channel.di!.muted).toBe(true)
    expect(session.print.p).toMatchObject({ source: 'di', tap: 'input', verified: 'not yet', notes })
    writeFileSync(at('laid.wav'), await fetched(id, 'laid-m', ''))
    const [laid] = readAll(at('laid.wav'))
    let rest = 0,
      all = 0
    for (let n = 5000; n < programme.length - 5000; n++) {
      rest += (laid![n]! - programme[n]!) ** 2
      all += programme[n]! ** 2
    }
    expect(10 * Math.log10(rest / all)).toBeLessThan(-70)
    const { body } = await http.call<Edits>('GET', `/api/sessions/${id}/edits?base=${revision}&era=${era}`)
    expect(body.edits.map(e => e.label)).toEqual(['“DI, far” from outside'])
    await http.edit(id, 'revert', { label: 'Undo', changes: inverse(body.edits[0]!.changes) })
    expect((await http.session(id)).session).toEqual(before)
  })

  it.each([
    ['is cut short', () => studio('atrim=end=6', 'short.wav'), 'short.wav', /cannot be laid: it is cut short/],
    ['is another file', () => studio('atrim=start=4.5:end=7', 'other.wav'), 'other.wav', /the marks are not in it/]
  ])('what %s is refused with the reason, and everything stays', async (_, make, file, reason) => {
    const { id, sent } = await start()
    make()
    await http.upload(id, 'back', file, readFileSync(at(file)))
    const before = (await http.session(id)).session
    const job = await lay(id, sent, 'back')
    expect(job).toMatchObject({
      state: 'failed',
      error: { error: 'badFile', message: expect.stringMatching(reason), kept: 'It stays as it came.' }
    })
    expect((await http.session(id)).session).toEqual(before)
  })

  it('of a track that is not there any more says so', async () => {
    const { id, sent } = await start()
    await http.upload(id, 'back', 'b.wav', readFileSync(at('feed.wav')))
    await http.edit(id, 'removeChannels', { ids: ['di'] })
    expect(await lay(id, sent, 'back')).toMatchObject({
      state: 'failed',
      error: {
        error: 'notFound',
        message: 'What was sent is not on “di” any more',
        kept: 'What came back stays on its track.'
      }
    })
  })
})
