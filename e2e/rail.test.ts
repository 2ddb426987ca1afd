// The opened slot: what is seen while it sounds, its key heard, settings to begin with, responses, and how it is
// listened to.
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import type { Page } from 'playwright-core'
import { compile } from '@nullet/core/compile/compile'
import type { CompileOptions } from '@nullet/core/compile/plan'
import { PlanStream, renderWhole } from '@nullet/core/run/stream'
import { rows, settings, type Session } from '@nullet/core/session/session'
import { connectStore, type Sql } from '../server/store/connect'
import { DatabaseMedia } from '../server/store/mediaReader'
import { wav } from '../server/testing'
import { loadDemo } from '../demo/load'
import { closeBrowser, openPage } from './support/browser'
import { answer, apply, keys, pick, readSession, saved } from './support/hands'
import { capture, heardFor, heardIn, inPage, play, stop, WHERE_IT_RAN_DRY } from './support/sound'

const { url, database } = inject('stage')
const RATE = 48000
let page: Page, complaints: string[], sql: Sql

beforeAll(async () => {
  sql = connectStore(database, 4)
  await loadDemo(sql, 8, 'rail')
  ;({ page, complaints } = await openPage(`${url}/s/rail/network`))
  await page.waitForSelector('[data-channel=kora]')
  await apply(page, 'addSlot', {
    id: 'eq',
    channel: 'kora',
    processor: 'equaliser',
    params: { kind1: 'high shelf', hz1: 3000, db1: -12 },
    order: 'a0'
  })
  await apply(page, 'addSlot', {
    id: 'comp',
    channel: 'kora',
    processor: 'compressor',
    params: { thresholdDb: -30 },
    order: 'a1'
  })
  await apply(page, 'addKey', { ids: ['shakers'], slot: 'comp', feedIds: ['comp-key'] })
})
afterAll(async () => {
  await sql.end()
  await closeBrowser()
})

const session = async (): Promise<Session> => {
  await saved(page)
  return readSession(url, 'rail')
}
async function openSlot(channel: string, processor: string): Promise<string> {
  await keys(page, 'Escape Escape Escape')
  await pick(page, channel)
  await keys(page, 'Enter')
  const slot = rows(await session(), 'slot').find(s => s.channel === channel && s.processor === processor)!
  await page
    .locator('.rail .slot')
    .filter({
      hasText: { equaliser: 'Equaliser', compressor: 'Compressor', spectral: 'Spectral', convolution: 'Impulse' }[
        processor
      ]!
    })
    .first()
    .click()
  await page.waitForSelector('.panel')
  return slot.id
}
const closeRail = () => keys(page, 'Escape Escape')
/** What the output gets is, to the bit, part of this render. */
async function heardIs(options: Omit<CompileOptions, 'taps'>): Promise<void> {
  const now = await session()
  await heardFor(page, RATE * 0.5)
  const out = await capture(page, 14400)
  const latency = await inPage(page, async t => t.info.latency, null)
  const heard = { channel: settings(now).heardChannel!, latency, ...options.heard }
  const render = (
    await renderWhole(
      new PlanStream(compile(now, { taps: [], live: true, ...options, heard }), now, await DatabaseMedia.of(sql, now)),
      { from: 0, frames: RATE * 5 }
    )
  ).get('ears')!
  expect(heardIn(out, render, 4000)).toBeGreaterThan(0)
}

describe('while it sounds', WHERE_IT_RAN_DRY, () => {
  it('the equaliser shows the spectrum before and after it', async () => {
    await openSlot('kora', 'equaliser')
    await play(page, RATE)
    const after = page.locator('[data-after]')
    await after.waitFor()
    await expect
      .poll(
        async () =>
          new Set(
            (await after.getAttribute('points'))!
              .split(' ')
              .slice(0, 96)
              .map(p => p.split(',')[1])
          ).size
      )
      .toBeGreaterThan(10)
    await stop(page)
    await after.waitFor({ state: 'detached' })
    await closeRail()
  })

  it('a keyed compressor shows its live point and its key’s level; the key can be heard, and is what a render of it gives', async () => {
    const slot = await openSlot('kora', 'compressor')
    await play(page)
    await page.locator('[data-live-point]').waitFor()
    await expect.poll(() => page.locator('[data-key-level]').textContent()).not.toBe('−∞')
    await page.locator('[data-hear-key]').click()
    await page.locator('.keyed', { hasText: 'key of compressor' }).waitFor()
    await stop(page)
    await play(page)
    await heardIs({ heard: { keyOf: slot } as never })
    await stop(page)
    await closeRail()
    await page.locator('.keyed').waitFor({ state: 'detached' })
  })

  it('spectral keying shows carrier, key and result with its bands', async () => {
    await openSlot('drone', 'spectral')
    await play(page)
    await expect
      .poll(async () => ((await page.locator('[data-spectra] .out').getAttribute('points')) ?? '').length)
      .toBeGreaterThan(500)
    expect(await page.locator('[data-spectra] .analysis').count()).toBe(12)
    await stop(page)
    await closeRail()
  })

  it('it is heard in mono when that is wanted, and the print of it stays as it is', async () => {
    await keys(page, 'h o')
    await page.locator('[data-heard-as]', { hasText: 'mono' }).waitFor()
    await play(page)
    await heardIs({})
    const { legs: out } = await capture(page, 4800)
    expect(out[0]).toEqual(out[1])
    await stop(page)
    await keys(page, 'h o')
    await keys(page, 'h a')
    await answer(page, 'side')
    expect(settings(await session()).heardAs).toBe('side')
    await keys(page, 'h a')
    await answer(page, 'stereo')
  })
})

