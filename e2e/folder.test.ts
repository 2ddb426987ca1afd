// From a folder of files to two prints, as a new user would: names, rates, layouts, pairs, kinds of files, one broken,
// one of 24 minutes; and what every view says before there is anything in it.
import { execFileSync } from 'node:child_process'
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import type { Page } from 'playwright-core'
import { byOrder, rows, type Session } from '@nullet/core/session/session'
import { whiteNoise } from '@nullet/core/testing/sound'
import { client, wav } from '../server/testing'
import { closeBrowser, openPage } from './support/browser'
import { answer, keys, pick, readSession, saved } from './support/hands'

const { url } = inject('stage')
const http = client(url)
const folder = mkdtempSync(join(tmpdir(), 'nullet-folder-'))
const RATE = 44_100,
  LONG_S = 24 * 60
let page: Page, complaints: string[], id: string

beforeAll(async () => {
  ;({ page, complaints } = await openPage(`${url}/`))
})
afterAll(async () => {
  await closeBrowser()
  rmSync(folder, { recursive: true, force: true })
})
const session = async (): Promise<Session> => {
  await saved(page)
  return readSession(url, id)
}
const tracks = (s: Session) =>
  rows(s, 'channel')
    .filter(c => c.kind === 'track')
    .sort(byOrder)
const named = (s: Session, name: string) => rows(s, 'channel').find(c => c.name === name)!

/** Noise of a second, a seed a leg. */
const write = (name: string, seed: number, legs = 1, rate = RATE, frames = rate) =>
  writeFileSync(
    join(folder, name),
    wav(
      Array.from({ length: legs }, (_, i) => whiteNoise(frames, seed * 10 + i, 0.1)),
      24,
      rate
    )
  )
function fill(): void {
  write('Kick In.wav', 1)
  write('Snare Top.wav', 2)
  write('OH L.wav', 3)
  write('OH R.wav', 4, 1, RATE, RATE - 2000)
  write('Room_1-L.wav', 5)
  write('Room_1-R.wav', 6)
  write('Bass DI.wav', 7, 1, 48_000)
  write('AcGtr_03.wav', 8)
  write('Lead Vox.wav', 9)
  write('BGV.wav', 10, 2)
  const source = join(folder, 'Lead Vox.wav'),
    quietly = { stdio: 'ignore' as const }
  execFileSync('sox', ['-D', source, join(folder, 'Tamb.aiff')], quietly)
  execFileSync('ffmpeg', ['-v', 'error', '-i', source, join(folder, 'Piano Lo.flac')], quietly)
  writeFileSync(join(folder, 'Broken.wav'), Buffer.from('RIFF and then nothing that is a file'))
  writeFileSync(join(folder, 'lyrics.txt'), 'la la la')
  mkdirSync(join(folder, 'deeper'))
  execFileSync('sox', ['-D', source, '-b', '16', join(folder, 'deeper', 'Shaker 2.wav')], quietly)
}

describe('a new session', () => {
  it('is made from the first page, and opens where the work begins, without a check', async () => {
    await page.getByRole('button', { name: 'New session' }).click()
    await answer(page, 'Own folder')
    await page.getByRole('heading', { name: 'Bring the tracks in' }).waitFor()
    id = /\/s\/([^/]+)\/sources/.exec(page.url())![1]!
    expect(await page.locator('[data-checks]').first().innerText()).toBe('no checks')
  })

  it.each([
    ['v n', 'The network begins with tracks', 'Bring in audio…'],
    ['v x', 'No crosspoints yet', 'Bring in audio…'],
    ['v o', 'Nothing to measure yet', 'Bring in audio…'],
    ['v r', 'No room is described yet', 'Describe a rig…'],
    ['v p', 'Nothing printed yet', 'Bring in audio…'],
    ['v t', 'Nothing moves yet', 'add a channel…']
  ])('%s says what the view is for, and the first step', async (stroke, title, step) => {
    await keys(page, stroke)
    await page.getByRole('heading', { name: title }).waitFor()
    await page.getByRole('button', { name: step }).first().waitFor()
  })

  it('the first step of a rig makes one that a loop can go through', async () => {
    await keys(page, 'v r')
    await page.click('[data-new-rig]')
    await page.getByLabel('name of the rig').fill('Kitchen')
    await page.click('[data-do]')
    await page.locator('.el-radio-button', { hasText: 'Kitchen' }).waitFor()
    await page.click('[data-new-loop]')
    await answer(page, 'Tube amplifier')
    await answer(page, 'Amp')
    const s = await session()
    expect(rows(s, 'rig').map(r => r.name)).toEqual(['Kitchen'])
    expect(s.session.session!.rig).toBe(rows(s, 'rig')[0]!.id)
    expect(rows(s, 'port')).toHaveLength(16)
    expect(rows(s, 'loop').map(l => [l.outPorts.length, l.inPorts.length])).toEqual([[1, 1]])
  })
})

