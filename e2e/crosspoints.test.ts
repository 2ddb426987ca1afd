// The grid: painting in one gesture, refusals, levels typed, the same rows as the Map; and the checks with their fixes.
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import type { Page } from 'playwright-core'
import { rows } from '@nullet/core/session/session'
import { loadDemo } from '../demo/load'
import { connectStore } from '../server/store/connect'
import { closeBrowser, openPage } from './support/browser'
import { readSession, saved as stored } from './support/hands'

const { url, database } = inject('stage')
let page: Page, complaints: string[]

beforeAll(async () => {
  const sql = connectStore(database, 4)
  await loadDemo(sql, 2, 'grid')
  await sql.end()
  ;({ page, complaints } = await openPage(`${url}/s/grid/network`))
  await page.waitForSelector('[data-channel=kora]')
  await page.keyboard.press('v')
  await page.keyboard.press('x')
  await page.waitForSelector('[role=grid]')
})
afterAll(closeBrowser)

const cell = (from: string, to: string) => page.locator(`[data-cell="${from} ${to}"]`)
const session = () => readSession(url, 'grid')
const saved = () => stored(page)
const sendsTo = async (to: string) =>
  rows(await session(), 'feed')
    .filter(f => f.kind === 'send' && f.to === to)
    .map(f => `${f.from} ${f.tap}`)
    .sort()

describe('crosspoints', () => {
  it('are painted by dragging, as one undo', async () => {
    const before = await sendsTo('short-room')
    await page.click('text="send, pre"')
    const a = (await cell('drum-wide-l', 'short-room').boundingBox())!,
      b = (await cell('room-r', 'short-room').boundingBox())!
    await page.mouse.move(a.x + 15, a.y + 12)
    await page.mouse.down()
    await page.mouse.move(b.x + 15, b.y + 12, { steps: 12 })
    await page.mouse.up()
    await saved()
    expect(await sendsTo('short-room')).toEqual(
      [...before, 'drum-wide-l pre', 'drum-wide-r pre', 'room-l pre', 'room-r pre'].sort()
    )
    await page.click('[data-undo]')
    await saved()
    expect(await sendsTo('short-room')).toEqual(before)
    await page.click('[data-redo]')
    await saved()
  })

  it('show the sums of row and column under the pointer', async () => {
    await cell('kora', 'plucked').hover()
    await expect
      .poll(() => page.locator('[data-summary]').innerText())
      .toMatch(/^Kora DI → Plucked strings: 0\.0 dB\. Kora DI goes to 3; Plucked strings is fed by 5/)
  })

  it('take a level that is typed on them', async () => {
    await cell('drum-wide-l', 'short-room').click()
    await saved()
    // The click took the send away, as writing what is there does; a second one writes it again.
    await cell('drum-wide-l', 'short-room').click()
    await page.keyboard.type('-7.5')
    await expect.poll(() => page.locator('[data-summary]').innerText()).toBe('level: -7.5')
    await page.keyboard.press('Enter')
    await saved()
    expect(rows(await session(), 'feed').find(f => f.kind === 'send' && f.from === 'drum-wide-l')!.levelDb).toBe(-7.5)
  })

  it('are reached by arrows and written by Enter', async () => {
    await page.click('text="main feed"')
    await page.locator('[role=grid]').focus()
    await page.keyboard.press('ArrowDown')
    await expect.poll(() => page.locator('[data-summary]').innerText()).toMatch(/Frame drum wide R → Short room/)
    await page.keyboard.press('Enter')
    await saved()
    expect(rows(await session(), 'feed').find(f => f.kind === 'main' && f.from === 'drum-wide-r')!.to).toBe(
      'short-room'
    )
    await page.click('[data-undo]')
    await saved()
  })

  it('that would close a circle are refused with its name', async () => {
    await page.fill('input[data-filter]', 'main')
    await cell('main', 'stem-choir').click()
    await page.locator('.notice', { hasText: /circle: .*Main/ }).waitFor()
    await page.fill('input[data-filter]', '')
  })
})

describe('checks', () => {
  it('name what is wrong, go to it, and mend it by an edit that can be undone', async () => {
    await page.keyboard.press('Escape')
    await page.keyboard.press('v')
    await page.keyboard.press('m')
    await page.locator('[data-channel=kora] .name').click()
    await page.keyboard.press('s')
    await page.keyboard.press('o')
    await page.locator('[data-checks]', { hasText: '1 check' }).click()
    const check = page.locator('.el-drawer article')
    await expect.poll(() => check.innerText()).toMatch(/solo/i)
    await check.locator('button.el-button').first().click()
    await page.locator('.el-drawer', { hasText: 'Nothing looks wrong' }).waitFor()
    await saved()
    expect((await session()).channel.kora.soloed).toBe(false)
  })

  it('nothing was complained about', () => {
    expect(complaints).toEqual([])
  })
})
