// What a hand does on a page of a session: two strokes, an answer, a sheet; and what the server then has.
import type { Page } from 'playwright-core'
import { expect } from 'vitest'
import type { Session } from '@nullet/core/session/session'
import { inStore } from './inStore'

export async function keys(page: Page, strokes: string): Promise<void> {
  for (const k of strokes.split(' ')) await page.keyboard.press(k)
}

/** Types into the question in the middle of the page and takes it. Another question may follow at once. */
export async function answer(page: Page, text: string): Promise<void> {
  await page.waitForSelector('#ask-field')
  const title = await page.locator('form.ask').getAttribute('aria-label')
  await page.fill('#ask-field', text)
  await page.keyboard.press('Enter')
  await page.waitForFunction(asked => document.querySelector('form.ask')?.getAttribute('aria-label') !== asked, title)
}

/** Everything that was done has been stored. */
export async function saved(page: Page): Promise<void> {
  await page.evaluate(() => new Promise(d => requestAnimationFrame(() => requestAnimationFrame(d))))
  await page.waitForFunction(() => document.querySelector('[data-state]')?.textContent === 'saved')
}

/** Clicks a strip; scrolls the Map to it first, for only what is in sight is there. */
export async function pick(page: Page, id: string, more?: 'Control' | 'Shift'): Promise<void> {
  const name = page.locator(`[data-channel="${id}"] .name`)
  await page.waitForSelector('[data-channel]')
  // A view that has just come may still move to what is selected: then it is scrolled through once more.
  const last = 20_000
  for (let top = 0; (await name.count()) === 0 && top < 3 * last; top += 300) {
    await page.evaluate(y => {
      document.querySelectorAll('.map .side').forEach(e => {
        e.scrollTop = y
      })
      return new Promise(d => requestAnimationFrame(() => requestAnimationFrame(d)))
    }, top % last)
  }
  await name.click({ position: { x: 4, y: 6 }, ...(more ? { modifiers: [more] } : {}) })
}

export const readSession = async (url: string, id: string) =>
  ((await (await fetch(`${url}/api/sessions/${id}`)).json()) as { session: Session }).session

export const makeSession = (url: string, id: string, sampleRate = 48000) =>
  fetch(`${url}/api/sessions`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ id, name: `Session ${id}`, sampleRate })
  })

interface Deeds {
  apply(verb: string, args: unknown): boolean
  undos: readonly unknown[]
  undo(): boolean
}
const inSession = <T, A>(page: Page, act: (s: Deeds, argument: A) => T, argument: A): Promise<T> =>
  inStore(page, 'session', act, argument)

/** An edit as the page would make it. */
export const apply = (page: Page, verb: string, args: unknown) =>
  inSession(page, (s, [v, a]) => s.apply(v, a), [verb, args] as const)

/** How much there is to take back. */
export const deeds = (page: Page) => inSession(page, s => s.undos.length, null)

/** Takes back what was done since there was so much. */
export async function takeBackTo(page: Page, before: number): Promise<void> {
  await inSession(
    page,
    (s, n) => {
      while (s.undos.length > n) s.undo()
    },
    before
  )
  await saved(page)
}

/** Chooses from a list by its label. */
export async function choose(page: Page, label: string, option: string): Promise<void> {
  const line = page.getByRole('listbox', { name: label }).getByRole('option', { name: option, exact: true })
  // The table is drawn anew while a change is stored, and its list closes with it.
  await expect
    .poll(async () => {
      if (!(await line.isVisible()))
        await page.getByRole('combobox', { name: label, exact: true }).click({ force: true })
      return line
        .click({ timeout: 1000 })
        .catch(() => line.dispatchEvent('click', {}, { timeout: 1000 }))
        .then(
          () => true,
          () => false
        )
    })
    .toBe(true)
}