describe('a folder', () => {
  it('comes in as a whole: every kind of file, at its own rate, one broken one aside', async () => {
    fill()
    await keys(page, 'v s')
    await page.setInputFiles('input[data-folder]', folder)
    await page.getByText('The session runs at 44.1 kHz now').waitFor()
    await page
      .getByText('13 files became tracks; 1 converted from 48 kHz to 44.1 kHz. 2 pairs of them can be stereo tracks.')
      .waitFor({ timeout: 90_000 })
    const s = await session()
    expect(tracks(s).map(t => [t.name, t.family])).toEqual([
      ['AcGtr_03', 'Guitars'],
      ['Bass DI', 'Bass'],
      ['BGV', 'Backing voices'],
      ['Kick In', 'Kick'],
      ['Lead Vox', 'Lead voice'],
      ['OH L', 'Drums'],
      ['OH R', 'Drums'],
      ['Piano Lo', 'Keys'],
      ['Room_1-L', 'Drums'],
      ['Room_1-R', 'Drums'],
      ['Shaker 2', 'Percussion'],
      ['Snare Top', 'Snare'],
      ['Tamb', 'Percussion']
    ])
    const medium = (name: string) => rows(s, 'medium').find(m => m.name === name)!
    // The same second in three kinds of files, through three readers.
    expect(medium('Tamb').sha256).toBe(medium('Lead Vox').sha256)
    expect(medium('Piano Lo').sha256).toBe(medium('Lead Vox').sha256)
    expect(await page.locator('.coming li').innerText()).toMatch(/Broken\.wav/)
    await page.locator('.coming li').getByText('dismiss').click()
  })

  it('its pairs become stereo tracks, one undo, and back again', async () => {
    await page.click('[data-pairs]')
    const pair = page.locator('[data-pair="OH"]')
    expect(await pair.innerText()).toMatch(/right is 45 ms shorter/)
    await page.getByLabel('name of OH L and its pair').fill('Overheads')
    await page.getByRole('button', { name: 'Make 2 stereo tracks' }).click()
    let s = await session()
    expect(tracks(s)).toHaveLength(11)
    expect(named(s, 'Overheads').layout).toEqual(['L', 'R'])
    await page.keyboard.press('Control+z')
    expect(tracks(await session())).toHaveLength(13)
    await page.keyboard.press('Control+Shift+z')
    s = await session()
    await page.locator(`[data-track="${named(s, 'Overheads').id}"] .name`).click()
    await keys(page, 'l m')
    s = await session()
    expect(tracks(s).map(t => t.name)).toContain('Overheads R')
    await page.keyboard.press('Control+z')
    expect(tracks(await session())).toHaveLength(11)
  })

  it('is arranged by family', async () => {
    await keys(page, 'a f')
    expect(tracks(await session()).map(t => t.name)).toEqual([
      'Overheads',
      'Room_1',
      'Kick In',
      'Snare Top',
      'Shaker 2',
      'Tamb',
      'Bass DI',
      'AcGtr_03',
      'Piano Lo',
      'Lead Vox',
      'BGV'
    ])
  })
})

describe('the first mix', () => {
  it('a drum submix, and two prints of it and of the voice', async () => {
    await keys(page, 'v m')
    const s = await session()
    await pick(page, named(s, 'Overheads').id)
    for (const name of ['Room_1', 'Kick In', 'Snare Top']) await pick(page, named(s, name).id, 'Control')
    await keys(page, 'n s')
    await answer(page, 'Drums')
    const drums = named(await session(), 'Drums')
    await pick(page, drums.id)
    await pick(page, named(s, 'Lead Vox').id, 'Control')
    await keys(page, 'p r')
    await page.click('[data-run]')
    await expect.poll(() => page.locator('[data-print]').count(), { timeout: 150_000 }).toBe(2)
    const after = await session()
    for (const print of rows(after, 'print')) {
      expect(print.residualDb ?? -Infinity).toBeLessThan(-120)
      expect(after.channel[print.channel]!.kind).toBe('track')
    }
  })
})

