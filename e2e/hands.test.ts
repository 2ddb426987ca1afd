// The Map, numbers, the rail and the rig under a hand, with a mouse and without; and everything that was done, back to
// any step of it.
import { afterAll, beforeAll, beforeEach, describe, expect, inject, it } from 'vitest'
import type { Page } from 'playwright-core'
import { slotsOf } from '@nullet/core/session/session'
import { connectStore, type Sql } from '../server/store/connect'
import { loadDemo } from '../demo/load'
import { closeBrowser, openPage } from './support/browser'
import { answer, apply, keys, pick, readSession, saved } from './support/hands'

const { url, database } = inject('stage')
let page: Page, complaints: string[], sql: Sql
const session = () => readSession(url, 'hands')
const selected = () => page.evaluate(() => (new URLSearchParams(location.search).get('sel') ?? '').split(',').sort())
const channel = async (id: string) => (await session()).channel[id]!
const field = (label: string) => page.getByRole('spinbutton', { name: label, exact: true })

beforeAll(async () => {
  sql = connectStore(database, 4)
  await loadDemo(sql, 8, 'hands')
  ;({ page, complaints } = await openPage(`${url}/s/hands/network`))
  await page.waitForSelector('[data-channel=kora]')
})
afterAll(async () => {
  await closeBrowser()
  await sql?.end()
})
beforeEach(async () => {
  for (let i = 0; i < 8; i++) await page.keyboard.press('Escape')
  await pick(page, 'kora')
})

