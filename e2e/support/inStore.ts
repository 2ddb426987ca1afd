// A store of the page, from outside.
import type { Page } from 'playwright-core'

/** Runs in the page with the store of that name. */
export const inStore = <S, T, A>(
  page: Page,
  store: string,
  act: (store: S, argument: A) => T | Promise<T>,
  argument: A
): Promise<T> =>
  page.evaluate(
    `(${act.toString()})(document.querySelector('#__nuxt').__vue_app__.config.globalProperties.$pinia._s.get(${JSON.stringify(store)}), ${JSON.stringify(argument)})`
  )
