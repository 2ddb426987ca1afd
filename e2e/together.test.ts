// Two tabs on one session, a database that goes away, a package out and in again, files that are dropped.
import { spawnSync } from 'node:child_process'
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, afterEach, describe, expect, inject, it } from 'vitest'
import { whiteNoise } from '@nullet/core/testing/sound'
import { migrate } from '../server/store/migrate'
import { wav } from '../server/testing'
import { closeBrowser, openPage } from './support/browser'
import { answer, keys, makeSession, readSession, saved } from './support/hands'
import { freePort, root, startServer, stopProcess } from './support/stage'

const { url } = inject('stage')

afterEach(async () => {
  await closeBrowser()
})
afterAll(closeBrowser)

describe('two tabs', () => {
  it('stay in step, and each undoes only its own work', async () => {
    await makeSession(url, 'two-tabs')
    const { page: one } = await openPage(`${url}/s/two-tabs/network`)
    const { page: two } = await openPage(`${url}/s/two-tabs/network`)
    await one.locator('[data-channel=main] .name').click()
    await two.locator('[data-channel=main]').waitFor()
    await one.keyboard.press('m')
    await one.keyboard.press('u')
    await two.locator('[data-channel=main].muted').waitFor()
    await two.locator('[data-channel=main] [role=slider]').focus()
    await two.keyboard.press('ArrowLeft')
    await one.locator('[data-channel=main] [data-level]', { hasText: '−0.5' }).waitFor()
    await one.keyboard.press('Control+z')
    await two.locator('[data-channel=main]:not(.muted)').waitFor()
    const s = await readSession(url, 'two-tabs')
    expect(s.channel.main).toMatchObject({ muted: false, levelDb: -0.5 })
  })

  it('that contradict each other: the later one is told what was gone, and nothing is half done', async () => {
    await makeSession(url, 'conflict')
    const { page: one } = await openPage(`${url}/s/conflict/network`)
    const { page: two } = await openPage(`${url}/s/conflict/network`)
    await one.waitForSelector('[data-channel=main]')
    await two.waitForSelector('[data-channel=main]')
    await keys(one, 'n b')
    await answer(one, 'Drums')
    await saved(one)
    await two.locator('.name', { hasText: 'Drums' }).waitFor()
    await keys(two, 'n b')
    await answer(two, 'Percussion')
    await saved(two)
    await one.locator('.name', { hasText: 'Percussion' }).waitFor()
    // What the second tab does is held back on its way, while the first one takes the bus away.
    let release = () => {}
    const held = new Promise<void>(done => {
      release = done
    })
    await two.route('**/edits', async route => {
      if (route.request().method() === 'POST') await held
      await route.continue()
    })
    await two.locator('.name', { hasText: 'Drums' }).click()
    await keys(two, 'f t')
    await answer(two, 'Percussion')
    await two.locator('.name', { hasText: 'Percussion' }).click()
    await keys(two, 'm u')
    await one.locator('.name', { hasText: 'Drums' }).click()
    await keys(one, 'r e')
    await saved(one)
    release()
    await two.locator('[role=alert], .notice', { hasText: 'not in this session any more' }).first().waitFor()
    await saved(two)
    for (const page of [one, two]) {
      await page.locator('.strip.muted .name', { hasText: 'Percussion' }).waitFor()
      expect(await page.locator('.name', { hasText: 'Drums' }).count()).toBe(0)
    }
    const s = await readSession(url, 'conflict')
    expect(
      Object.values(s.channel)
        .map(c => c.name)
        .sort()
    ).toEqual(['Main', 'Percussion'])
    expect(Object.values(s.feed).every(f => f.to === 'main')).toBe(true)
  })

  it('that move the same fader: the one that comes last counts, in both', async () => {
    await makeSession(url, 'same-fader')
    const { page: one } = await openPage(`${url}/s/same-fader/network`)
    const { page: two } = await openPage(`${url}/s/same-fader/network`)
    await one.waitForSelector('[data-channel=main]')
    await two.waitForSelector('[data-channel=main]')
    await Promise.all(
      [one, two].map(async (p, i) => {
        await p.locator('[data-channel=main] .name').click()
        await keys(p, 'l e')
        await answer(p, i ? '-9' : '-4')
      })
    )
    await Promise.all([saved(one), saved(two)])
    const level = (await readSession(url, 'same-fader')).channel.main!.levelDb!
    expect([-4, -9]).toContain(level)
    for (const page of [one, two])
      await expect.poll(() => page.locator('[data-channel=main] [data-level]').innerText()).toBe(`−${-level}.0`)
    // Undo of the overwritten one is refused with the reason; undo of the other brings back what it found.
    const loser = level === -9 ? one : two
    await loser.keyboard.press('Control+z')
    await loser.locator('text=cannot be taken back').waitFor()
  })
})