describe('the Map', () => {
  it('is one Tab stop', async () => {
    const stops = await page.evaluate(
      () =>
        Array.from(document.querySelectorAll<HTMLElement>('.map, .map *')).filter(
          el => el.tabIndex >= 0 && el.offsetParent !== null
        ).length
    )
    expect(stops).toBe(1)
  })

  it('selects here and there by keys, and its levels go up and down', async () => {
    await page.locator('.map').focus()
    const [first, , third] = await page.evaluate(() =>
      Array.from(document.querySelectorAll<HTMLElement>('.map [data-channel]'))
        .filter(
          el =>
            Math.abs(
              el.getBoundingClientRect().left -
                document.querySelector('[data-channel=kora]')!.getBoundingClientRect().left
            ) < 2
        )
        .sort((a, b) => a.getBoundingClientRect().top - b.getBoundingClientRect().top)
        .map(el => el.dataset.channel!)
    )
    await pick(page, first!)
    await page.locator('.map').focus()
    await page.keyboard.press('Control+ArrowDown')
    await page.keyboard.press('Control+ArrowDown')
    await page.keyboard.press('Control+Space')
    await expect.poll(selected).toEqual([first, third].sort())
    const before = [await channel(first!), await channel(third!)].map(c => c.levelDb!)
    await page.keyboard.press('Alt+ArrowUp')
    await page.keyboard.press('Alt+ArrowUp')
    await page.keyboard.press('Alt+PageDown')
    await saved(page)
    const after = [await channel(first!), await channel(third!)].map(c => c.levelDb!)
    after.forEach((db, i) => expect(db).toBeCloseTo(before[i]! - 2, 6))
  })

  it('goes by arrows down to the returns and back', async () => {
    await page.locator('.map').focus()
    for (let i = 0; i < 60; i++) await page.keyboard.press('ArrowDown')
    const returns = Object.values((await session()).channel).filter(c => c.role === 'return')
    await expect.poll(async () => returns.some(async r => (await selected()).includes(r.id))).toBe(true)
    await page.keyboard.press('ArrowUp')
    await expect.poll(async () => (await selected()).length).toBe(1)
  })

  it('moves nothing under a hand that hovers, and what mutes is not where one selects', async () => {
    const strip = page.locator('[data-channel=kora]'),
      places = () =>
        strip.evaluate(el =>
          Array.from(el.querySelectorAll('.name, .level, .bar, .tool')).map(x => {
            const { left, top, width, height } = x.getBoundingClientRect()
            return [left, top, width, height].map(Math.round)
          })
        )
    await page.mouse.move(600, 780)
    const still = await places()
    await strip.hover()
    expect(await places()).toEqual(still)
    const overlap = await strip.evaluate(el => {
      const name = el.querySelector('.name')!.getBoundingClientRect()
      return Array.from(el.querySelectorAll('.tool')).some(t => t.getBoundingClientRect().top < name.bottom)
    })
    expect(overlap).toBe(false)
  })

  it('paints levels on the bars of their strips, also of those that come into sight, and takes them back', async () => {
    /** As if every channel were so loud. */
    const show = async (db: number) =>
      page.evaluate(
        ([ids, db]) => {
          const transport = document
            .querySelector('#__nuxt')!
            .__vue_app__.config.globalProperties.$pinia._s.get('transport') as unknown as {
            levels: Map<string, number>
            beat: number
          }
          for (const id of ids) transport.levels.set(`channel/${id}`, db)
          transport.beat++
        },
        [Object.keys((await session()).channel), db] as const
      )
    /** What is painted on the bars in sight, as a share of their width. */
    const painted = () =>
      page.evaluate(() => {
        return Array.from(document.querySelectorAll<HTMLElement>('.map .side [data-channel]')).flatMap(strip => {
          const side = strip.closest('.side')!.getBoundingClientRect(),
            bar = strip.querySelector('.bar')!.getBoundingClientRect()
          if (bar.top < side.top || bar.bottom > side.bottom) return []
          const over = Array.from(strip.closest('.ground')!.querySelectorAll('canvas')).map(canvas => ({
            canvas,
            at: canvas.getBoundingClientRect()
          }))
          const found = over.find(
            ({ at }) => Math.abs(at.left - bar.left) < 1 && at.top <= bar.top && at.bottom > bar.top
          )
          if (!found) return [0]
          const { canvas, at } = found
          const row = canvas
            .getContext('2d')!
            .getImageData(
              Math.round(bar.left - at.left),
              Math.round(bar.top - at.top) + 8,
              Math.round(bar.width),
              1
            ).data
          return [Array.from(row).filter((v, i) => i % 4 === 3 && v > 0).length / Math.round(bar.width)]
        })
      })
    const all = async (share: number, db: number) => {
      await expect.poll(async () => (await painted()).length).toBeGreaterThan(10)
      await expect
        .poll(
          async () => {
            await show(db)
            return Math.max(...(await painted()).map(p => Math.abs(p - share)))
          },
          { timeout: 5000 }
        )
        .toBeLessThan(0.05)
    }
    await all(0.41, -20)
    const tracks = page.locator('.map .side').nth(1)
    await tracks.evaluate(el => (el.scrollTop = 173))
    await all(0.41, -20)
    await tracks.evaluate(el => (el.scrollTop = 0))
    await all(0, -Infinity)
  })

  it('a fader in the hand stays there while one scrolls, and sets its own channel', async () => {
    const before = (await session()).channel
    const bar = (await page.locator('[data-channel=kora] .bar').boundingBox())!
    const notch = { x: bar.x + bar.width * 0.7, y: bar.y + 6 }
    await page.mouse.move(notch.x, notch.y)
    await page.mouse.down()
    await page.mouse.move(notch.x - 12, notch.y, { steps: 4 })
    const tracks = page.locator('.map .side').nth(1)
    for (const share of [0.3, 1, 0.5]) {
      const top = await tracks.evaluate(
        (el, share) => (el.scrollTop = share * (el.scrollHeight - el.clientHeight)),
        share
      )
      await expect.poll(() => tracks.evaluate(el => el.scrollTop)).toBeGreaterThan(top - 2)
      await page.mouse.move(notch.x - 12 - 10 * share, notch.y, { steps: 3 })
    }
    await page.mouse.up()
    await saved(page)
    const after = (await session()).channel
    const moved = Object.keys(after).filter(id => after[id]!.levelDb !== before[id]!.levelDb)
    expect(moved).toEqual(['kora'])
    expect(after.kora!.levelDb!).toBeLessThan(before.kora!.levelDb!)
    await page.evaluate(() => document.querySelector<HTMLElement>('[data-undo]')!.click())
    await saved(page)
    await tracks.evaluate(el => (el.scrollTop = 0))
  })

  /** The lowest strip of the tracks. */
  const lowest = async () => {
    const all = page.locator('.map .side').nth(1).locator('[data-channel]'),
      ys = await all.evaluateAll(strips => strips.map(s => s.getBoundingClientRect().top))
    return all.nth(ys.indexOf(Math.max(...ys)))
  }

  it('a button that has the focus keeps it, and stays the one of its channel, while one scrolls', async () => {
    const focusOn = () =>
      page.evaluate(() => document.activeElement!.closest<HTMLElement>('[data-channel]')?.dataset.channel ?? '')
    await page.locator('[data-channel=kora] .tool').first().focus()
    const tracks = page.locator('.map .side').nth(1),
      last = await lowest()
    const isInSight = () =>
      last.evaluate(el => el.getBoundingClientRect().bottom <= el.closest('.side')!.getBoundingClientRect().bottom)
    await tracks.evaluate(el => (el.scrollTop = el.scrollHeight))
    await expect.poll(isInSight).toBe(true)
    expect(await focusOn()).toBe('kora')
    await tracks.evaluate(el => (el.scrollTop = 0))
    await expect.poll(isInSight).toBe(false)
    expect(await focusOn()).toBe('kora')
  })

  it('strips out of sight are made when there is time, show what has changed, and stay while one scrolls', async () => {
    const tracks = page.locator('.map .side').nth(1)
    await expect
      .poll(() => page.locator('.map [data-channel]').count())
      .toBe(Object.keys((await session()).channel).length)
    const last = await lowest(),
      element = await last.elementHandle(),
      id = (await last.getAttribute('data-channel'))!
    await apply(page, 'setChannels', { ids: [id], fields: { name: 'Far below', levelDb: -33 } })
    await expect.poll(() => last.innerText()).toMatch(/Far below[^]*−33\.0/)
    await tracks.evaluate(el => (el.scrollTop = el.scrollHeight))
    await expect.poll(() => last.boundingBox().then(box => box!.y)).toBeLessThan(700)
    expect(await last.evaluate((now, before) => now === before, element)).toBe(true)
    await page.evaluate(() => document.querySelector<HTMLElement>('[data-undo]')!.click())
    await expect.poll(() => last.innerText()).not.toMatch(/Far below/)
    await tracks.evaluate(el => (el.scrollTop = 0))
  })

  it('keeps names of twelve characters with six tiers in 1280 px', async () => {
    let to = 'plucked'
    for (const n of [1, 2, 3]) {
      await apply(page, 'createBus', {
        id: `tier-${n}`,
        name: `Tier number ${n}`,
        role: 'submix',
        order: `zz${n}`,
        to: 'main',
        feedId: `tier-feed-${n}`
      })
      await apply(page, 'setMainFeed', { ids: [to], to: `tier-${n}`, feedIds: [`to-tier-${n}`] })
      to = `tier-${n}`
    }
    await page.locator('[data-channel=tier-3]').waitFor()
    const widths = await page.evaluate(() =>
      Array.from(document.querySelectorAll<HTMLElement>('.map .strip:not(.narrow) .name'), el => el.clientWidth)
    )
    expect(widths.length).toBeGreaterThan(10)
    // Twelve characters of the text's face are 76 px.
    expect(Math.min(...widths)).toBeGreaterThanOrEqual(76)
    for (let i = 0; i < 6; i++) await keys(page, 'v b')
    await page.evaluate(() => document.querySelector<HTMLElement>('[data-undo]')!.click())
  })
})

