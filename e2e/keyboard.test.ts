// What one does with keys and buttons is what happens: focus, layers, names, numbers, layouts of keyboards.
import { afterAll, beforeAll, beforeEach, describe, expect, inject, it } from 'vitest'
import type { Page } from 'playwright-core'
import { rows } from '@nullet/core/session/session'
import { connectStore, type Sql } from '../server/store/connect'
import { loadDemo } from '../demo/load'
import { closeBrowser, openPage } from './support/browser'
import { answer, apply, keys, pick, readSession, saved } from './support/hands'

const { url, database } = inject('stage')
let page: Page, complaints: string[], sql: Sql
const session = () => readSession(url, 'keyboard')
const selected = () => page.evaluate(() => new URLSearchParams(location.search).get('sel') ?? '')
const focusOn = (selector: string) => page.locator(selector).first().focus()
const hasFocus = () => page.evaluate(() => document.activeElement !== document.body && document.activeElement !== null)
const isPlaying = async () => String((await page.locator('[data-play]').getAttribute('aria-label')) === 'stop')
const topText = () => page.locator('form.ask').count()

beforeAll(async () => {
  sql = connectStore(database, 4)
  await loadDemo(sql, 8, 'keyboard')
  ;({ page, complaints } = await openPage(`${url}/s/keyboard/network`))
  await page.waitForSelector('[data-channel=kora]')
})
afterAll(async () => {
  await closeBrowser()
  await sql?.end()
})
beforeEach(async () => {
  for (let i = 0; i < 12; i++) await page.keyboard.press('Escape')
  await pick(page, 'kora')
})

describe('Space and Enter', () => {
  it('press the button that has the focus, and play where a button was merely clicked', async () => {
    const mute = '[data-channel=kora] button[aria-label=mute]'
    await focusOn(mute)
    await page.keyboard.press('Space')
    await expect.poll(async () => page.locator(mute).getAttribute('aria-pressed')).toBe('true')
    expect(await isPlaying()).toBe('false')
    await page.keyboard.press('Enter')
    await expect.poll(async () => page.locator(mute).getAttribute('aria-pressed')).toBe('false')
    expect(await page.locator('.rail').count()).toBe(0)
    await page.locator('[data-channel=kora] button[aria-label=solo]').click()
    await page.keyboard.press('Space')
    await expect.poll(isPlaying).toBe('true')
    await page.keyboard.press('Space')
    await expect.poll(isPlaying).toBe('false')
    await keys(page, 'c s')
  })

  it('tick a checkbox', async () => {
    await keys(page, 'd u')
    const box = page.locator('[data-sheet] input[type=checkbox]').first()
    await box.waitFor({ state: 'attached' })
    const before = await box.isChecked()
    await box.focus()
    await page.keyboard.press('Space')
    await expect.poll(() => box.isChecked()).toBe(!before)
    expect(await isPlaying()).toBe('false')
    await page.keyboard.press('Escape')
    await expect.poll(() => page.locator('[data-sheet]').count()).toBe(0)
  })
})

describe('what lies over the view', () => {
  it('keeps commands from reaching through', async () => {
    const { channel } = await session()
    await keys(page, 'n p')
    await page.waitForSelector('[data-sheet]')
    await keys(page, 'm u')
    await page.keyboard.press('Escape')
    await page.keyboard.press('?')
    await page.getByText('Two strokes, typed one after the other').waitFor()
    await keys(page, 's o')
    await page.keyboard.press('Escape')
    await page.getByText('Two strokes, typed one after the other').waitFor({ state: 'hidden' })
    await saved(page)
    expect((await session()).channel.kora).toEqual(channel.kora)
  })

  it('is closed one after the other, the topmost first, wherever the focus is', async () => {
    await keys(page, 'o r')
    await page.waitForSelector('.rail')
    await keys(page, 'l e')
    await page.waitForSelector('#ask-field')
    await page.evaluate(() => (document.activeElement as HTMLElement).blur())
    await page.keyboard.press('Escape')
    await expect.poll(topText).toBe(0)
    expect(await page.locator('.rail').count()).toBe(1)
    await page.keyboard.press('Escape')
    await expect.poll(() => page.locator('.rail').count()).toBe(0)
    expect(await selected()).toBe('kora')
    await page.keyboard.press('Escape')
    await expect.poll(selected).toBe('')
  })

  it('gives the focus back: never to the page’s body', async () => {
    for (const [strokes, leave] of [
      ['i c', ''],
      ['l e', 'Escape'],
      ['t e', 'Escape'],
      ['?', 'Escape'],
      ['p r', ''],
      ['v m', '']
    ] as const) {
      await keys(page, strokes)
      if (leave) {
        const over = page.locator('#ask-field, .el-dialog').filter({ visible: true })
        await over.first().waitFor()
        await page.keyboard.press(leave)
        await expect.poll(() => over.count()).toBe(0)
      }
      await expect.poll(hasFocus, { message: strokes }).toBe(true)
    }
    await page.waitForSelector('[data-channel=kora]')
  })
})

