// A session of one's own: a folder of files comes in, at once, in order, at its own rate.
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import type { Page } from 'playwright-core'
import { byOrder, rows } from '@nullet/core/session/session'
import { whiteNoise } from '@nullet/core/testing/sound'
import { wav } from '../server/testing'
import { closeBrowser, openPage } from './support/browser'
import { makeSession, readSession, saved } from './support/hands'

const { url } = inject('stage')
const id = `own-${process.pid}`
let page: Page, complaints: string[]

beforeAll(async () => {
  await makeSession(url, id)
  ;({ page, complaints } = await openPage(`${url}/s/${id}/sources`))
  await page.waitForSelector('input[data-audio]', { state: 'attached' })
})
afterAll(closeBrowser)

const file = (name: string, rate: number, seed: number, legs = 1) => ({
  name,
  mimeType: 'audio/wav',
  buffer: Buffer.from(
    wav(
      Array.from({ length: legs }, (_, i) => whiteNoise(rate, seed * 10 + i)),
      24,
      rate
    )
  )
})

describe('a folder of files', () => {
  it('comes in at the rate that most of them have, in natural order, whatever one of them is', async () => {
    const files = [
      ...[10, 2, 1, 11].map(n => file(`Tom ${n}.wav`, 44_100, n)),
      file('Overheads.wav', 44_100, 20, 2),
      file('Room.wav', 96_000, 21, 2),
      { name: 'Letter.wav', mimeType: 'audio/wav', buffer: Buffer.from('Dear reader, this is no audio at all.') }
    ]
    await page.setInputFiles('input[data-audio]', files)
    await page.getByText('The session runs at 44.1 kHz now').waitFor()
    await page.getByText('6 files became tracks; 1 converted from 96 kHz to 44.1 kHz.').waitFor()
    await saved(page)
    const session = await readSession(url, id)
    expect(session.session.session!.sampleRate).toBe(44_100)
    const tracks = rows(session, 'channel')
      .filter(c => c.kind === 'track')
      .sort(byOrder)
    expect(tracks.map(t => t.name)).toEqual(['Overheads', 'Room', 'Tom 1', 'Tom 2', 'Tom 10', 'Tom 11'])
    expect(rows(session, 'medium').map(m => m.frames)).toEqual(Array.from({ length: 6 }, () => 44_100))
    const left = page.locator('.coming li')
    await expect.poll(() => left.count()).toBe(1)
    expect(await left.innerText()).toMatch(/Letter\.wav[\s\S]*it is neither WAV, RF64, AIFF nor FLAC/)
    await left.getByText('dismiss').click()
    await expect.poll(() => page.locator('.coming').count()).toBe(0)
  })

  it('is converted from now on: the rate of a session that holds audio stays', async () => {
    await page.setInputFiles('input[data-audio]', [file('Late.wav', 48_000, 30)])
    await page.getByText('One file became a track; 1 converted from 48 kHz to 44.1 kHz.').waitFor()
    const session = await readSession(url, id)
    expect(session.session.session!.sampleRate).toBe(44_100)
    expect(rows(session, 'channel').find(c => c.name === 'Late')).toBeDefined()
  })

  it('nothing was complained of', () => expect(complaints).toEqual([]))
})