describe('a number', () => {
  it('is typed with its unit, stepped by arrows, and goes back by a double click', async () => {
    const pan = field('pan')
    await pan.locator('.shown').click()
    await page.keyboard.type('L30')
    await page.keyboard.press('Enter')
    await saved(page)
    expect((await channel('kora')).pan).toBe(-0.3)
    await page.keyboard.press('ArrowUp')
    await saved(page)
    expect((await channel('kora')).pan).toBe(-0.28)
    expect(await pan.getAttribute('aria-valuetext')).toBe('L28')
    await pan.locator('.shown').dblclick()
    await saved(page)
    expect((await channel('kora')).pan).toBe(0)
  })

  it('that cannot be read says so beside itself, and Escape leaves it as it was', async () => {
    const level = field('listening level'),
      before = (await session()).session.session!.heardLevelDb
    await level.locator('.shown').click()
    await page.keyboard.type('loud')
    expect(await level.locator('.beside').innerText()).toBe('“loud” is not a number in dB')
    await page.keyboard.press('Enter')
    expect(await level.locator('input').count()).toBe(1)
    await page.keyboard.press('Escape')
    expect(await level.locator('input').count()).toBe(0)
    expect(await page.locator('[data-channel=kora].selected').count()).toBe(1)
    await saved(page)
    expect((await session()).session.session!.heardLevelDb).toBe(before)
  })

  it('moves by the wheel only while it has the focus', async () => {
    const level = field('gain of Kora DI')
    await level.hover()
    const before = (await channel('kora')).levelDb!
    await page.mouse.wheel(0, -100)
    await level.focus()
    await page.mouse.wheel(0, -100)
    await saved(page)
    expect((await channel('kora')).levelDb).toBeCloseTo(before + 0.5, 6)
  })

  it('of a send changes on everything that is selected; so does its mute', async () => {
    const sends = async () =>
      Object.values((await session()).feed)
        .filter(f => f.kind === 'send' && ['drum-low', 'drum-edge'].includes(f.from!) && f.to === 'short-room')
        .sort((a, b) => a.from!.localeCompare(b.from!))
    const goal = (await session()).channel['short-room'] ? 'short-room' : null
    expect(goal).not.toBeNull()
    await pick(page, 'drum-low')
    await pick(page, 'drum-edge', 'Control')
    const before = await sends()
    expect(before).toHaveLength(2)
    const name = (await session()).channel['short-room']!.name
    const level = field(`level of the send to ${name}`)
    await level.focus()
    await page.keyboard.press('ArrowUp')
    await saved(page)
    expect((await sends()).map((f, i) => f.levelDb! - before[i]!.levelDb!)).toEqual([0.5, 0.5])
    await level.locator('.shown').click()
    await page.keyboard.type('-12+2')
    await page.keyboard.press('Enter')
    await saved(page)
    expect((await sends()).map(f => f.levelDb)).toEqual([-10, -10])
    await page.locator(`.path button[aria-label="mute the send to ${name}"]`).click()
    await saved(page)
    expect((await sends()).map(f => f.muted)).toEqual([true, true])
    await page.locator('[data-undo]').click()
  })
})

