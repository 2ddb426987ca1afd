// Every view, sheet and theme, judged by axe: names, roles, contrast, structure; no text is cut along its letters, no
// control lies under another thing.
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

/** Controls of which an end lies under something else: what is written there cannot be read, a click goes elsewhere. */
const covered = (within = 'body') =>
  page.evaluate(root => {
    const controls = 'button, input, select, textarea, a[href], [role=slider], [role=spinbutton]'
    /** A field inside of what is drawn for it. */
    const drawnFor = 'label, .el-select, .el-input, .el-checkbox, .el-radio-button'
    const shows = (e: Element, x: number, y: number) => {
      if (x < 0 || y < 0 || x >= innerWidth || y >= innerHeight) return false
      for (let p = e.parentElement; p; p = p.parentElement) {
        const { overflowX, overflowY } = getComputedStyle(p),
          { left, right, top, bottom } = p.getBoundingClientRect()
        const hides = overflowX !== 'visible' || overflowY !== 'visible'
        if (hides && (x < left || x > right || y < top + 2 || y > bottom - 2)) return false
      }
      return true
    }
    return Array.from(document.querySelectorAll(`:is(${root}) :is(${controls})`)).flatMap(e => {
      const { left, right, top, bottom } = e.getBoundingClientRect()
      if (!e.checkVisibility({ opacityProperty: true, visibilityProperty: true }) || right - left < 6) return []
      return [left + 3, right - 3].flatMap(x => {
        const y = (top + bottom) / 2,
          at = shows(e, x, y) ? document.elementFromPoint(x, y) : null
        if (!at || e.contains(at) || at.contains(e) || at.closest(drawnFor)?.contains(e)) return []
        return [`covered: ${e.className} “${e.textContent!.trim().slice(0, 30)}” by ${at.tagName}.${at.className}`]
      })
    })
  }, within)

/**
 * What axe objects to, as `rule: selector`, letters that are cut and controls that are covered.
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
    .concat(await cutLetters(within), await covered(within))
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
    const over = document.createElement('div')
    over.style.cssText = 'position: absolute; inset: 0 0 auto; height: 100px'
    el.append(document.createElement('img'), low, over)
  })
  const found = await objections(undefined, '[role="dialog"]')
  await page.keyboard.press('Escape')
  expect(found.map(f => f.split(':')[0])).toEqual(expect.arrayContaining(['image-alt', 'cut', 'covered']))
})