describe('a file of 24 minutes', () => {
  it('comes in like any other, and is found where it was put', async () => {
    const path = join(folder, 'Ambience long.wav')
    const form = ['-n', '-r', String(RATE), '-b', '16', path]
    execFileSync('sox', [...form, 'synth', String(LONG_S), 'sine', '220', 'gain', '-40'], { stdio: 'ignore' })
    await keys(page, 'v s')
    await page.setInputFiles('input[data-audio]', path)
    await page.getByText('One file became a track.').waitFor({ timeout: 90_000 })
    const s = await session()
    expect(named(s, 'Ambience long').family).toBe('Ambience')
    expect(rows(s, 'medium').find(m => m.name === 'Ambience long')!.frames).toBe(LONG_S * RATE)
  })
})

describe('where one left', () => {
  it('is where one comes back to: view, selection, what the view shows', async () => {
    const s = await session()
    await keys(page, 'v m')
    await page.goto(`${url}/s/${id}/network?sel=${named(s, 'Bass DI').id}`)
    await page.waitForSelector('[data-channel]')
    await saved(page)
    await keys(page, 'v x')
    await page.waitForSelector('[data-grid], .crosspoints, [role=grid]')
    await page.getByRole('link', { name: 'Nullet' }).click()
    await page.locator('[data-session="Own folder"] a').click()
    await page.waitForSelector('[data-grid], .crosspoints, [role=grid]')
    await expect.poll(() => page.url()).toMatch(new RegExp(`/network\\?sel=${named(s, 'Bass DI').id}$`))
  })
})

describe('the list of sessions', () => {
  it('shows each with its network and what it is, and finds by name', async () => {
    await page.goto(`${url}/`)
    const line = page.locator('[data-session="Own folder"]')
    await expect.poll(() => line.locator('rect').count()).toBeGreaterThan(10)
    expect(await line.innerText()).toMatch(/14 tracks[\s\S]*2 buses[\s\S]*24:00\.0[\s\S]*44\.1 kHz[\s\S]*MB/)
    await page.getByLabel('filter sessions').fill('nothing like it')
    await page.getByText('No session has that in its name.').waitFor()
    await page.getByLabel('filter sessions').fill('own folder')
    expect(await page.locator('[data-session]').count()).toBe(1)
  })

  it('renames, duplicates and removes, each undone', async () => {
    const verb = async (session: string, label: string) => {
      const name = `more for ${session}`
      await page.getByRole('button', { name, exact: true }).click()
      // The menu before may still be fading.
      await page.getByRole('menu', { name, exact: true }).getByRole('menuitem', { name: label }).click()
    }
    await verb('Own folder', 'Rename…')
    await answer(page, 'Own folder, mixed')
    await page.locator('[data-session="Own folder, mixed"]').waitFor()
    await verb('Own folder, mixed', 'Duplicate…')
    await answer(page, 'Own folder, mixed copy')
    const copy = page.locator('[data-session="Own folder, mixed copy"]')
    await copy.waitFor()
    const list = (await (await fetch(`${url}/api/sessions`)).json()) as { id: string; name: string; bytes: number }[]
    const [a, b] = ['Own folder, mixed', 'Own folder, mixed copy'].map(n => list.find(s => s.name === n)!)
    expect(b!.bytes).toBe(a!.bytes)
    const rowsOf = async (which: string) =>
      rows((await http.session(which)).session, 'channel')
        .map(c => c.name)
        .sort()
    expect(await rowsOf(b!.id)).toEqual(await rowsOf(a!.id))
    await verb('Own folder, mixed copy', 'Remove')
    await copy.waitFor({ state: 'detached' })
    await page.getByRole('button', { name: 'Undo' }).click()
    await copy.waitFor()
  })

  it('nothing was complained of', () => expect(complaints).toEqual([]))
})