describe('settings', () => {
  it('a preset sets all of them, in one step of undo', async () => {
    const id = await openSlot('plucked', 'compressor')
    const before = (await session()).slot[id].params
    await page.locator('[data-presets]').click()
    await page.getByRole('menuitem', { name: 'Drum, more stick' }).click()
    expect((await session()).slot[id].params).toMatchObject({
      thresholdDb: -22,
      ratio: 5,
      attackMs: 28,
      detector: 'peak'
    })
    await page.keyboard.press('Control+z')
    expect((await session()).slot[id].params).toEqual(before)
    await closeRail()
  })

  it('a key is added from the slot', async () => {
    const id = await openSlot('plucked', 'compressor')
    await page.locator('[data-add-key]').click()
    await answer(page, 'Shakers')
    expect(
      rows(await session(), 'feed')
        .filter(f => f.slot === id)
        .map(f => f.from)
        .sort()
    ).toEqual(['narrator', 'shakers'])
    await closeRail()
  })

  it('the output device is asked for where the browser offers it', async () => {
    await keys(page, 'h d')
    await page.locator('form.ask, .notice').first().waitFor()
    await keys(page, 'Escape')
  })
})

/** So many seconds at 8 kHz. */
const at8kHz = (seconds: number, sample: (n: number) => number) =>
  Buffer.from(wav([Float32Array.from({ length: Math.round(seconds * 8000) }, (_, n) => sample(n))], '32f', 8000))

describe('a whole chain', () => {
  it('is compared with all its slots bypassed, at equal loudness, and is as it was afterwards', async () => {
    await keys(page, 'Escape Escape Escape')
    await pick(page, 'kora')
    await keys(page, 'Enter')
    await page.locator('[data-compare-chain]').click()
    await page.locator('.chain [data-levels]').waitFor()
    await page.locator('.chain [data-side=two]').click()
    const states = async () =>
      rows(await session(), 'slot')
        .filter(s => s.channel === 'kora' && ['eq', 'comp'].includes(s.id))
        .map(s => s.state)
    expect(await states()).toEqual(['bypassed', 'bypassed'])
    const [on, off] = (await page.locator('.chain [data-levels]').innerText())
      .match(/−?\d+\.\d/g)!
      .map(t => Number(t.replace('−', '-')))
    const trims = await inPage(page, async t => [...(t as unknown as { trims: Map<string, number> }).trims], null)
    expect(trims[0]![1]).toBeCloseTo(Math.min(0, on! - off!), 1)
    await page.locator('.chain [data-end-compare]').click()
    expect(await states()).toEqual(['on', 'on'])
  })
})

describe('an impulse reverb', () => {
  let id = ''
  it('begins with a response made by code, and shows how it dies away', async () => {
    await pick(page, 'kora')
    await keys(page, 'i n')
    await answer(page, 'Impulse reverb')
    await page.waitForSelector('.panel')
    id = rows(await session(), 'slot').find(s => s.processor === 'convolution')!.id
    await page.getByRole('img', { name: 'decay of the response' }).waitFor()
    await page.locator('.response .el-select').click()
    await page.getByRole('option', { name: /Stone chapel/ }).click()
    expect((await session()).slot[id].params.response).toBe('chapel')
  })

  it('takes a WAV, converted to the session’s rate, and plays it as it is rendered', WHERE_IT_RAN_DRY, async () => {
    await page
      .locator('[data-response]')
      .setInputFiles({
        name: 'Boat house.wav',
        mimeType: 'audio/wav',
        buffer: at8kHz(0.4, n => Math.sin(n * n) * Math.exp(-n / 600))
      })
    await page
      .getByText(/“Boat house.wav” is the impulse response now.*8000 Hz/)
      .first()
      .waitFor()
    const s = await session(),
      medium = s.medium[s.slot[id].params.response as string]
    expect(medium).toMatchObject({ name: 'Boat house', sampleRate: 48000, originalRate: 8000 })
    expect(rows(s, 'channel').some(c => c.name === 'Boat house')).toBe(false)
    await play(page)
    await heardIs({ probe: id })
    await stop(page)
  })

  it.each([
    ['one that is too long', 'Long.wav', 31, /“Long” is 31.0 s long; an impulse response has/],
    ['one with nothing in it', 'Empty.wav', 0, /Empty.wav/]
  ])('%s is refused, and the response stays', async (_, name, seconds, why) => {
    const before = (await session()).slot[id].params.response
    await page
      .locator('[data-response]')
      .setInputFiles({ name, mimeType: 'audio/wav', buffer: at8kHz(seconds, () => 0.1) })
    await page.getByText(why).first().waitFor()
    const s = await session()
    expect(s.slot[id].params.response).toBe(before)
    expect(rows(s, 'medium').some(m => m.file === name)).toBe(false)
  })

  it('nothing was complained about', () => {
    expect(complaints.filter(c => !/400|422|Failed to load/.test(c))).toEqual([])
  })
})
