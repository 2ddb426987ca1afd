// Every view, sheet and theme, judged by axe: names, roles, contrast, structure; and no text is cut along its letters.
import AxeBuilder from '@axe-core/playwright'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import type { Page } from 'playwright-core'
import { connectStore, type Sql } from '../server/store/connect'
import { loadDemo } from '../demo/load'
import { closeBrowser, openPage } from './support/browser'
import { keys, pick } from './support/hands'

const { url, database } = inject('stage')
let page: Page, sql: Sql

beforeAll(async () => {
  sql = connectStore(database, 4)
  await loadDemo(sql, 8, 'access')
  ;({ page } = await openPage(`${url}/s/access/network`))
  await page.waitForSelector('[data-channel=kora]')
})
afterAll(async () => {
  await closeBrowser()
  await sql?.end()
})

/** The Map is one Tab stop by intent: its columns scroll by the arrows that move inside it. */
const isMapColumn = (rule: string, target: string) => rule === 'scrollable-region-focusable' && /^\.side\b/.test(target)

/** Until what fades in or out has done so: half-way, colours are none of the page's. */
const atRest = () =>
  page.waitForFunction(() =>
    document.getAnimations().every(a => a.playState === 'finished' || a.effect?.getTiming().iterations === Infinity)
  )

/** Text that is cut along its letters: what hides its overflow is lower than a line. A px comes of rounding. */
const cutLetters = (within = 'body') =>
  page.evaluate(
    root =>
      Array.from(document.querySelectorAll<HTMLElement>(`${root} *`))
        .filter(
          e =>
            e.scrollHeight > e.clientHeight + 1 &&
            e.checkVisibility() &&
            !e.classList.contains('unseen') &&
            ['hidden', 'clip'].includes(getComputedStyle(e).overflowY) &&
            Array.from(e.childNodes).some(n => n.nodeType === Node.TEXT_NODE && n.textContent!.trim())
        )
        .map(e => `cut: ${e.className} ${e.textContent!.trim().slice(0, 40)}`),
    within
  )

/**
 * What axe objects to, as `rule: selector`, and letters that are cut.
 * @param rules all when left out
 * @param within where it looks: the whole page when left out
 */
async function objections(rules?: readonly string[], within?: string): Promise<string[]> {
  await atRest()
  let axe = new AxeBuilder({ page }).setLegacyMode(true).options({ resultTypes: ['violations'] })
  if (rules) axe = axe.withRules([...rules])
  if (within) axe = axe.include(within)
  const { violations } = await axe.analyze()
  return violations
    .flatMap(v =>
      v.nodes
        .filter(n => !isMapColumn(v.id, n.target.join(' ')))
        .slice(0, 6)
        .map(n => `${v.id}: ${n.target.join(' ')} ${n.html.replace(/\s+/g, ' ').slice(0, 120)}`)
    )
    .concat(await cutLetters(within))
}

/** Its name, its strokes, and what is there once it is. */
const VIEWS: [string, string, string][] = [
  ['the Map', 'v m', '[data-channel=kora]'],
  ['Crosspoints', 'v x', '[data-cell]'],
  ['Cost', 'v o', '.view .share, .view table, .view button'],
  ['Sources', 'v s', '[data-track=kora]'],
  ['the Rig', 'v r', '.view svg'],
  ['Passes', 'v p', '.view button'],
  ['Over time', 'v t', '.view button']
]
const OVER: [string, string][] = [
  ['a question', 'l e'],
  ['a choice', 'g o'],
  ['the proposal', 'n p'],
  ['new channels', 'n c'],
  ['templates', 't e'],
  ['what was done', 'v h'],
  ['words for families', 'f w'],
  ['pairs of tracks', 'l p'],
  ['tempo', 't m'],
  ['the table of crosspoints', 't c'],
  ['moved gain', 'm g'],
  ['duplicates', 'd u'],
  ['help', '?']
]

// Themes differ in nothing but colour.
describe.each([
  ['paper', undefined],
  ['dim', ['color-contrast']]
] as const)('in the %s theme', (theme, rules) => {
  beforeAll(async () => {
    const isDim = () => page.evaluate(() => document.documentElement.dataset.theme === 'dim')
    if ((await isDim()) !== (theme === 'dim')) await keys(page, 'v d')
  })

  it.each(VIEWS)('%s has nothing that axe objects to', async (_, strokes, there) => {
    await keys(page, strokes)
    await page.waitForSelector(there)
    expect(await objections(rules)).toEqual([])
  })

  it.each(['outputs', 'patch bay', 'drawing'])(
    'the Rig as %s, a unit open beside it, has nothing that axe objects to',
    async face => {
      await keys(page, 'v r')
      await page.locator('.rigview .el-radio-button', { hasText: face }).click()
      if (face === 'drawing') await page.locator('[data-unit=tube] .unithead').click()
      expect(await objections(rules)).toEqual([])
    }
  )

  it('the Rail with an open slot has nothing that axe objects to', async () => {
    await keys(page, 'v m')
    await page.waitForSelector('[data-channel=kora]')
    await pick(page, 'choir')
    await keys(page, 'o r')
    await page.locator('.rail [data-slot]').first().click()
    const found = await objections(rules)
    await page.keyboard.press('Escape')
    await page.keyboard.press('Escape')
    expect(found).toEqual([])
  })

  it.each(OVER)('over the view, %s has nothing that axe objects to', async (_, strokes) => {
    if (!new URL(page.url()).searchParams.get('sel')) await pick(page, 'kora')
    await keys(page, strokes)
    const over = page.getByRole('dialog').filter({ visible: true })
    await over.first().waitFor()
    // What lies behind it was looked at with the views.
    const found = await objections(rules, '[role="dialog"]')
    await page.keyboard.press('Escape')
    await expect.poll(() => over.count()).toBe(0)
    expect(found).toEqual([])
  })
})

it('what is planted is found, in what lies over a view', async () => {
  await keys(page, '?')
  const help = page.getByRole('dialog').filter({ visible: true }).first()
  await help.waitFor()
  await help.evaluate(el => {
    const low = document.createElement('p')
    low.textContent = 'gently'
    low.style.cssText = 'height: 9px; line-height: 20px; overflow: hidden'
    el.append(document.createElement('img'), low)
  })
  const found = await objections(undefined, '[role="dialog"]')
  await page.keyboard.press('Escape')
  expect(found.map(f => f.split(':')[0])).toEqual(expect.arrayContaining(['image-alt', 'cut']))
})