describe('files', () => {
  it('that are brought in become tracks; one that is broken says why and harms nothing', async () => {
    await makeSession(url, 'files')
    const folder = mkdtempSync(join(tmpdir(), 'nullet-files-'))
    const put = (name: string, bytes: Uint8Array | string) => {
      const path = join(folder, name)
      writeFileSync(path, bytes)
      return path
    }
    const { page } = await openPage(`${url}/s/files/sources`)
    await page.getByRole('heading', { name: 'Bring the tracks in' }).waitFor()
    await page.setInputFiles('[data-audio]', [
      put('Frame drum 1.wav', wav([whiteNoise(48000, 1)])),
      put('letter.wav', 'Dear all, this is no recording'),
      put('Lake bed.wav', wav([whiteNoise(44100, 2), whiteNoise(44100, 3)], 24, 44100)),
      put('Wide.wav', wav(Array.from({ length: 17 }, (_, i) => whiteNoise(2000, i + 1))))
    ])
    await page.locator('[data-track]', { hasText: 'Frame drum 1' }).waitFor()
    await page.locator('[data-track]', { hasText: '44.1 kHz' }).waitFor()
    await page.locator('.notice', { hasText: '1 converted from 44.1 kHz to 48 kHz' }).waitFor()
    await expect.poll(() => page.locator('.coming li', { hasText: 'letter.wav' }).innerText()).toMatch(/neither WAV/)
    await page.locator('.coming li', { hasText: 'Wide.wav' }).locator('text=Bring in as mono tracks').click()
    await page.locator('.tools', { hasText: '19 tracks' }).waitFor()
    await expect.poll(() => page.locator('[data-track]', { hasText: 'Frame drum 1' }).innerText()).toContain('guess')
  })
})

describe('a package', () => {
  it('is taken out by the menu and brought in on the first page', async () => {
    await makeSession(url, 'pack-me')
    const { page } = await openPage(`${url}/s/pack-me/network`)
    await page.locator('.session').click()
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.locator('text=Save as a session package').click()
    ])
    expect(download.suggestedFilename()).toBe('Session pack-me.zip')
    await page.goto(url)
    await page.setInputFiles('[data-package]', {
      name: 'x.zip',
      mimeType: 'application/zip',
      buffer: readFileSync(await download.path())
    })
    // It has no tracks: its work begins with them.
    await page.waitForURL(/\/s\/\w+\/sources/)
    await page.getByRole('heading', { name: 'Bring the tracks in' }).waitFor()
  })
})

describe('the database stopped while editing', () => {
  it('edits wait, the page says so, and nothing is lost', async () => {
    const state = mkdtempSync('/var/tmp/nullet-outage-')
    const database = (what: string) =>
      spawnSync(process.execPath, [join(root, 'tools/database.mjs'), what], {
        env: { ...process.env, NULLET_STATE: state },
        stdio: 'ignore'
      })
    database('start')
    const address = readFileSync(join(state, 'database-url'), 'utf8').trim()
    await migrate(address, join(root, 'server/store/migrations'))
    const port = await freePort()
    const server = await startServer(address, port)
    const base = `http://127.0.0.1:${port}`
    try {
      await makeSession(base, 'outage')
      const { page } = await openPage(`${base}/s/outage/network`)
      await page.locator('[data-channel=main] [role=slider]').focus()
      database('stop')
      await page.keyboard.press('ArrowLeft')
      await page.locator('[data-state]', { hasText: '1 edit waits' }).waitFor()
      await page.keyboard.press('ArrowLeft')
      await page.locator('[data-state]', { hasText: '2 edits wait' }).waitFor()
      await expect.poll(() => page.locator('[data-channel=main] [data-level]').innerText()).toBe('−1.0')
      database('start')
      await page.locator('[data-state]', { hasText: 'saved' }).waitFor()
      expect((await readSession(base, 'outage')).channel.main.levelDb).toBe(-1)
    } finally {
      await stopProcess(server)
      database('remove')
    }
  })
})