describe('the rail', () => {
  it('takes a slot anywhere along its line, and moves slots by keys across the fader', async () => {
    await pick(page, 'plucked')
    await page.locator('.map').focus()
    await page.keyboard.press('Enter')
    const order = async () =>
      slotsOf(await session(), 'plucked')
        .sort((a, b) => Number(a.afterFader) - Number(b.afterFader))
        .map(s => `${s.id}${s.afterFader ? ' after' : ''}`)
    const [first, second] = slotsOf(await session(), 'plucked').map(s => s.id)
    const slot = page.locator(`[data-slot="${first}"]`)
    await slot.focus()
    await page.keyboard.press('Alt+ArrowRight')
    await saved(page)
    expect(await order()).toEqual([second, first])
    await page.keyboard.press('Alt+ArrowRight')
    await saved(page)
    expect(await order()).toEqual([second, `${first} after`])
    await expect.poll(() => slot.evaluate(el => el === document.activeElement)).toBe(true)
    await page.keyboard.press('Alt+ArrowLeft')
    await saved(page)
    expect(await order()).toEqual([second, first])
    // Dropped on the middle of the other slot's left half, not into a gap.
    const other = page.locator(`[data-slot="${second}"]`)
    await slot.dragTo(other, { targetPosition: { x: 12, y: 20 } })
    await saved(page)
    expect(await order()).toEqual([first, second])
  })
})

describe('the rig', () => {
  it('takes a cable from a list, by keys', async () => {
    await keys(page, 'v r')
    await page.waitForSelector('.jack')
    const cables = Object.keys((await session()).cable).length
    const jacks = page.locator('.jack[data-jack^="p"]')
    await jacks.nth(3).focus()
    await page.keyboard.press('Enter')
    await page.waitForSelector('#ask-field')
    await page.keyboard.press('Enter')
    await saved(page)
    expect(Math.abs(Object.keys((await session()).cable).length - cables)).toBeLessThanOrEqual(1)
    await expect.poll(() => page.locator('form.ask').count()).toBe(0)
    await page.locator('[data-undo]').click()
    await keys(page, 'v m')
    await page.waitForSelector('[data-channel=kora]')
  })
})