describe('names', () => {
  it('an exact one wins over longer ones that come before it', async () => {
    await apply(page, 'createChannels', {
      role: 'track',
      layout: ['M'],
      channels: [
        { id: 'v1', name: 'Lead Vox Double', order: 'a01', feedId: 'v1f' },
        { id: 'v2', name: 'Lead Vox', order: 'a02', feedId: 'v2f' }
      ],
      to: null
    })
    await keys(page, 'g o')
    await page.fill('#ask-field', 'lead vox')
    await expect.poll(() => page.locator('.ask [aria-selected=true] .label').innerText()).toBe('Lead Vox')
    expect(await page.locator('.ask button.act').innerText()).toBe('Lead Vox')
    await page.keyboard.press('Enter')
    await expect.poll(selected).toBe('v2')
  })

  it('a filter that is taken selects what it found and leaves its field', async () => {
    await page.keyboard.press('/')
    await page.keyboard.type('lead vox')
    await page.keyboard.press('Enter')
    await expect.poll(async () => (await selected()).split(',').sort().join()).toBe('v1,v2')
    await keys(page, 'm u')
    await saved(page)
    await expect.poll(async () => (await session()).channel.v1!.muted).toBe(true)
    await page.keyboard.press('/')
    await page.keyboard.press('Escape')
  })
})

describe('Ctrl A', () => {
  const count = async () => Number(/selected: (\d+)/.exec(await page.locator('main.view').innerText())?.[1] ?? 0)
  const all = async () => rows(await session(), 'channel')
  const ids = async (kind: string) => (await all()).filter(c => c.kind === kind).map(c => c.id)

  it('selects all channels that a view shows, wherever the focus is', async () => {
    const everything = (await all()).length
    for (const [strokes, ready, expected] of [
      ['v m', '[data-channel=kora]', everything],
      ['v x', '[data-cell]', everything],
      ['v s', '[data-track]', (await ids('track')).length]
    ] as const) {
      await keys(page, strokes)
      await page.waitForSelector(ready)
      await page.evaluate(() => (document.activeElement as HTMLElement).blur())
      await page.keyboard.press('Control+a')
      await expect.poll(count, { message: strokes }).toBe(expected)
      expect(await page.evaluate(() => String(getSelection()))).toBe('')
      await page.keyboard.press('Escape')
      await expect.poll(count).toBe(0)
    }
    await keys(page, 'v m')
    await page.waitForSelector('[data-channel=kora]')
  })

  it('selects the channels that lie over time', async () => {
    await keys(page, 'v t')
    await page.waitForSelector('[data-movement]')
    const lying = await page.evaluate(() =>
      Array.from(document.querySelectorAll<HTMLElement>('[data-movement]')).map(e => e.dataset.movement!)
    )
    await page.keyboard.press('Escape')
    await expect.poll(selected).toBe('')
    await page.keyboard.press('Control+a')
    await expect.poll(async () => (await selected()).split(',').sort()).toEqual(lying.sort())
    await keys(page, 'v m')
    await page.waitForSelector('[data-channel=kora]')
  })

  it('selects only what the filter leaves, and in a field what is written there', async () => {
    await page.keyboard.press('/')
    await page.keyboard.type('drum')
    await page.keyboard.press('Control+a')
    expect(await count()).toBe(1)
    await page.keyboard.press('Tab')
    await page.evaluate(() => (document.activeElement as HTMLElement).blur())
    await page.keyboard.press('Control+a')
    await expect.poll(selected).toContain('drum-low')
    expect((await selected()).split(',')).not.toContain('kora')
    await page.keyboard.press('/')
    await page.keyboard.press('Escape')
  })
})

describe('keyboards', () => {
  it('with caps lock on or of other letters have all commands', async () => {
    const stroke = (key: string, code: string) =>
      page.evaluate(
        ([k, c]) =>
          document.activeElement!.dispatchEvent(
            new KeyboardEvent('keydown', { key: k, code: c, bubbles: true, cancelable: true })
          ),
        [key, code]
      )
    const muted = () => page.locator('[data-channel=kora] button[aria-label=mute]').getAttribute('aria-pressed')
    await stroke('M', 'KeyM')
    await stroke('U', 'KeyU')
    await expect.poll(muted).toBe('true')
    await stroke('ь', 'KeyM')
    await stroke('г', 'KeyU')
    await expect.poll(muted).toBe('false')
  })
})

