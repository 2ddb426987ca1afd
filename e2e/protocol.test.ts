// The session protocol under real hands: pages of one browser that share its storage and one event stream, answers that
// are lost, reloads, sessions that are switched, pages that are closed while they wait, undo of what the server did.
import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { BrowserContext, Page } from 'playwright-core'
import { afterAll, afterEach, describe, expect, inject, it } from 'vitest'
import { whiteNoise } from '@nullet/core/testing/sound'
import { wav } from '../server/testing'
import { closeBrowser, openBrowser } from './support/browser'
import { apply, keys, makeSession, readSession, saved } from './support/hands'

const { url } = inject('stage')
let context: BrowserContext | undefined

async function openContext(): Promise<BrowserContext> {
  context = await (await openBrowser()).newContext({ viewport: { width: 1280, height: 800 } })
  context.setDefaultTimeout(Number(process.env.NULLET_PATIENCE_MS ?? 20_000))
  return context
}
async function open(id: string, view = 'network'): Promise<Page> {
  const page = await (context ?? (await openContext())).newPage()
  await page.goto(`${url}/s/${id}/${view}`)
  await page.locator('[data-state]', { hasText: 'saved' }).waitFor()
  return page
}
afterEach(async () => {
  await context?.close()
  context = undefined
})
afterAll(closeBrowser)

/** Lowers the main by half a dB. */
async function lower(page: Page): Promise<void> {
  await page.locator('[data-channel=main] [role=slider]').focus()
  await page.keyboard.press('ArrowLeft')
}
const level = (page: Page) => page.locator('[data-channel=main] [data-level]')
const edits = (page: Page, act: (go: () => Promise<void>, abort: () => Promise<void>) => Promise<void>) =>
  page.route('**/edits', async route => {
    if (route.request().method() !== 'POST') return route.continue()
    await act(
      async () => route.continue(),
      async () => route.abort()
    )
  })

describe('an answer that is lost', () => {
  it('and the page loaded anew: the gesture is there once', async () => {
    await makeSession(url, 'lost-answer')
    const page = await open('lost-answer')
    await page.route('**/edits', async route => {
      if (route.request().method() !== 'POST') return route.continue()
      // The server gets it and answers; the answer never arrives.
      await fetch(`${url}${new URL(route.request().url()).pathname}`, {
        method: 'POST',
        body: route.request().postData(),
        headers: { 'content-type': 'application/json' }
      })
      await route.abort()
    })
    await lower(page)
    await page.locator('[data-state]', { hasText: '1 edit waits' }).waitFor()
    await page.unroute('**/edits')
    await page.reload()
    await page.locator('[data-state]', { hasText: 'saved' }).waitFor()
    await expect.poll(() => level(page).innerText()).toBe('−0.5')
    expect((await readSession(url, 'lost-answer')).channel.main!.levelDb).toBe(-0.5)
  })

  it('an answer of 500 does not lose the edit', async () => {
    await makeSession(url, 'five-hundred')
    const page = await open('five-hundred')
    let failures = 2
    await page.route('**/edits', route =>
      route.request().method() === 'POST' && failures-- > 0
        ? route.fulfill({ status: 500, body: 'something broke' })
        : route.continue()
    )
    await lower(page)
    await saved(page)
    expect((await readSession(url, 'five-hundred')).channel.main!.levelDb).toBe(-0.5)
  })
})

describe('sessions that are switched', () => {
  it('while an edit is under way: each has its own rows, what was done is stored, and nobody asks for ever', async () => {
    await makeSession(url, 'switch-a')
    await makeSession(url, 'switch-b')
    const page = await open('switch-a')
    let release = () => {},
      requests = 0
    const held = new Promise<void>(done => {
      release = done
    })
    await edits(page, async go => {
      await held
      await go()
    })
    page.on('request', r => {
      if (r.url().includes('/api/sessions/')) requests++
    })
    await lower(page)
    await lower(page)
    await page.evaluate(() => {
      ;(
        document.querySelector('#__nuxt')!.__vue_app__.config.globalProperties as unknown as {
          $router: { push(to: string): void }
        }
      ).$router.push('/s/switch-b/network')
    })
    await page.locator('.session', { hasText: 'Session switch-b' }).waitFor()
    release()
    await saved(page)
    await expect.poll(async () => (await readSession(url, 'switch-a')).channel.main!.levelDb).toBe(-1)
    expect(await level(page).innerText()).toBe('0.0')
    await lower(page)
    await saved(page)
    expect((await readSession(url, 'switch-b')).channel.main!.levelDb).toBe(-0.5)
    expect(requests).toBeLessThan(20)
  })
})

describe('pages of one browser', () => {
  it('eight on one session stay in step by one event stream', async () => {
    await makeSession(url, 'eight')
    await openContext()
    const pages = []
    for (let i = 0; i < 8; i++) pages.push(await open('eight'))
    await lower(pages[0]!)
    for (const page of pages) await expect.poll(() => level(page).innerText()).toBe('−0.5')
    await pages[7]!.bringToFront()
    await lower(pages[7]!)
    for (const page of pages) await expect.poll(() => level(page).innerText()).toBe('−1.0')
  })

  it('two that are closed while they wait leave all their edits to the next one', async () => {
    await makeSession(url, 'both-wait')
    await openContext()
    const [one, two] = [await open('both-wait'), await open('both-wait')]
    for (const page of [one, two]) {
      await edits(page, (_, abort) => abort())
      await page.bringToFront()
      await lower(page)
      await page.locator('[data-state]', { hasText: '1 edit waits' }).waitFor()
    }
    await one.close()
    await two.close()
    expect((await readSession(url, 'both-wait')).channel.main!.levelDb).toBe(0)
    const next = await open('both-wait')
    await expect.poll(() => level(next).innerText()).toBe('−0.5')
    // Both had put the fader to −0.5: two gestures, one place.
    const stored = (await (await fetch(`${url}/api/sessions/both-wait`)).json()) as { revision: number }
    expect(stored.revision).toBe(2)
  })
})

describe('undo', () => {
  it('takes back what the server did: files that came in, then the edit before them; and brings them again', async () => {
    await makeSession(url, 'undo-import')
    const folder = mkdtempSync(join(tmpdir(), 'nullet-undo-')),
      file = join(folder, 'Kalimba.wav')
    writeFileSync(file, wav([whiteNoise(4800, 5)]))
    const page = await open('undo-import', 'sources')
    await apply(page, 'setSession', { beatsPerBar: 3 })
    await saved(page)
    await page.setInputFiles('[data-audio]', [file])
    await page.locator('[data-track]', { hasText: 'Kalimba' }).waitFor()
    expect(await page.locator('[data-undo]').getAttribute('title')).toBe('Bring in Kalimba.wav')
    await page
      .locator('h1, body')
      .first()
      .click({ position: { x: 5, y: 300 } })
    await keys(page, 'Control+z')
    await page.getByRole('heading', { name: 'Bring the tracks in' }).waitFor()
    await saved(page)
    expect((await readSession(url, 'undo-import')).session.session).toMatchObject({ beatsPerBar: 3 })
    await keys(page, 'Control+Shift+z')
    await page.locator('[data-track]', { hasText: 'Kalimba' }).waitFor()
    await keys(page, 'Control+z')
    await keys(page, 'Control+z')
    await saved(page)
    expect((await readSession(url, 'undo-import')).session.session!.beatsPerBar).toBe(4)
  })
})