describe('what was done', () => {
  it('stands in one list, says what would change, goes back by several steps, and is there after a reload', async () => {
    const begin = await channel('shakers')
    await pick(page, 'shakers')
    await apply(page, 'setChannels', { ids: ['shakers'], fields: { levelDb: -31 } })
    await apply(page, 'setChannels', { ids: ['shakers'], fields: { pan: 0.5 } })
    await apply(page, 'setChannels', { ids: ['shakers'], fields: { colour: 3 } })
    await saved(page)
    await page.reload()
    await page.waitForSelector('[data-channel=shakers]')
    await keys(page, 'v h')
    const steps = page.locator('[data-take-back]')
    await expect.poll(() => steps.count()).toBeGreaterThan(3)
    await steps.nth(1).hover()
    await expect.poll(() => page.locator('[data-preview]').innerText()).toMatch(/These 2 steps would change/)
    await steps.nth(2).hover()
    await expect.poll(() => page.locator('[data-preview]').innerText()).toContain(`“${begin.name}”: level −31 dB → `)
    await steps.nth(2).click()
    await saved(page)
    expect(await channel('shakers')).toEqual(begin)
    await expect.poll(() => page.locator('[data-again]').count()).toBe(3)
    await page.reload()
    await page.waitForSelector('[data-channel=shakers]')
    await keys(page, 'v h')
    await page.locator('[data-again]').first().click()
    await saved(page)
    expect(await channel('shakers')).toMatchObject({ levelDb: -31, pan: 0.5, colour: 3 })
    await page.keyboard.press('Escape')
    await expect.poll(() => page.locator('[data-preview]').count()).toBe(0)
  })

  it('holds templates too: a removal is a step among the others, and is there after a reload', async () => {
    const kept = async () => (await (await fetch(`${url}/api/templates`)).json()) as { name: string }[]
    const names = async () => (await kept()).map(t => t.name)
    await keys(page, 't e')
    await page.click('[data-save-template]')
    await answer(page, 'Roof network')
    const line = page.locator('[data-kept="Roof network"]')
    await line.waitFor()
    await line.getByText('remove').click()
    await expect.poll(() => line.count()).toBe(0)
    await page.keyboard.press('Escape')
    await expect.poll(() => page.locator('[data-sheet]').count()).toBe(0)
    await page.keyboard.press('Control+z')
    await expect.poll(names).toContain('Roof network')
    await page.keyboard.press('Control+Shift+z')
    await expect.poll(names).not.toContain('Roof network')
    // A step after it is taken back first.
    await pick(page, 'shakers')
    await apply(page, 'setChannels', { ids: ['shakers'], fields: { pan: -0.25 } })
    await page.keyboard.press('Control+z')
    await saved(page)
    expect(await names()).not.toContain('Roof network')
    await page.reload()
    await page.waitForSelector('[data-channel=shakers]')
    await keys(page, 'v h')
    await page.locator('li', { hasText: 'Remove the template “Roof network”' }).getByText('bring back').click()
    await expect.poll(names).toContain('Roof network')
    await page.keyboard.press('Escape')
  })

  it('holds a session that was removed, for as long as it is kept', async () => {
    await loadDemo(sql, 2, 'going')
    await page.goto(`${url}/`)
    const row = page.locator('li', { has: page.locator('a[href="/s/going"]') })
    const remove = async () => {
      await row.getByRole('button', { name: /^more for/ }).click()
      await page
        .getByRole('menu', { name: /^more for/ })
        .getByRole('menuitem', { name: 'Remove' })
        .click()
    }
    await remove()
    await expect.poll(() => row.count()).toBe(0)
    expect((await fetch(`${url}/api/sessions/going`)).status).toBe(404)
    await page.locator('.notice').getByText('Undo').click()
    await expect.poll(() => row.count()).toBe(1)
    await remove()
    await expect.poll(() => row.count()).toBe(0)
    await page.reload()
    await page.locator('details summary').click()
    await page.getByText('bring back').first().click()
    await expect.poll(() => row.count()).toBe(1)
    expect((await fetch(`${url}/api/sessions/going`)).status).toBe(200)
    await page.goto(`${url}/s/hands/network`)
    await page.waitForSelector('[data-channel=kora]')
  })
})

describe('a small window', () => {
  it.each([
    [1024, 768],
    [853, 533]
  ])('of %d × %d px has everything within reach, what does not fit in a menu', async (width, height) => {
    await page.setViewportSize({ width, height })
    for (const view of ['v s', 'v m', 'v r', 'v p', 'v t']) {
      await keys(page, view)
      await expect.poll(() => page.locator('main.view > *').count()).toBeGreaterThan(0)
      const outside = await page.evaluate(() => {
        const scrolls = (el: Element | null): boolean =>
          !!el && (/(auto|scroll)/.test(getComputedStyle(el).overflow) || scrolls(el.parentElement))
        const buttons = Array.from(
          document.querySelectorAll<HTMLElement>('.bar button, .bar a, .tools button, footer button')
        )
        return buttons
          .filter(el => el.offsetParent && !scrolls(el.parentElement))
          .filter(el => {
            const r = el.getBoundingClientRect()
            return r.right > innerWidth + 1 || r.left < -1 || r.bottom > innerHeight + 1
          })
          .map(el => el.textContent)
      })
      expect(outside, view).toEqual([])
      expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(width)
    }
    await keys(page, 'v m')
    await pick(page, 'kora')
    if (width < 1000) {
      await page.locator('.tools [data-more]').click()
      await page.getByRole('menuitem', { name: 'print…' }).waitFor()
      await page.keyboard.press('Escape')
    }
    await page.setViewportSize({ width: 1280, height: 800 })
  })

  it('nothing was complained of', () => expect(complaints).toEqual([]))
})