describe('the other buttons of a mouse', () => {
  it('open the verbs of a channel, by pointer and by key', async () => {
    await page.locator('[data-channel=shakers] .name').click({ button: 'right' })
    const menu = page.locator('.menu[role=menu]')
    await menu.waitFor()
    expect(await selected()).toBe('shakers')
    await expect.poll(() => page.evaluate(() => document.activeElement?.getAttribute('role'))).toBe('menuitem')
    await page.keyboard.press('m')
    await page.getByRole('menuitem', { name: 'Mute' }).click()
    await expect.poll(() => menu.count()).toBe(0)
    await saved(page)
    expect((await session()).channel.shakers!.muted).toBe(true)
    await keys(page, 'm u')
    await page.locator('[data-channel=shakers] .name').click({ button: 'right' })
    await menu.waitFor()
    await page.keyboard.press('Escape')
    await expect.poll(() => menu.count()).toBe(0)
    expect(await selected()).toBe('shakers')
  })

  it('write nothing in the crosspoints', async () => {
    const feeds = Object.keys((await session()).feed).length
    await keys(page, 'v x')
    await page.waitForSelector('[data-cell]')
    const cell = page.locator('[data-cell^="kora "]').nth(3)
    await cell.click({ button: 'right' })
    await cell.click({ button: 'middle' })
    await saved(page)
    expect(Object.keys((await session()).feed)).toHaveLength(feeds)
    await page.keyboard.press('Escape')
    await keys(page, 'v m')
    await page.waitForSelector('[data-channel=kora]')
  })
})

describe('numbers', () => {
  it('that cannot be read are said beside the field, which stays', async () => {
    const fault = () => page.locator('#ask-fault').innerText()
    await keys(page, 'l e')
    await page.fill('#ask-field', 'loud')
    await page.keyboard.press('Enter')
    await expect.poll(fault).toBe('“loud” is not a number in dB')
    await page.fill('#ask-field', '40 dB')
    await page.keyboard.press('Enter')
    await expect.poll(fault).toBe('−150 to 12 dB')
    await answer(page, '-20 + 3 dB')
    await saved(page)
    expect((await session()).channel.kora!.levelDb).toBe(-17)
  })
})

describe('notices', () => {
  it('that are red stay, several of a kind are one, and Escape closes them', async () => {
    for (let i = 0; i < 3; i++) {
      await page.evaluate(() => {
        const stores = (window as unknown as { useNuxtApp(): { $pinia: { _s: Map<string, unknown> } } }).useNuxtApp()
        ;(stores.$pinia._s.get('notices') as { wrong(e: Error): void }).wrong(new Error('The room is full'))
      })
    }
    const list = page.locator('.notice')
    await expect.poll(() => list.count()).toBe(1)
    expect(await list.innerText()).toMatch(/The room is full\s*3 times/)
    await page.keyboard.press('Escape')
    await expect.poll(() => list.count()).toBe(0)
    expect(await selected()).toBe('kora')
  })

  it('take their own room: nothing lies under them, a sheet neither', async () => {
    const say = (text: string) =>
      page.evaluate(message => {
        const stores = (window as unknown as { useNuxtApp(): { $pinia: { _s: Map<string, unknown> } } }).useNuxtApp()
        ;(stores.$pinia._s.get('notices') as { wrong(e: Error): void }).wrong(new Error(message))
      }, text)
    await say('The room is full')
    await say('The door is shut')
    const box = async (what: string) => (await page.locator(what).first().boundingBox())!
    const list = await box('.notices')
    expect(list.height).toBeGreaterThan(40)
    const [view, transport] = [await box('main.view'), await box('.transport')]
    expect(view.y + view.height).toBeLessThanOrEqual(list.y + 0.5)
    expect(transport.y).toBeGreaterThanOrEqual(list.y + list.height - 0.5)
    await keys(page, 't e')
    await page.waitForSelector('[data-sheet]')
    await expect
      .poll(async () => {
        const sheet = await box('.el-overlay-dialog')
        return sheet.y + sheet.height
      })
      .toBeLessThanOrEqual((await box('.notices')).y + 0.5)
    for (const message of ['door is shut', 'room is full'])
      await page.locator('.notice', { hasText: message }).getByLabel('dismiss').click()
    expect(await page.locator('[data-sheet]').count()).toBe(1)
    await page.keyboard.press('Escape')
    await expect.poll(() => page.locator('[data-sheet]').count()).toBe(0)
  })

  it('nothing was complained of', () => {
    expect(complaints).toEqual([])
  })
})
